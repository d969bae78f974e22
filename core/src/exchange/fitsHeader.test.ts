import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { framingFromHeader, readFitsHeader } from './fitsHeader.ts';

const card = (key: string, value: string | number | boolean) =>
  `${key.padEnd(8)}= ${typeof value === 'string' ? `'${value.replace(/'/g, "''")}'` : value === true ? 'T' : String(value)}`.padEnd(
    80,
  );
const header = (cards: Record<string, string | number | boolean>, end = true) => {
  const text =
    card('SIMPLE', true) +
    Object.entries(cards)
      .map(([k, v]) => card(k, v))
      .join('') +
    (end ? 'END'.padEnd(80) : '');
  return new TextEncoder().encode(text.padEnd(Math.ceil(text.length / 2880) * 2880));
};
const framing = (cards: Record<string, string | number | boolean>) => {
  const read = readFitsHeader(header(cards));
  if (!read.ok) throw new Error(read.message);
  const got = framingFromHeader(read.cards);
  if (!got.ok) throw new Error(got.message);
  return got.framing;
};
const size = { NAXIS1: 6000, NAXIS2: 4000 };
/** World coordinates of a picture whose top stands at a position angle, east to the left. */
const wcs = (paDeg: number, scale = 1.2) => {
  const [s, c] = [Math.sin((paDeg * Math.PI) / 180), Math.cos((paDeg * Math.PI) / 180)];
  const k = scale / 3600;
  return {
    CRVAL1: 83.6,
    CRVAL2: 22,
    CRPIX1: 3000.5,
    CRPIX2: 2000.5,
    CD1_1: -k * c,
    CD1_2: k * s,
    CD2_1: k * s,
    CD2_2: k * c,
  };
};

describe('a framing from a header', () => {
  test('a solved picture gives back its centre, angle and scale', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 359.9, noNaN: true }), (pa) => {
        const got = framing({ ...size, ...wcs(pa) });
        expect(got.raDeg).toBeCloseTo(83.6, 9);
        expect(got.decDeg).toBeCloseTo(22, 9);
        expect(Math.abs(((got.angleDeg! - pa + 540) % 360) - 180)).toBeLessThan(1e-6);
        expect(got.scaleArcsecPerPx).toBeCloseTo(1.2, 9);
        expect([got.mirrored, got.from]).toEqual([false, 'solved']);
      }),
      { seed: 41 },
    );
  });
  test('the centre is worked out when the reference pixel lies elsewhere', () => {
    const got = framing({ ...size, ...wcs(0), CRPIX1: 3000.5, CRPIX2: 500.5 });
    // the middle lies 1500 pixels of 1.2″ above: half a degree north
    expect(got.decDeg).toBeCloseTo(22.5, 4);
    expect(got.raDeg).toBeCloseTo(83.6, 6);
  });
  test('older headers with CDELT and CROTA2 mean the same; rows stored top-down turn the angle', () => {
    const old = framing({ ...size, CRVAL1: 83.6, CRVAL2: 22, CDELT1: -0.0003, CDELT2: 0.0003, CROTA2: 0 });
    expect(old.angleDeg).toBeCloseTo(0, 6);
    expect(framing({ ...size, ...wcs(30), ROWORDER: 'TOP-DOWN' }).angleDeg).toBeCloseTo(210, 6);
    expect(framing({ ...size, ...wcs(30), ROWORDER: 'TOP-DOWN' }).mirrored).toBe(true);
  });
  test('a pointing without a solution gives the place and no angle, in degrees or sexagesimal', () => {
    expect(framing({ RA: 83.6, DEC: 22 })).toMatchObject({ raDeg: 83.6, decDeg: 22, angleDeg: null, from: 'pointing' });
    const typed = framing({ OBJCTRA: '05 34 24', OBJCTDEC: '-00 30 00', OBJECT: "Bode''s" });
    expect(typed.raDeg).toBeCloseTo(83.6, 6);
    expect(typed.decDeg).toBeCloseTo(-0.5, 9);
  });
  test('what is wrong is said: no FITS, a header cut short, no place, a place off the sky', () => {
    const wrong = (bytes: Uint8Array) => (readFitsHeader(bytes) as { message: string }).message;
    expect(wrong(new TextEncoder().encode('GIF89a'))).toContain('not a FITS file');
    expect(wrong(header({ NAXIS: 2 }, false))).toContain('cut short');
    expect(() => framing({ EXPTIME: 300 })).toThrow(/neither/);
    expect(() => framing({ RA: 400, DEC: 22 })).toThrow(/not on the sky/);
  });
});
