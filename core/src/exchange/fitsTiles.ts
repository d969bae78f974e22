import { gunzipSync } from 'fflate';
import type { FitsValue } from './fitsHeader.ts';

/**
 * Pictures compressed in tiles. Source: FITS Standard 4.0 (2018), §10 and appendix I: RICE_1, GZIP_1, GZIP_2; floating
 * pictures quantised without dithering, or with subtractive dithering 1 and 2.
 */
type Cards = ReadonlyMap<string, FitsValue>;
export type TilesRead = { ok: true; bytes: Uint8Array; cards: Cards } | { ok: false; message: string };

const READ = ['RICE_1', 'GZIP_1', 'GZIP_2'] as const;
type Algorithm = (typeof READ)[number];
/** Stored in place of a pixel that has no value, and of one that is exactly nought. */
const NO_VALUE = -2147483647;
const EXACT_ZERO = -2147483646;

const whole = (cards: Cards, key: string, otherwise: number) => {
  const v = cards.get(key);
  return typeof v === 'number' && Number.isInteger(v) ? v : otherwise;
};
const text = (cards: Cards, key: string) =>
  String(cards.get(key) ?? '')
    .trim()
    .toUpperCase();

interface Column {
  at: number;
  /** “P” and “Q” point into the heap; others hold their value. */
  kind: string;
  /** Of each element in the heap [bytes]. */
  size: number;
}
const WIDTH: Readonly<Record<string, number>> = { L: 1, B: 1, I: 2, J: 4, K: 8, E: 4, D: 8, A: 1, P: 8, Q: 16 };
function columnsOf(cards: Cards): Map<string, Column> {
  const columns = new Map<string, Column>();
  let at = 0;
  for (let n = 1; n <= Math.min(999, whole(cards, 'TFIELDS', 0)); n++) {
    const m = /^(\d{0,6})([A-Z])(?:([A-Z])\(\d{0,10}\)|([A-Z]))?$/.exec(text(cards, `TFORM${n}`).replace(/\s/g, ''));
    if (!m) continue;
    const kind = m[2]!;
    columns.set(text(cards, `TTYPE${n}`), { at, kind, size: WIDTH[m[3] ?? m[4] ?? kind] ?? 1 });
    at += (m[1] === '' ? 1 : Number(m[1])) * (WIDTH[kind] ?? 0);
  }
  return columns;
}

/** The numbers by which quantised values were shifted: appendix I, the generator of Park and Miller. */
function dithers(): Float64Array {
  const list = new Float64Array(10_000);
  let seed = 1;
  for (let i = 0; i < list.length; i++) {
    seed = (16807 * seed) % 2147483647;
    list[i] = seed / 2147483647;
  }
  return list;
}

/** Sixteen of a kind: how many bits hold the split, its largest value, and a pixel. */
const RICE: Readonly<Record<number, readonly [fsbits: number, fsmax: number, bbits: number]>> = {
  1: [3, 6, 8],
  2: [4, 14, 16],
  4: [5, 25, 32],
};
/** Thrown where a tile ends before its pixels do. */
class CutShort extends Error {}

