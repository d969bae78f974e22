import { describe, expect, test } from '@jest/globals';
import { gunzipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import { readPicture, readPictureHeader } from './fitsPicture.ts';
import { rounds } from '../test/rounds.ts';

/**
 * Pictures packed by astropy 5.2.1 in every way that is read, with the values it unpacks them to itself (pixels.json.gz):
 * another implementation of FITS 4.0 §10 and its appendix I.
 */
const file = (name: string) => new Uint8Array(readFileSync(new URL(`../test/packed/${name}`, import.meta.url)));
const pixels = JSON.parse(new TextDecoder().decode(gunzipSync(file('pixels.json.gz')))) as Record<
  string,
  (number | null)[] | null
>;

describe('a picture packed in tiles', () => {
  const cases = Object.entries(pixels).filter((c): c is [string, (number | null)[]] => c[1] !== null);
  test.each(cases)('%s holds what it held', (name, expected) => {
    const got = readPicture(file(`${name}.fits`));
    if (!got.ok) throw new Error(got.message);
    const { values, pedestal, widthPx, heightPx, cards } = got.value;
    expect([widthPx, heightPx, cards.get('EXPTIME')]).toEqual([56, 40, 30]);
    // single precision of what is left beside the pedestal
    const apart = expected.filter((v, k) =>
      v === null ? Number.isFinite(values[k]) : !(Math.abs(values[k]! + pedestal - v) <= 1e-3 + 1e-6 * Math.abs(v)),
    );
    expect(apart).toEqual([]);
  });
  test('other ways of packing are refused by their name', () => {
    expect(readPicture(file('plio.fits'))).toMatchObject({ ok: false, message: expect.stringContaining('PLIO_1') });
    expect(readPicture(file('hcompress.fits'))).toMatchObject({
      ok: false,
      message: expect.stringContaining('HCOMPRESS_1'),
    });
  });
  test('cut short at any place it says so, and never answers half a picture', () => {
    const whole = file('rice-16.fits');
    for (let n = 2880; n < whole.length - 2880; n += 331) {
      const got = readPicture(whole.subarray(0, n));
      if (got.ok) {
        // only padding was missing
        const full = readPicture(whole);
        expect(full.ok && [...got.value.values]).toEqual(full.ok && [...full.value.values]);
      } else expect(got.message.length).toBeGreaterThan(10);
    }
  });
  test('spoilt bytes never break the reader', () => {
    for (let k = 0; k < rounds(50, 200); k++) {
      const bytes = file(k % 2 ? 'float-dither1.fits' : 'gzip2-32.fits').slice();
      for (let j = 0; j < 5; j++)
        bytes[5760 + ((k * 7919 + j * 104729) % (bytes.length - 5760))]! ^= 1 + ((k + j) % 254);
      expect(() => readPicture(bytes)).not.toThrow();
    }
  });
});

describe('whether a file is as long as its header says', () => {
  test('a packed one, a plain one, and one of three thousand bytes that asks for nine', () => {
    const packed = file('rice-16.fits');
    expect(readPictureHeader(packed, packed.length)).toMatchObject({ ok: true });
    expect(readPictureHeader(packed, 6000)).toMatchObject({ ok: false, message: expect.stringContaining('cut short') });
    const card = (c: string) => c.padEnd(80);
    const head = [
      'SIMPLE  =                    T',
      'BITPIX  =                   16',
      'NAXIS   =                    2',
      'NAXIS1  =                   64',
      'NAXIS2  =                   48',
      "IMAGETYP= 'Light'",
      'END',
    ]
      .map(card)
      .join('')
      .padEnd(2880);
    const bytes = new Uint8Array([...head].map((c) => c.charCodeAt(0)));
    expect(readPictureHeader(bytes, 3000)).toMatchObject({
      ok: false,
      message: 'The file is cut short: its picture needs 9024 bytes, the file has 3000.',
    });
    expect(readPictureHeader(bytes, 9024)).toMatchObject({ ok: true });
  });
  test('a file of thousands of empty parts is given up after a thousand', () => {
    const card = (c: string) => c.padEnd(80);
    const part = (first: string) =>
      [first, 'BITPIX  =                    8', 'NAXIS   =                    0', 'END']
        .map(card)
        .join('')
        .padEnd(2880);
    const text = part('SIMPLE  =                    T') + part("XTENSION= 'IMAGE   '").repeat(3000);
    const bytes = new Uint8Array(text.length);
    for (let i = 0; i < text.length; i++) bytes[i] = text.charCodeAt(i);
    expect(readPicture(bytes)).toMatchObject({ ok: false, message: expect.stringContaining('1000 parts') });
  });
});
