import type { Projected, Stars } from '../sky/index.ts';
import { RAD } from '../quantities/index.ts';

/** Edges count; a star on one must not fall out by rounding [mm]. */
const EDGE_MM = 1e-9;

/** The guide camera's small field: how far out it stands and how large it is, in the focal plane. */
export interface GuideWindow {
  focalLengthMm: number;
  centreRadiusMm: number;
  fieldMm: { tangential: number; radial: number };
}

/** Half the diagonal beyond the window's centre: nothing farther from the axis can fall into it [mm]. */
export const reachMm = (w: GuideWindow): number =>
  Math.hypot(w.centreRadiusMm + w.fieldMm.radial / 2, w.fieldMm.tangential / 2) + 1e-6;

/** Where a star stands in the window turned to a position angle: across and outward from its centre [mm]. */
export function inWindow(
  w: GuideWindow,
  paDeg: number,
  eastMm: number,
  northMm: number,
): { acrossMm: number; outMm: number; inside: boolean } {
  const [s, c] = [Math.sin(paDeg * RAD), Math.cos(paDeg * RAD)];
  const outMm = northMm * c + eastMm * s - w.centreRadiusMm;
  const acrossMm = eastMm * c - northMm * s;
  return {
    acrossMm,
    outMm,
    inside:
      Math.abs(acrossMm) <= w.fieldMm.tangential / 2 + EDGE_MM && Math.abs(outMm) <= w.fieldMm.radial / 2 + EDGE_MM,
  };
}

/** What each angle of a turn offers. Magnitudes are NaN and indices −1 where there is no star. */
export interface Ring {
  fromPaDeg: number;
  stepDeg: number;
  /** Every angle of a full turn is there, none twice. */
  full: boolean;
  bestMag: Float64Array;
  bestIndex: Int32Array;
  count: Int32Array;
}

/** Angles from `from` to `to`; beyond `from` by at most one turn, whose last step would be its first again. */
export function anglesOf(fromPaDeg: number, toPaDeg: number, stepDeg: number): { steps: number; full: boolean } {
  let span = toPaDeg - fromPaDeg;
  if (span < 0) span = ((span % 360) + 360) % 360;
  const full = span >= 360 - 1e-9;
  if (full) return { steps: Math.ceil(360 / stepDeg - 1e-9), full };
  return { steps: Math.floor(span / stepDeg + 1e-9) + 1, full };
}

/**
 * The best star of every angle. Each star is tried only at the angles whose window can hold it, so that a turn costs
 * little more than the stars of its annulus.
 */
export function turnWindow(
  w: GuideWindow,
  stars: Stars,
  placed: Projected,
  angles: { fromPaDeg: number; toPaDeg: number; stepDeg: number },
  mags: { brightest: number; faintest: number },
): Ring {
  const { steps, full } = anglesOf(angles.fromPaDeg, angles.toPaDeg, angles.stepDeg);
  const ring: Ring = {
    fromPaDeg: angles.fromPaDeg,
    stepDeg: angles.stepDeg,
    full,
    bestMag: new Float64Array(steps).fill(Number.NaN),
    bestIndex: new Int32Array(steps).fill(-1),
    count: new Int32Array(steps),
  };
  const half = { across: w.fieldMm.tangential / 2, radial: w.fieldMm.radial / 2 };
  const nearest = w.centreRadiusMm - half.radial;
  const perTurn = 360 / angles.stepDeg;
  for (let j = 0; j < placed.length; j++) {
    const i = placed.index[j]!;
    const mag = stars.mag[i]!;
    if (mag < mags.brightest - 1e-9 || mag > mags.faintest + 1e-9) continue;
    const [x, y] = [placed.eastMm[j]!, placed.northMm[j]!];
    const rho = Math.hypot(x, y);
    if (rho < nearest - 1e-6) continue;
    // while the window does not reach the axis, |ρ sin Δ| ≤ half of it and cos Δ > 0 bound the angle
    const spread = nearest > 0 && rho > half.across ? Math.asin(half.across / rho) / RAD + 1e-6 : 180;
    const turns = (Math.atan2(x, y) / RAD - angles.fromPaDeg) / 360;
    const at = (turns - Math.floor(turns)) * perTurn;
    const reach = Math.min(spread / angles.stepDeg, perTurn / 2);
    const mark = (k: number) => {
      if (!inWindow(w, angles.fromPaDeg + k * angles.stepDeg, x, y).inside) return;
      ring.count[k]!++;
      if (ring.bestIndex[k]! < 0 || mag < ring.bestMag[k]!) {
        ring.bestMag[k] = mag;
        ring.bestIndex[k] = i;
      }
    };
    if (spread >= 180) {
      for (let k = 0; k < steps; k++) mark(k);
      continue;
    }
    // the same angle may come again one turn on or before
    for (let t = -1; t <= 1; t++)
      for (
        let k = Math.max(0, Math.ceil(at - reach + t * perTurn));
        k <= Math.min(steps - 1, Math.floor(at + reach + t * perTurn));
        k++
      )
        mark(k);
  }
  return ring;
}