/** One tile coded by Rice’s method: differences to the pixel before, in blocks that share a split. */
export function riceDecode(data: Uint8Array, count: number, blockSize: number, bytePix: number): Int32Array {
  const [fsbits, fsmax, bbits] = RICE[bytePix]!;
  const out = new Int32Array(count);
  let at = 0;
  const next = () => {
    if (at >= data.length) throw new CutShort();
    return data[at++]!;
  };
  const wrap =
    bytePix === 1 ? (v: number) => v & 255 : bytePix === 2 ? (v: number) => (v << 16) >> 16 : (v: number) => v | 0;
  let last = 0;
  for (let k = 0; k < bytePix; k++) last = (last << 8) | next();
  last = wrap(last);
  let b = next();
  let nbits = 8;
  const low = (n: number) => (n >= 32 ? 0xffffffff : (1 << n) - 1);
  for (let i = 0; i < count;) {
    nbits -= fsbits;
    while (nbits < 0) {
      b = ((b << 8) | next()) >>> 0;
      nbits += 8;
    }
    const fs = (b >>> nbits) - 1;
    b = (b & low(nbits)) >>> 0;
    const end = Math.min(count, i + blockSize);
    for (; i < end; i++) {
      if (fs < 0) {
        out[i] = last;
        continue;
      }
      let diff: number;
      if (fs === fsmax) {
        // too noisy to gain anything: the difference as it is
        let k = bbits - nbits;
        diff = k >= 32 ? 0 : b << k;
        for (k -= 8; k >= 0; k -= 8) {
          b = next();
          diff |= b << k;
        }
        if (nbits > 0) {
          b = next();
          diff |= b >>> -k;
          b &= low(nbits);
        } else b = 0;
      } else {
        while (b === 0) {
          nbits += 8;
          b = next();
        }
        const zeros = nbits - (32 - Math.clz32(b));
        nbits -= zeros + 1;
        b = (b ^ (1 << nbits)) >>> 0;
        nbits -= fs;
        while (nbits < 0) {
          b = ((b << 8) | next()) >>> 0;
          nbits += 8;
        }
        diff = (zeros << fs) | (b >>> nbits);
        b = (b & low(nbits)) >>> 0;
      }
      // odd ones are negative
      const step = diff & 1 ? ~(diff >>> 1) : diff >>> 1;
      last = wrap(last + step);
      out[i] = last;
    }
  }
  return out;
}

/** Bytes of the same rank stand together: put back pixel by pixel. */
function unshuffled(bytes: Uint8Array, size: number): Uint8Array {
  const n = Math.floor(bytes.length / size);
  const out = new Uint8Array(n * size);
  for (let k = 0; k < size; k++) for (let i = 0; i < n; i++) out[i * size + k] = bytes[k * n + i]!;
  return out;
}
function integersOf(bytes: Uint8Array, size: number, count: number): Int32Array {
  if (bytes.length < size * count) throw new CutShort();
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const read =
    size === 1
      ? (k: number) => view.getUint8(k)
      : size === 2
        ? (k: number) => view.getInt16(2 * k)
        : (k: number) => view.getInt32(4 * k);
  return Int32Array.from({ length: count }, (_, k) => read(k));
}

/** What compresses a picture, where it is one of those read; else its name. */
export function algorithmOf(cards: Cards): { known: Algorithm } | { unknown: string } {
  const name = text(cards, 'ZCMPTYPE');
  const known = READ.find((r) => r === name || (r === 'RICE_1' && name === 'RICE_ONE'));
  return known ? { known } : { unknown: name || 'no algorithm' };
}

/**
 * Unpacks a compressed picture into the bytes it would have as a plain one, and the cards that describe those.
 * @param at where the table’s data begin
 */
