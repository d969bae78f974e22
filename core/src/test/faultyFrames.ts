import { inventedStars, type FrameFindingCode, type Scene } from '../frames/index.ts';
import { seeded } from '../statistics/index.ts';

/** Faults that can be drawn into a picture, by the finding they should bring. */
export const DRAWN_FAULTS = [
  'prism-shadow',
  'defocus',
  'trailing',
  'spacing-radial',
  'spacing-tangential',
  'tilt',
  'coma',
  'one-sided',
  'cloud',
] as const satisfies readonly FrameFindingCode[];
export type DrawnFault = (typeof DRAWN_FAULTS)[number];
/** Pairs of which one does not hide the other. */
export const PAIRS: readonly (readonly DrawnFault[])[] = [
  ['prism-shadow', 'trailing'],
  ['prism-shadow', 'tilt'],
  ['prism-shadow', 'spacing-radial'],
  ['cloud', 'trailing'],
  ['cloud', 'prism-shadow'],
  ['trailing', 'tilt'],
  ['tilt', 'coma'],
  ['prism-shadow', 'one-sided'],
];

/** A field of some hundred stars under one of many skies; drawn from a seed. */
export function healthyScene(seed: number, widthPx = 720, heightPx = 480): Scene {
  const r = seeded(seed).fork('scene');
  const skyElectrons = 300 + 1500 * r.next();
  const seeingFwhmPx = 2.6 + 1.6 * r.next();
  return {
    widthPx,
    heightPx,
    stars: inventedStars({
      widthPx,
      heightPx,
      count: 260,
      faintestElectrons: 55 * seeingFwhmPx * Math.sqrt(skyElectrons),
      seed,
    }),
    seeingFwhmPx,
    guiding: { alongPx: 0.15 + 0.25 * r.next(), acrossPx: 0.15 + 0.25 * r.next(), angleDeg: 180 * r.next() },
    vignetting: 0.3 * r.next(),
    skyElectrons,
    readNoiseElectrons: 2 + 3 * r.next(),
    electronsPerCount: 0.5 + r.next(),
    biasCounts: 200 + 600 * r.next(),
    fullCounts: 65535,
    hotPixels: 60,
    seed,
  };
}

/** The same picture with faults, each clear but not gross. */
export function withFaults(scene: Scene, faults: readonly DrawnFault[]): Scene {
  const r = seeded(scene.seed).fork('fault');
  const angleDeg = 180 * r.next();
  const s = { ...scene };
  for (const fault of faults)
    if (fault === 'prism-shadow')
      s.prism = {
        edge: (['left', 'right', 'bottom', 'top'] as const)[Math.floor(4 * r.next())]!,
        depth: 0.12 + 0.2 * r.next(),
      };
    else if (fault === 'defocus') s.defocusPx = 14 + 8 * r.next();
    else if (fault === 'trailing') s.drift = { lengthPx: scene.seeingFwhmPx * (1.5 + r.next()), angleDeg };
    else if (fault === 'spacing-radial') s.spacingPx = scene.seeingFwhmPx * (2 + 0.8 * r.next());
    else if (fault === 'spacing-tangential') s.spacingPx = -scene.seeingFwhmPx * (2 + 0.8 * r.next());
    else if (fault === 'tilt')
      s.tilt = { right: (r.next() < 0.5 ? -1 : 1) * (0.45 + 0.2 * r.next()), top: 0.2 * r.next() };
    else if (fault === 'coma') s.coma = { ...s.coma, cornerPx: scene.seeingFwhmPx * (0.7 + 0.3 * r.next()) };
    else if (fault === 'one-sided') {
      const px = scene.seeingFwhmPx * (0.5 + 0.2 * r.next());
      s.coma = { ...s.coma, everywherePx: { x: px * Math.cos(2 * angleDeg), y: px * Math.sin(2 * angleDeg) } };
    } else s.cloud = { passes: 0.2 + 0.1 * r.next(), brighter: 1.3 + 0.5 * r.next() };
  return s;
}
