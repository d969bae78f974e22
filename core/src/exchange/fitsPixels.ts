import { median } from '../statistics/index.ts';
import type { FitsValue } from './fitsHeader.ts';
import { readPicture } from './fitsPicture.ts';

/** Pixels looked at for a background: so many that its median is known far better than the sky itself holds still. */
const LOOKED_AT = 200_000;
/** Stars are left out above so many times the spread. */
const CLIP = 3;

export interface Background {
  /** Level of the sky as the file counts it, stars left out. */
  level: number;
  /** Spread of the pixels about it. */
  spread: number;
  pixels: number;
  cards: ReadonlyMap<string, FitsValue>;
}
export type BackgroundRead = { ok: true; value: Background } | { ok: false; message: string };

/**
 * The level of the sky in a FITS picture, from pixels spread over all of it, read as `readPicture` does.
 * @param bytes the whole file
 */
export function readBackground(bytes: Uint8Array): BackgroundRead {
  const read = readPicture(bytes);
  if (!read.ok) return read;
  const { cards, values: all, pedestal } = read.value;
  // an odd step, so that columns and the cells of a colour sensor are met alike
  const step = Math.max(1, Math.floor(all.length / LOOKED_AT)) | 1;
  let values: number[] = [];
  for (let k = 0; k < all.length; k += step) {
    const v = all[k]! + pedestal;
    if (Number.isFinite(v)) values.push(v);
  }
  if (values.length < 100) return { ok: false, message: 'The picture has too few pixels with a value.' };
  let level = median(values);
  let spread = 0;
  for (let round = 0; round < 4; round++) {
    // half of all lie within 0.6745 standard deviations
    spread = median(values.map((v) => Math.abs(v - level))) / 0.6745;
    const kept = values.filter((v) => Math.abs(v - level) <= CLIP * spread);
    if (kept.length === values.length || kept.length < 100) break;
    values = kept;
    level = median(values);
  }
  return { ok: true, value: { level, spread, pixels: values.length, cards } };
}
