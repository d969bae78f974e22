import type { Stars } from '../sky/index.ts';
import { exposureFor, signalOf, WELL_SHARE, type GuideOptics } from './limit.ts';
import type { Projected } from '../sky/index.ts';
import { inWindow, type GuideWindow } from './window.ts';

/** A neighbour this near pulls the centroid [FWHM], if it is not this much fainter. Common practice, no source. */
export const BLEND = { withinFwhm: 3, magnitudes: 2.5 } as const;

/**
 * Stars without a neighbour that would pull their centroid, by a sweep along one axis.
 * @returns the same places, only those that stand alone and are neither too bright nor too faint
 */
export function onlyUsable(
  stars: Stars,
  placed: Projected,
  nearMm: number,
  mags: { brightest: number; faintest: number },
): Projected {
  const order = Array.from({ length: placed.length }, (_, j) => j).sort(
    (a, b) => placed.eastMm[a]! - placed.eastMm[b]!,
  );
  const mag = (j: number) => stars.mag[placed.index[j]!]!;
  const crowded = new Uint8Array(placed.length);
  for (let a = 0; a < order.length; a++)
    for (let b = a + 1; b < order.length; b++) {
      const [j, k] = [order[a]!, order[b]!];
      if (placed.eastMm[k]! - placed.eastMm[j]! > nearMm) break;
      if (Math.hypot(placed.eastMm[k]! - placed.eastMm[j]!, placed.northMm[k]! - placed.northMm[j]!) > nearMm) continue;
      if (mag(k) <= mag(j) + BLEND.magnitudes) crowded[j] = 1;
      if (mag(j) <= mag(k) + BLEND.magnitudes) crowded[k] = 1;
    }
  const out: Projected = {
    index: new Int32Array(placed.length),
    eastMm: new Float64Array(placed.length),
    northMm: new Float64Array(placed.length),
    length: 0,
  };
  for (let j = 0; j < placed.length; j++) {
    if (crowded[j] || mag(j) < mags.brightest || mag(j) > mags.faintest) continue;
    out.index[out.length] = placed.index[j]!;
    out.eastMm[out.length] = placed.eastMm[j]!;
    out.northMm[out.length] = placed.northMm[j]!;
    out.length++;
  }
  return out;
}

/** Blending distance in the focal plane [mm]. */
export const blendMm = (fwhmArcsec: number, focalLengthMm: number): number =>
  (BLEND.withinFwhm * fwhmArcsec * focalLengthMm) / 206264.806;

/** A star the guide camera could use, and what speaks against it. */
export interface Candidate {
  raDeg: number;
  decDeg: number;
  mag: number;
  acrossMm: number;
  outMm: number;
  snr: number;
  saturated: boolean;
  /** Distance of the nearest neighbour that would blend [″], null when alone. */
  blendArcsec: number | null;
  /** Exposure to set for it [s]. */
  exposureS: number;
  usable: boolean;
}

export interface GuideCamera {
  optics: GuideOptics;
  exposureS: number;
  snr: number;
  fullWellE: number;
}

/** The window's stars at one angle, the best first: usable before not, then by signal to noise. */
export function candidatesAt(
  w: GuideWindow,
  paDeg: number,
  stars: Stars,
  placed: Projected,
  camera: GuideCamera,
): Candidate[] {
  const arcsecPerMm = 206264.806 / w.focalLengthMm;
  const near = blendMm(camera.optics.fwhmArcsec, w.focalLengthMm);
  const found: Candidate[] = [];
  for (let j = 0; j < placed.length; j++) {
    const [x, y] = [placed.eastMm[j]!, placed.northMm[j]!];
    const at = inWindow(w, paDeg, x, y);
    if (!at.inside) continue;
    const i = placed.index[j]!;
    const mag = stars.mag[i]!;
    let blend = Infinity;
    for (let k = 0; k < placed.length; k++) {
      if (k === j) continue;
      const [dx, dy] = [placed.eastMm[k]! - x, placed.northMm[k]! - y];
      if (Math.abs(dx) > near || Math.abs(dy) > near) continue;
      const d = Math.hypot(dx, dy);
      if (d <= near && stars.mag[placed.index[k]!]! <= mag + BLEND.magnitudes) blend = Math.min(blend, d);
    }
    const { snr, peakElectrons } = signalOf(camera.optics, mag, camera.exposureS);
    const saturated = peakElectrons > WELL_SHARE * camera.fullWellE;
    const blendArcsec = blend === Infinity ? null : blend * arcsecPerMm;
    found.push({
      raDeg: stars.raDeg[i]!,
      decDeg: stars.decDeg[i]!,
      mag,
      acrossMm: at.acrossMm,
      outMm: at.outMm,
      snr,
      saturated,
      blendArcsec,
      exposureS: exposureFor(camera.optics, mag, camera.snr, camera.fullWellE).exposureS,
      usable: snr >= camera.snr && !saturated && blendArcsec === null,
    });
  }
  return found.sort((a, b) => Number(b.usable) - Number(a.usable) || b.snr - a.snr);
}

/** The angle nearest to the wanted one that has a star, and by how much it differs [deg]; null when none has. */
export function nearestLit(
  lit: (k: number) => boolean,
  steps: number,
  stepDeg: number,
  wantedDeg: number,
  fromDeg = 0,
): { angleDeg: number; offDeg: number } | null {
  let best: { angleDeg: number; offDeg: number } | null = null;
  for (let k = 0; k < steps; k++) {
    if (!lit(k)) continue;
    const angleDeg = (((fromDeg + k * stepDeg) % 360) + 360) % 360;
    const offDeg = ((angleDeg - wantedDeg + 540) % 360) - 180;
    if (!best || Math.abs(offDeg) < Math.abs(best.offDeg)) best = { angleDeg, offDeg };
  }
  return best;
}
