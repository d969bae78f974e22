import { median } from '../statistics/index.ts';
import { readFitsHeader, type FitsValue } from './fitsHeader.ts';

/** Pixels looked at for a background: so many that its median is known far better than the sky itself holds still. */
const LOOKED_AT = 200_000;
/** Stars are left out above so many times the spread. */
const CLIP = 3;
const BLOCK = 2880;
const BITPIX = [8, 16, 32, -32, -64];

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
 * The level of the sky in a FITS picture, from pixels spread over all of it. Source of the layout: FITS Standard 4.0 (2018),
 * §5, Table 11: big-endian, physical value = BZERO + BSCALE·stored.
 * @param bytes the whole file; only the first plane is looked at
 */
export function readBackground(bytes: Uint8Array): BackgroundRead {
  const header = readFitsHeader(bytes);
  if (!header.ok) return header;
  const { cards } = header;
  const number = (key: string, otherwise: number) => (typeof cards.get(key) === 'number' ? (cards.get(key) as number) : otherwise); // prettier-ignore
  const [bitpix, width, height] = [number('BITPIX', 0), number('NAXIS1', 0), number('NAXIS2', 0)];
  if (!BITPIX.includes(bitpix)) return { ok: false, message: `BITPIX ${bitpix} is none of ${BITPIX.join(', ')}.` };
  if (!(width > 0) || !(height > 0)) return { ok: false, message: 'The file holds no picture in its first part; compressed ones are not read yet.' }; // prettier-ignore
  const size = Math.abs(bitpix) / 8;
  const begin = dataBegins(bytes);
  const all = width * height;
  if (begin + all * size > bytes.length)
    return { ok: false, message: `The file is cut short: ${width} × ${height} pixels need ${all * size} bytes, ${Math.max(0, bytes.length - begin)} are there.` }; // prettier-ignore
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const read = readerOf(view, bitpix);
  const [zero, scale] = [number('BZERO', 0), number('BSCALE', 1)];
  // an odd step, so that columns and the cells of a colour sensor are met alike
  const step = Math.max(1, Math.floor(all / LOOKED_AT)) | 1;
  let values: number[] = [];
  for (let k = 0; k < all; k += step) {
    const v = zero + scale * read(begin + k * size);
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

/** Where the data begin: after the block that holds the END card. */
function dataBegins(bytes: Uint8Array): number {
  for (let p = 0; p + 80 <= bytes.length; p += 80)
    if (bytes[p] === 69 && bytes[p + 1] === 78 && bytes[p + 2] === 68 && bytes[p + 3] === 32)
      return Math.ceil((p + 80) / BLOCK) * BLOCK;
  return bytes.length;
}

function readerOf(view: DataView, bitpix: number): (at: number) => number {
  if (bitpix === 8) return (at) => view.getUint8(at);
  if (bitpix === 16) return (at) => view.getInt16(at);
  if (bitpix === 32) return (at) => view.getInt32(at);
  return bitpix === -32 ? (at) => view.getFloat32(at) : (at) => view.getFloat64(at);
}
