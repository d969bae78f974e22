import { parseInput } from '../calculation/index.ts';
import type { RigSetup } from '../rig/index.ts';
import { isClearAt, prism, PrismInput, prismInputOf, sensorOf } from '../train/index.ts';
import type { GuideOptics } from './limit.ts';
import type { GuideWindow } from './window.ts';
import { phrase, type PlainPhrase } from '../phrases/index.ts';

/** What is assumed where the rig's record is silent; common values, no source. */
export const ASSUMED = {
  quantumEfficiency: 0.75,
  readNoiseE: 1.5,
  fullWellE: 12_000,
  transmission: 0.8,
  bandwidthNm: 300,
  widthPx: 1936,
  heightPx: 1096,
  /** A small guide scope is about this fast. */
  scopeFocalRatio: 4,
  /** The star's width through the guide optics when the seeing is not given [″]. */
  fwhmArcsec: 3,
  extinctionMag: 0.2,
} as const;

interface Common {
  window: GuideWindow;
  optics: GuideOptics;
  fullWellE: number;
  /** What had to be assumed. */
  assumed: PlainPhrase[];
}
export interface OffAxisView extends Common {
  kind: 'off-axis';
  /** Window's position angle less the camera's. */
  offsetDeg: number;
  /** The offset was seen under the sky, not read off the drawing. */
  checked: boolean;
  lightFraction: number;
  insideImageCircle: boolean;
  turnsAlone: boolean;
  /** The prism shades the main sensor as it is bolted. */
  shadesNow: boolean;
  /** Angles of the window against the camera, in whole degrees, at which the prism comes (farther) into the light. */
  shadedAt: boolean[];
}
export interface GuideScopeView extends Common {
  kind: 'guide-scope';
}
export type GuideView = OffAxisView | GuideScopeView;

export interface SkyConditions {
  skyMagArcsec2: number;
  fwhmArcsec?: number;
  airmass?: number;
}

interface Sensor {
  quantumEfficiency?: number;
  readNoiseE?: number;
  fullWellE?: number;
}
function seen(sensor: Sensor, sky: SkyConditions, assumed: PlainPhrase[]) {
  if (sensor.quantumEfficiency === undefined)
    assumed.push(phrase('assumed.quantum-efficiency', { share: ASSUMED.quantumEfficiency }));
  if (sensor.readNoiseE === undefined) assumed.push(phrase('assumed.read-noise', { electrons: ASSUMED.readNoiseE }));
  if (sensor.fullWellE === undefined) assumed.push(phrase('assumed.full-well', { electrons: ASSUMED.fullWellE }));
  return {
    fwhmArcsec: sky.fwhmArcsec ?? ASSUMED.fwhmArcsec,
    readNoiseE: sensor.readNoiseE ?? ASSUMED.readNoiseE,
    quantumEfficiency: sensor.quantumEfficiency ?? ASSUMED.quantumEfficiency,
    transmission: ASSUMED.transmission,
    bandwidthNm: ASSUMED.bandwidthNm,
    skyMagArcsec2: sky.skyMagArcsec2,
    airmass: sky.airmass ?? 1,
    extinctionMag: ASSUMED.extinctionMag,
  };
}

/**
 * How a rig sees its guide stars: the small window of its off-axis guider, or the wide field of its guide scope; null
 * when it has neither. The guider goes before the scope where both are there.
 */
export function guideViewOf(setup: RigSetup, sky: SkyConditions): GuideView | null {
  const assumed: PlainPhrase[] = [];
  const g = setup.offAxis;
  const raw = g ? prismInputOf(setup, 'objective') : null;
  if (g && raw) {
    const input = parseInput(PrismInput, raw);
    const found = prism(input);
    const guideSensor = sensorOf(g.camera);
    // a prism that shades as it is bolted is no worse elsewhere while it stays as far from the light
    const bolted = found.clearInnerEdgeMm;
    const free = Math.max(g.prism.innerEdgeMm, bolted) + 1e-6;
    const shadedAt = Array.from({ length: 360 }, (_, d) => !isClearAt(input, g.prism.angleDeg + d, free));
    if (setup.obstructionMm === undefined) assumed.push(phrase('assumed.no-obstruction'));
    return {
      kind: 'off-axis',
      window: {
        focalLengthMm: setup.focalLengthMm,
        centreRadiusMm: found.guideCentreRadiusMm,
        fieldMm: { tangential: guideSensor.widthMm, radial: guideSensor.heightMm },
      },
      optics: {
        ...seen(g.camera, sky, assumed),
        apertureMm: setup.apertureMm,
        obstructionMm: setup.obstructionMm ?? 0,
        lightFraction: Math.max(0.01, found.guideLightFraction),
        pixelUm: g.camera.pixelUm,
        focalLengthMm: setup.focalLengthMm,
      },
      fullWellE: g.camera.fullWellE ?? ASSUMED.fullWellE,
      assumed,
      // the bench drawing read as the picture: its top is 90° on from its right
      offsetDeg: g.windowPaDeg ?? g.prism.angleDeg - 90,
      checked: g.windowPaDeg !== undefined,
      lightFraction: found.guideLightFraction,
      insideImageCircle: found.insideImageCircle,
      turnsAlone: g.turnsAlone ?? false,
      shadedAt,
      shadesNow: bolted > g.prism.innerEdgeMm,
    };
  }
  const s = setup.guideScope;
  if (!s) return null;
  if (s.apertureMm === undefined)
    assumed.push(phrase('assumed.aperture', { apertureMm: s.focalLengthMm / ASSUMED.scopeFocalRatio }));
  if (s.widthPx === undefined || s.heightPx === undefined)
    assumed.push(phrase('assumed.guide-sensor', { width: ASSUMED.widthPx, heightPx: ASSUMED.heightPx }));
  const mm = (px: number) => (px * s.pixelUm) / 1000;
  return {
    kind: 'guide-scope',
    window: {
      focalLengthMm: s.focalLengthMm,
      centreRadiusMm: 0,
      fieldMm: { tangential: mm(s.widthPx ?? ASSUMED.widthPx), radial: mm(s.heightPx ?? ASSUMED.heightPx) },
    },
    optics: {
      ...seen(s, sky, assumed),
      apertureMm: s.apertureMm ?? s.focalLengthMm / ASSUMED.scopeFocalRatio,
      obstructionMm: 0,
      lightFraction: 1,
      pixelUm: s.pixelUm,
      focalLengthMm: s.focalLengthMm,
    },
    fullWellE: s.fullWellE ?? ASSUMED.fullWellE,
    assumed,
  };
}
