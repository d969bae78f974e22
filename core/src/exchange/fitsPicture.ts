import { FitsCards, readHeaderAt, type FitsValue } from './fitsHeader.ts';
import { unpackTiles } from './fitsTiles.ts';

/** Pictures beyond this are not taken up: 300 million pixels. */
const MOST_PIXELS = 3e8;
const LEAST_SIDE = 32;
const BLOCK = 2880;
/** Stored type by BITPIX; the top of an integer type tells where it saturates. */
const TYPES: Record<number, { bytes: number; top: number | null }> = {
  8: { bytes: 1, top: 255 },
  16: { bytes: 2, top: 32767 },
  32: { bytes: 4, top: 2147483647 },
  [-32]: { bytes: 4, top: null },
  [-64]: { bytes: 8, top: null },
};

export interface FitsPicture {
  /** Of the part that holds the picture; what is missing there comes from the first. */
  cards: ReadonlyMap<string, FitsValue>;
  widthPx: number;
  heightPx: number;
  /** Row by row from the bottom, physical value less `pedestal`; NaN where a pixel has none. */
  values: Float32Array;
  /** Taken off before rounding to single precision, so that large counts keep their noise. */
  pedestal: number;
  /** Physical value of the top of its integer type; null for a floating one. */
  ceiling: number | null;
  invalid: number;
}
export type PictureRead = { ok: true; value: FitsPicture } | { ok: false; message: string };
const refuse = (message: string): PictureRead => ({ ok: false, message });

interface Part {
  cards: ReadonlyMap<string, FitsValue>;
  dataAt: number;
}
const whole = (cards: Part['cards'], key: string, otherwise: number) => {
  const v = cards.get(key);
  return typeof v === 'number' && Number.isInteger(v) ? v : otherwise;
};
const axesOf = (cards: Part['cards']) =>
  Array.from({ length: Math.min(9, Math.max(0, whole(cards, 'NAXIS', 0))) }, (_, i) =>
    whole(cards, `NAXIS${i + 1}`, 0),
  );
const pixelsOf = (cards: Part['cards']) =>
  axesOf(cards).length ? axesOf(cards).reduce((p, n) => p * Math.max(0, n), 1) : 0;
/** Length of a part’s data, padding included. FITS Standard 4.0 (2018), eq. 1 and 2. */
function lengthOf(cards: Part['cards']): number {
  const size = Math.abs(whole(cards, 'BITPIX', 8)) / 8;
  const bytes =
    size * Math.max(1, whole(cards, 'GCOUNT', 1)) * (Math.max(0, whole(cards, 'PCOUNT', 0)) + pixelsOf(cards));
  return Math.ceil(bytes / BLOCK) * BLOCK;
}

/** More parts than this are no picture’s file. */
const MOST_PARTS = 1000;
/**
 * The part that holds the picture: the primary one, or else the first IMAGE extension with pixels, or else the first one
 * compressed in tiles. Keywords missing there come from the primary.
 */
function partWithPicture(bytes: Uint8Array): (Part & { packed: boolean }) | string {
  const first = readHeaderAt(bytes, 0);
  if (!first.ok) return first.message;
  if (pixelsOf(first.cards) > 0) return { ...first, packed: false };
  let packed: Part | null = null;
  let at = first.dataAt + lengthOf(first.cards);
  for (let n = 0; at + BLOCK <= bytes.length; n++) {
    if (n === MOST_PARTS) return `The file has more than ${MOST_PARTS} parts, and none of these is a picture.`;
    const next = readHeaderAt(bytes, at);
    // what follows is no extension: some programs leave a trailer
    if (!next.ok) break;
    const { cards, dataAt } = next;
    const joined = () => joinedCards(first.cards, cards);
    if (String(cards.get('XTENSION')).trim() === 'IMAGE' && pixelsOf(cards) > 0)
      return { cards: joined(), dataAt, packed: false };
    if (cards.get('ZIMAGE') === true) packed ??= { cards: joined(), dataAt };
    at = dataAt + lengthOf(cards);
  }
  if (packed) return { ...packed, packed: true };
  return 'There is no picture in this file: neither its first part nor an IMAGE extension has pixels.';
}
function joinedCards(first: Part['cards'], own: Part['cards']): Part['cards'] {
  const all = new FitsCards([...first, ...own]);
  for (const c of [first, own]) if (c instanceof FitsCards) for (const [k, u] of c.units) all.units.set(k, u);
  return all;
}

/**
 * The header of a file’s picture from its beginning, and whether the file is as long as that header says.
 * @param start  the first bytes, as many as headers may take
 * @param sizeBytes  of the whole file
 */
export function readPictureHeader(
  start: Uint8Array,
  sizeBytes: number,
): { ok: true; cards: Part['cards'] } | { ok: false; message: string } {
  const part = partWithPicture(start);
  // a header without a picture is read all the same: its keywords may be all that is wanted
  if (typeof part === 'string') {
    const first = readHeaderAt(start, 0);
    return first.ok ? { ok: false, message: part } : first;
  }
  const { cards, dataAt, packed } = part;
  const bytes = packed
    ? whole(cards, 'NAXIS1', 0) * whole(cards, 'NAXIS2', 0) + whole(cards, 'PCOUNT', 0)
    : (pixelsOf(cards) * Math.abs(whole(cards, 'BITPIX', 8))) / 8;
  if (dataAt + bytes > sizeBytes)
    return {
      ok: false,
      message: `The file is cut short: its picture needs ${dataAt + bytes} bytes, the file has ${sizeBytes}.`,
    };
  return { ok: true, cards };
}

