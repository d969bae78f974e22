import { describe, expect, test } from '@jest/globals';
import { readPicture } from './fitsPicture.ts';

const [W, H] = [40, 36];
const BLOCK = 2880;
const card = (key: string, value: string | number) => `${key.padEnd(8)}= ${String(value).padStart(20)}`.padEnd(80);
type Cards = readonly (readonly [string, string | number])[];
const header = (cards: Cards) => {
  const text = cards.map(([k, v]) => card(k, v)).join('') + 'END'.padEnd(80);
  return new TextEncoder().encode(text.padEnd(Math.ceil(text.length / BLOCK) * BLOCK));
};
function stored(bitpix: number, values: readonly number[]): Uint8Array {
  const size = Math.abs(bitpix) / 8;
  const bytes = new Uint8Array(Math.ceil((values.length * size) / BLOCK) * BLOCK);
  const view = new DataView(bytes.buffer);
  values.forEach((v, i) => {
    if (bitpix === 8) view.setUint8(i, v);
    else if (bitpix === 16) view.setInt16(2 * i, v);
    else if (bitpix === 32) view.setInt32(4 * i, v);
    else if (bitpix === -32) view.setFloat32(4 * i, v);
    else view.setFloat64(8 * i, v);
  });
  return bytes;
}
const joined = (...parts: Uint8Array[]) => {
  const all = new Uint8Array(parts.reduce((s, p) => s + p.length, 0));
  parts.reduce((at, p) => (all.set(p, at), at + p.length), 0);
  return all;
};
const primary = (bitpix: number, more: Cards = [], axes: readonly number[] = [W, H]) =>
  header([
    ['SIMPLE', 'T'],
    ['BITPIX', bitpix],
    ['NAXIS', axes.length],
    ...axes.map((n, i) => [`NAXIS${i + 1}`, n] as const),
    ...more,
  ]);
const extension = (kind: string, bitpix: number, axes: readonly number[], more: Cards = []) =>
  header([
    ['XTENSION', `'${kind.padEnd(8)}'`],
    ['BITPIX', bitpix],
    ['NAXIS', axes.length],
    ...axes.map((n, i) => [`NAXIS${i + 1}`, n] as const),
    ['PCOUNT', 0],
    ['GCOUNT', 1],
    ...more,
  ]);
const ramp = Array.from({ length: W * H }, (_, i) => i % 100);
const read = (bytes: Uint8Array) => {
  const got = readPicture(bytes);
  if (!got.ok) throw new Error(got.message);
  const { value } = got;
  return { ...value, physical: Array.from(value.values, (v) => v + value.pedestal) };
};
const refusal = (bytes: Uint8Array) => {
  const got = readPicture(bytes);
  return got.ok ? null : got.message;
};

describe('pixels', () => {
  test.each([8, 16, 32, -32, -64])('of BITPIX %i are read as they were meant', (bitpix) => {
    const got = read(joined(primary(bitpix), stored(bitpix, ramp)));
    expect([got.widthPx, got.heightPx, got.invalid]).toEqual([W, H, 0]);
    expect(got.physical).toEqual(ramp);
    expect(got.ceiling).toBe({ 8: 255, 16: 32767, 32: 2147483647 }[bitpix] ?? null);
  });
  test('are scaled: physical value is BZERO + BSCALE · stored, and so is the top of their type', () => {
    const got = read(
      joined(
        primary(16, [
          ['BZERO', 32768],
          ['BSCALE', 0.5],
        ]),
        stored(16, ramp),
      ),
    );
    expect(got.physical.slice(0, 4)).toEqual([32768, 32768.5, 32769, 32769.5]);
    expect(got.ceiling).toBe(32768 + 0.5 * 32767);
  });
  test('that are blank or not finite have no value; BLANK means nothing in floating point', () => {
    const some = ramp.map((v, i) => (i < 7 ? -5 : v));
    expect(read(joined(primary(16, [['BLANK', -5]]), stored(16, some))).invalid).toBe(7);
    const odd = ramp.map((v, i) => (i < 3 ? NaN : i < 5 ? Infinity : v));
    const got = read(joined(primary(-32, [['BLANK', 0]]), stored(-32, odd)));
    expect(got.invalid).toBe(5);
    expect(got.physical[4]).toBeNaN();
    expect(got.physical[5]).toBe(5);
  });
  test('of large counts keep their small differences', () => {
    const large = ramp.map((v) => 2_000_000_000 + v);
    expect(read(joined(primary(32), stored(32, large))).physical).toEqual(large);
  });
  test('of colour planes are their mean, and one blank plane leaves none', () => {
    const planes = [ramp, ramp.map((v) => v + 3), ramp.map((v) => v + 6)].flat();
    const got = read(joined(primary(-64, [], [W, H, 3]), stored(-64, planes)));
    expect(got.physical[10]).toBeCloseTo(ramp[10]! + 3, 5);
    planes[W * H + 10] = NaN;
    expect(read(joined(primary(-64, [], [W, H, 3]), stored(-64, planes))).invalid).toBe(1);
  });
});

describe('the picture of a file', () => {
  const empty = primary(
    8,
    [
      ['EXTEND', 'T'],
      ['OBJECT', "'M 42    '"],
      ['FILTER', "'L       '"],
    ],
    [],
  );
  const picture = joined(extension('IMAGE', -32, [W, H], [['FILTER', "'Ha      '"]]), stored(-32, ramp));
  test('may be an extension: its own keywords stand before those of the first part', () => {
    const got = read(joined(empty, picture));
    expect([got.cards.get('OBJECT'), got.cards.get('FILTER')]).toEqual(['M 42', 'Ha']);
    expect(got.physical).toEqual(ramp);
  });
  test('is looked for behind tables and empty pictures', () => {
    const table = joined(extension('BINTABLE', 8, [20, 5]), stored(8, new Array<number>(100).fill(1)));
    expect(read(joined(empty, table, extension('IMAGE', 16, []), picture)).physical).toEqual(ramp);
  });
  test('that is packed in tiles is refused by name; a table is no picture', () => {
    const packed = joined(
      extension('BINTABLE', 8, [8, 5], [['ZIMAGE', 'T']]),
      stored(8, new Array<number>(40).fill(1)),
    );
    expect(refusal(joined(empty, packed))).toMatch(/compressed by no algorithm; read are RICE_1, GZIP_1, GZIP_2/);
    const table = joined(extension('BINTABLE', 8, [8, 5]), stored(8, new Array<number>(40).fill(1)));
    expect(refusal(joined(empty, table))).toMatch(/no picture in this file/);
    expect(refusal(joined(empty, new Uint8Array(BLOCK).fill(7)))).toMatch(/no picture in this file/);
  });
  test('with more planes or axes than a colour picture has is refused', () => {
    expect(refusal(joined(primary(8, [], [W, H, 5]), stored(8, new Array<number>(5 * W * H).fill(1))))).toMatch(
      /40 × 36 × 5 values/,
    );
    expect(refusal(joined(primary(8, [], [W, H, 1, 2]), stored(8, new Array<number>(2 * W * H).fill(1))))).toMatch(
      /two axes are read/,
    );
    expect(read(joined(primary(8, [], [W, H, 1, 1]), stored(8, ramp))).physical).toEqual(ramp);
  });
});
