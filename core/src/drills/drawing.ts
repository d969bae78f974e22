import { inventedStars, type Scene } from '../frames/index.ts';
import type { Random } from '../statistics/index.ts';
import { between } from './situation.ts';

/** A drawn picture’s size: small enough to be there in a moment, large enough for corners [px]. */
const SIZE = { widthPx: 720, heightPx: 480 };

/** A field of some hundred stars under one of many skies, without a fault. */
export function field(r: Random, seed: number, more: Partial<Scene> = {}): Scene {
  const skyElectrons = between(r, 300, 1500);
  const seeingFwhmPx = between(r, 2.6, 3.8);
  return {
    ...SIZE,
    stars: inventedStars({ ...SIZE, count: 260, faintestElectrons: 55 * seeingFwhmPx * Math.sqrt(skyElectrons), seed }),
    seeingFwhmPx,
    guiding: { alongPx: between(r, 0.15, 0.35), acrossPx: between(r, 0.15, 0.35), angleDeg: 180 * r.next() },
    vignetting: 0.2 * r.next(),
    skyElectrons,
    readNoiseElectrons: between(r, 2, 4),
    electronsPerCount: 0.8,
    biasCounts: 400,
    fullCounts: 65535,
    hotPixels: 40,
    seed,
    ...more,
  };
}