/**
 * The picture of a FITS file. Source: FITS Standard 4.0 (2018), §4.4.1, §5, §7.1: big-endian, physical value =
 * BZERO + BSCALE·stored, integers that equal BLANK have no value. Three axes of two to four planes are one colour picture,
 * of which the mean is taken. Padding that is missing after the last pixel is forgiven.
 */
export function readPicture(bytes: Uint8Array): PictureRead {
  const found = partWithPicture(bytes);
  if (typeof found === 'string') return refuse(found);
  if (!found.packed) return pictureOf(bytes, found);
  const axes = [1, 2, 3].map((n) => whole(found.cards, `ZNAXIS${n}`, 1));
  // known before anything is allocated
  if (axes.reduce((p, n) => p * Math.max(0, n), 1) > MOST_PIXELS)
    return refuse(`The picture has more than ${MOST_PIXELS / 1e6} million pixels.`);
  const unpacked = unpackTiles(bytes, found.cards, found.dataAt);
  return unpacked.ok ? pictureOf(unpacked.bytes, { cards: unpacked.cards, dataAt: 0 }) : unpacked;
}

function pictureOf(bytes: Uint8Array, { cards, dataAt }: Part): PictureRead {
  const bitpix = whole(cards, 'BITPIX', 0);
  const type = TYPES[bitpix];
  if (!type) return refuse(`BITPIX is ${bitpix}; read are ${Object.keys(TYPES).join(', ')}.`);
  const [w = 0, h = 0, planes = 1, ...more] = axesOf(cards);
  if (planes > 4 || more.some((n) => n > 1))
    return refuse(
      `The picture has ${[w, h, planes, ...more].join(' × ')} values; two axes are read, or three with up to four planes of colour.`,
    );
  if (w < LEAST_SIDE || h < LEAST_SIDE)
    return refuse(`The picture has ${w} × ${h} pixels; at least ${LEAST_SIDE} × ${LEAST_SIDE} are needed.`);
  if (w * h * planes > MOST_PIXELS)
    return refuse(
      `The picture has ${Math.round((w * h * planes) / 1e6)} million pixels; at most ${MOST_PIXELS / 1e6} million are read.`,
    );
  const needed = w * h * planes * type.bytes;
  if (dataAt + needed > bytes.length)
    return refuse(
      `The file is cut short: ${w} × ${h}${planes > 1 ? ` × ${planes}` : ''} pixels need ${needed} bytes, ${Math.max(0, bytes.length - dataAt)} are there.`,
    );
  const number = (key: string) => (typeof cards.get(key) === 'number' ? (cards.get(key) as number) : null);
  const [zero, scale] = [number('BZERO') ?? 0, number('BSCALE') ?? 1];
  const blank = type.top === null ? null : number('BLANK');
  const view = new DataView(bytes.buffer, bytes.byteOffset + dataAt, needed);
  const read = readerOf(view, bitpix);
  const physical = (k: number) => {
    const stored = read(k);
    return stored === blank ? NaN : zero + scale * stored;
  };
  let pedestal = 0;
  for (let k = 0; k < w * h; k++) {
    const v = physical(k);
    if (Number.isFinite(v)) {
      pedestal = v;
      break;
    }
  }
  const { values, invalid } =
    planes === 1
      ? onePlane(view, bitpix, { all: w * h, zero: zero - pedestal, scale, blank })
      : meanOf(physical, w * h, planes, pedestal);
  if (invalid > (w * h) / 2) return refuse(`${invalid} of ${w * h} pixels have no value.`);
  const ceiling = type.top === null ? null : zero + scale * type.top;
  return { ok: true, value: { cards, widthPx: w, heightPx: h, values, pedestal, ceiling, invalid } };
}

function readerOf(view: DataView, bitpix: number): (k: number) => number {
  if (bitpix === 8) return (k) => view.getUint8(k);
  if (bitpix === 16) return (k) => view.getInt16(2 * k);
  if (bitpix === 32) return (k) => view.getInt32(4 * k);
  return bitpix === -32 ? (k) => view.getFloat32(4 * k) : (k) => view.getFloat64(8 * k);
}

/** The usual picture; 16 bits, as cameras write them, without a call for each pixel. */
function onePlane(
  view: DataView,
  bitpix: number,
  { all, zero, scale, blank }: { all: number; zero: number; scale: number; blank: number | null },
) {
  const values = new Float32Array(all);
  let invalid = 0;
  if (bitpix === 16 && blank === null) {
    for (let k = 0; k < all; k++) values[k] = zero + scale * view.getInt16(2 * k);
    return { values, invalid };
  }
  const read = readerOf(view, bitpix);
  for (let k = 0; k < all; k++) {
    const stored = read(k);
    const v = stored === blank ? NaN : zero + scale * stored;
    if (Number.isFinite(v)) values[k] = v;
    else {
      values[k] = NaN;
      invalid++;
    }
  }
  return { values, invalid };
}
function meanOf(physical: (k: number) => number, all: number, planes: number, pedestal: number) {
  const values = new Float32Array(all);
  let invalid = 0;
  for (let k = 0; k < all; k++) {
    let sum = 0;
    for (let p = 0; p < planes; p++) sum += physical(k + p * all);
    const v = sum / planes - pedestal;
    values[k] = Number.isFinite(v) ? v : NaN;
    if (!Number.isFinite(v)) invalid++;
  }
  return { values, invalid };
}
