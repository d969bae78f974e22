import { describe, expect, test } from '@jest/globals';
import { seeded } from '../statistics/index.ts';
import { readBackground } from './fitsPixels.ts';

const card = (key: string, value: string | number) => `${key.padEnd(8)}= ${String(value).padStart(20)}`.padEnd(80);
/** A picture as the standard lays it out: header blocks, then big-endian values. */
function fits(
  bitpix: number,
  width: number,
  height: number,
  value: (i: number) => number,
  more: [string, number][] = [],
): Uint8Array {
  const cards = [
    card('SIMPLE', 'T'),
    card('BITPIX', bitpix),
    card('NAXIS', 2),
    card('NAXIS1', width),
    card('NAXIS2', height),
    ...more.map(([k, v]) => card(k, v)),
    'END'.padEnd(80),
  ];
  const header = cards.join('').padEnd(Math.ceil((cards.length * 80) / 2880) * 2880);
  const size = Math.abs(bitpix) / 8;
  const bytes = new Uint8Array(header.length + Math.ceil((width * height * size) / 2880) * 2880);
  bytes.set(new TextEncoder().encode(header));
  const view = new DataView(bytes.buffer);
  for (let i = 0; i < width * height; i++) {
    const [at, v] = [header.length + i * size, value(i)];
    if (bitpix === 8) view.setUint8(at, v);
    else if (bitpix === 16) view.setInt16(at, v);
    else if (bitpix === 32) view.setInt32(at, v);
    else if (bitpix === -32) view.setFloat32(at, v);
    else view.setFloat64(at, v);
  }
  return bytes;
}
const level = (bytes: Uint8Array) => {
  const got = readBackground(bytes);
  if (!got.ok) throw new Error(got.message);
  return got.value;
};

describe('the sky of a picture', () => {
  test.each([8, 16, 32, -32, -64])('is read from pixels of BITPIX %i', (bitpix) => {
    expect(level(fits(bitpix, 60, 40, (i) => (i % 3) + 40)).level).toBe(41);
  });
  test('is told in the file’s own counts: 16-bit cameras store them shifted', () => {
    expect(
      level(
        fits(16, 80, 50, () => 1000 - 32768, [
          ['BZERO', 32768],
          ['BSCALE', 1],
        ]),
      ).level,
    ).toBe(1000);
  });
  test('is not moved by stars, a nebula in a corner, or hot pixels', () => {
    const random = seeded(4);
    const noisy = fits(-32, 600, 400, (i) => {
      const sky = 1200 + 35 * random.normal();
      const [x, y] = [i % 600, Math.floor(i / 600)];
      const star = x % 97 < 3 && y % 61 < 3 ? 30_000 : 0;
      return sky + star + (x > 450 && y > 300 ? 400 : 0) + (random.next() < 0.001 ? 60_000 : 0);
    });
    const got = level(noisy);
    // the corner is a sixteenth of the picture: it moves the level by a few counts, not by its own height
    expect(Math.abs(got.level - 1200)).toBeLessThan(6);
    expect(Math.abs(got.spread / 35 - 1)).toBeLessThan(0.1);
  });
  test('of a broken file is refused with what is wrong', () => {
    const whole = fits(16, 100, 100, () => 5);
    const told = (b: Uint8Array) => {
      const got = readBackground(b);
      return got.ok ? 'read' : got.message;
    };
    expect(told(whole.subarray(0, 12_000))).toContain('cut short: 100 × 100 pixels need 20000 bytes');
    expect(told(new TextEncoder().encode('not a picture'))).toContain('not a FITS file');
    expect(told(fits(24, 40, 40, () => 0))).toContain('BITPIX is 24');
    expect(told(fits(-32, 40, 40, () => Number.NaN))).toContain('1600 of 1600 pixels have no value');
  });
});