export function unpackTiles(bytes: Uint8Array, cards: Cards, at: number): TilesRead {
  const refuse = (message: string): TilesRead => ({ ok: false, message });
  const algorithm = algorithmOf(cards);
  if ('unknown' in algorithm)
    return refuse(`The picture is compressed by ${algorithm.unknown}; read are ${READ.join(', ')}.`);
  const how = algorithm.known;
  const bitpix = whole(cards, 'ZBITPIX', 0);
  const size = Math.abs(bitpix) / 8;
  if (![8, 16, 32, -32, -64].includes(bitpix)) return refuse(`ZBITPIX is ${bitpix}; read are 8, 16, 32, -32, -64.`);
  const axes = Array.from({ length: Math.min(9, whole(cards, 'ZNAXIS', 0)) }, (_, i) =>
    whole(cards, `ZNAXIS${i + 1}`, 0),
  );
  const tile = axes.map((n, i) => Math.max(1, Math.min(n, whole(cards, `ZTILE${i + 1}`, i === 0 ? n : 1))));
  const columns = columnsOf(cards);
  const [rowBytes, rows] = [whole(cards, 'NAXIS1', 0), whole(cards, 'NAXIS2', 0)];
  const heapAt = at + whole(cards, 'THEAP', rowBytes * rows);
  const perAxis = axes.map((n, i) => Math.ceil(n / tile[i]!));
  if (perAxis.reduce((p, n) => p * n, 1) > rows)
    return refuse(
      `The compressed picture lacks tiles: ${perAxis.reduce((p, n) => p * n, 1)} are needed, ${rows} are there.`,
    );
  if (heapAt > bytes.length) return refuse('The file is cut short: its compressed tiles are missing.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const pixels = axes.reduce((p, n) => p * n, 1);
  const out = new Uint8Array(pixels * size);
  const outView = new DataView(out.buffer);
  /** A column’s cell in a row: its piece of the heap, null where there is none. */
  const piece = (name: string, row: number): { data: Uint8Array; size: number } | null => {
    const c = columns.get(name);
    if (!c || (c.kind !== 'P' && c.kind !== 'Q')) return null;
    const cell = at + row * rowBytes + c.at;
    const [count, offset] =
      c.kind === 'P'
        ? [view.getUint32(cell), view.getUint32(cell + 4)]
        : [Number(view.getBigUint64(cell)), Number(view.getBigUint64(cell + 8))];
    if (count === 0) return null;
    const from = heapAt + offset;
    if (from + count * c.size > bytes.length) throw new CutShort();
    return { data: bytes.subarray(from, from + count * c.size), size: c.size };
  };
  const numberAt = (name: string, row: number, otherwise: number | null): number | null => {
    const c = columns.get(name);
    if (!c) return typeof cards.get(name) === 'number' ? (cards.get(name) as number) : otherwise;
    const cell = at + row * rowBytes + c.at;
    return c.kind === 'D'
      ? view.getFloat64(cell)
      : c.kind === 'E'
        ? view.getFloat32(cell)
        : c.kind === 'J'
          ? view.getInt32(cell)
          : c.kind === 'I'
            ? view.getInt16(cell)
            : otherwise;
  };
  const parameter = (name: string, otherwise: number) => {
    for (let n = 1; n <= 9; n++) if (text(cards, `ZNAME${n}`) === name) return whole(cards, `ZVAL${n}`, otherwise);
    return otherwise;
  };
  const quantised = bitpix < 0 && (columns.has('ZSCALE') || cards.has('ZSCALE'));
  const method = text(cards, 'ZQUANTIZ') || 'NO_DITHER';
  if (quantised && !['NO_DITHER', 'SUBTRACTIVE_DITHER_1', 'SUBTRACTIVE_DITHER_2', 'NONE'].includes(method))
    return refuse(`Its values are quantised by ${method}, which is not read.`);
  const dithered = quantised && method.startsWith('SUBTRACTIVE');
  const random = dithered ? dithers() : null;
  const storedSize = quantised ? 4 : size;
  const [blockSize, bytePix] = [parameter('BLOCKSIZE', 32), parameter('BYTEPIX', 4)];
  if (how === 'RICE_1' && !RICE[bytePix]) return refuse(`Its pixels are coded in ${bytePix} bytes; read are 1, 2, 4.`);
  const put = (index: number, v: number) => {
    if (bitpix === 8) out[index] = v;
    else if (bitpix === 16) outView.setInt16(2 * index, v);
    else if (bitpix === 32) outView.setInt32(4 * index, v);
    else if (bitpix === -32) outView.setFloat32(4 * index, v);
    else outView.setFloat64(8 * index, v);
  };
  try {
    for (let row = 0, tiles = perAxis.reduce((p, n) => p * n, 1); row < tiles; row++) {
      let rest = row;
      const from = perAxis.map((n, i) => {
        const k = rest % n;
        rest = Math.floor(rest / n);
        return k * tile[i]!;
      });
      const extent = axes.map((n, i) => Math.min(tile[i]!, n - from[i]!));
      const count = extent.reduce((p, n) => p * n, 1);
      const values = tileValues(row, count);
      eachPixel(axes, from, extent, (k, index) => put(index, values(k)));
    }
  } catch (e) {
    if (e instanceof CutShort || e instanceof RangeError)
      return refuse('The file is cut short: a compressed tile ends before its pixels do.');
    return refuse('A compressed tile cannot be unpacked: the file is damaged.');
  }
  const plain = new Map(cards);
  for (const k of ['BSCALE', 'BZERO']) if (bitpix < 0) plain.delete(k);
  plain.set('BITPIX', bitpix).set('NAXIS', axes.length);
  axes.forEach((n, i) => plain.set(`NAXIS${i + 1}`, n));
  if (bitpix > 0 && cards.has('ZBLANK') && !cards.has('BLANK')) plain.set('BLANK', cards.get('ZBLANK')!);
  return { ok: true, bytes: out, cards: plain };

  function tileValues(row: number, count: number): (k: number) => number {
    const packed = piece('COMPRESSED_DATA', row);
    // what could not be quantised stands whole, compressed or not
    if (!packed) {
      const spare = piece('GZIP_COMPRESSED_DATA', row);
      const raw = spare ? gunzipSync(spare.data) : piece('UNCOMPRESSED_DATA', row)?.data;
      if (!raw) throw new CutShort();
      return plainValues(raw, count);
    }
    if (bitpix < 0 && !quantised) return plainValues(unzipped(packed.data, size), count);
    const stored =
      how === 'RICE_1'
        ? riceDecode(packed.data, count, blockSize, bytePix)
        : integersOf(unzipped(packed.data, storedSize), storedSize, count);
    if (!quantised) return (k) => stored[k]!;
    const [scale, zero] = [numberAt('ZSCALE', row, 1)!, numberAt('ZZERO', row, 0)!];
    const blank = numberAt('ZBLANK', row, NO_VALUE)!;
    if (!random) return (k) => (stored[k] === blank ? NaN : zero + scale * stored[k]!);
    let seed = (row + whole(cards, 'ZDITHER0', 1) - 1) % random.length;
    let at = Math.floor(500 * random[seed]!);
    const shifts = new Float64Array(count);
    for (let k = 0; k < count; k++) {
      shifts[k] = random[at]!;
      if (++at === random.length) {
        seed = (seed + 1) % random.length;
        at = Math.floor(500 * random[seed]!);
      }
    }
    const exact = method === 'SUBTRACTIVE_DITHER_2';
    return (k) => {
      const v = stored[k]!;
      if (v === blank) return NaN;
      return exact && v === EXACT_ZERO ? 0 : (v - shifts[k]! + 0.5) * scale + zero;
    };
  }
  function unzipped(data: Uint8Array, of: number): Uint8Array {
    const raw = gunzipSync(data);
    return how === 'GZIP_2' ? unshuffled(raw, of) : raw;
  }
  function plainValues(raw: Uint8Array, count: number): (k: number) => number {
    if (raw.length < count * size) throw new CutShort();
    const v = new DataView(raw.buffer, raw.byteOffset, raw.byteLength);
    if (bitpix === -32) return (k) => v.getFloat32(4 * k);
    if (bitpix === -64) return (k) => v.getFloat64(8 * k);
    const ints = integersOf(raw, size, count);
    return (k) => ints[k]!;
  }
}

/** Walks a tile’s pixels in their order, with the place each has in the whole picture. */
function eachPixel(
  axes: readonly number[],
  from: readonly number[],
  extent: readonly number[],
  visit: (k: number, index: number) => void,
): void {
  const [w] = extent as [number, ...number[]];
  const lines = extent.slice(1).reduce((p, n) => p * n, 1);
  let k = 0;
  for (let line = 0; line < lines; line++) {
    let [rest, index, stride] = [line, from[0]!, axes[0]!];
    for (let i = 1; i < axes.length; i++) {
      index += (from[i]! + (rest % extent[i]!)) * stride;
      rest = Math.floor(rest / extent[i]!);
      stride *= axes[i]!;
    }
    for (let x = 0; x < w; x++) visit(k++, index + x);
  }
}
