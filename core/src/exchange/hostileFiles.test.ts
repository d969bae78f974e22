import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { simulateGuiding } from '../observatory/index.ts';
import {
  framingFromHeader,
  guideToCsv,
  partsToCsv,
  readFitsHeader,
  readFocusCsv,
  readGuideCsv,
  readPartsCsv,
} from './index.ts';

/** Files come from anywhere. Whatever is in them, a reader answers: with what it could use, and why not the rest. */
const cell = fc.oneof(
  fc.double().map(String),
  fc.constantFrom('', 'NaN', '1e999', '-', '−3,5', '2026-13-40', 'guiding', '"', '=1+1', '0x10', '١٢'),
  fc.string({ maxLength: 12 }),
);
const headings = fc.constantFrom(
  'time,ra,dec',
  'time;ra;dec;snr;state',
  'filter,position,temperature,time',
  'name,mass_kg,length_mm',
  'a,a,a',
  '',
);
const file = fc
  .tuple(headings, fc.array(fc.array(cell, { maxLength: 6 }), { maxLength: 25 }), fc.constantFrom(',', ';', '\t'))
  .map(([head, rows, by]) => [head, ...rows.map((r) => r.join(by))].join('\n'));

describe('text files', () => {
  test('a guide log: every row is used, refused with its line, or counted', () => {
    fc.assert(
      fc.property(file, (text) => {
        const got = readGuideCsv(text);
        for (const s of got.samples)
          for (const v of [s.timeS, s.raArcsec, s.decArcsec, s.raPulseMs, s.decPulseMs, s.snr ?? 0])
            expect(Number.isFinite(v)).toBe(true);
        for (let i = 1; i < got.samples.length; i++)
          expect(got.samples[i]!.timeS).toBeGreaterThan(got.samples[i - 1]!.timeS);
        for (const b of got.bad) expect(b.reason.length).toBeGreaterThan(5);
        if (got.samples.length) expect(got.samples.length + got.bad.filter((b) => b.line > 0).length).toBe(got.rows);
        else expect(got.bad.length).toBeGreaterThan(0);
      }),
      { seed: 61, numRuns: 400 },
    );
  });
  test('a focus log: runs have a filter and sound numbers, the rest its reason', () => {
    fc.assert(
      fc.property(file, fc.boolean(), (text, fahrenheit) => {
        const got = readFocusCsv(text, undefined, fahrenheit);
        for (const r of got.runs) {
          expect(r.filter).not.toBe('');
          for (const v of [
            r.position ?? 0,
            r.hfd ?? 1,
            r.temperatureC ?? 0,
            ...r.points.flatMap((p) => [p.position, p.hfd]),
          ])
            expect(Number.isFinite(v)).toBe(true);
          if (r.time) expect(Number.isNaN(Date.parse(r.time))).toBe(false);
        }
        for (const b of got.bad) expect(b.reason.length).toBeGreaterThan(5);
      }),
      { seed: 62, numRuns: 400 },
    );
  });
  test('a drawer: what is read can be written and read again, the same', () => {
    fc.assert(
      fc.property(file, (text) => {
        const got = readPartsCsv(text);
        for (const b of got.bad) expect(b.reason.length).toBeGreaterThan(5);
        const again = readPartsCsv(partsToCsv(got.parts));
        expect(again).toEqual({ parts: got.parts, bad: [] });
      }),
      { seed: 63, numRuns: 300 },
    );
  });
  test('a good log with one cell spoilt loses that row and no other', () => {
    const lines = guideToCsv(simulateGuiding({ seed: 5, seconds: 400 }))
      .trimEnd()
      .split('\n');
    const whole = readGuideCsv(lines.join('\n')).samples.length;
    fc.assert(
      fc.property(fc.integer({ min: 1, max: lines.length - 1 }), fc.integer({ min: 0, max: 2 }), (at, column) => {
        const cells = lines[at]!.split(',');
        cells[column] = 'what?';
        const got = readGuideCsv(lines.with(at, cells.join(',')).join('\n'));
        expect(got.samples).toHaveLength(whole - 1);
        expect(got.bad).toMatchObject([{ line: at + 1 }]);
      }),
      { seed: 64, numRuns: 60 },
    );
  });
});

describe('FITS headers', () => {
  const card = fc
    .tuple(fc.constantFrom('SIMPLE', 'CRVAL1', 'CRVAL2', 'CD1_1', 'CD2_2', 'NAXIS1', 'RA', 'DEC', 'OBJECT', ''), cell)
    .map(([key, value]) => `${key.padEnd(8)}= ${value}`.slice(0, 80).padEnd(80));
  test('bytes at random and headers full of nonsense are refused in words or give a place on the sky', () => {
    const tryIt = (bytes: Uint8Array) => {
      const header = readFitsHeader(bytes);
      if (!header.ok) {
        expect(header.message.length).toBeGreaterThan(5);
        return;
      }
      const got = framingFromHeader(header.cards);
      if (!got.ok) expect(got.message.length).toBeGreaterThan(5);
      else {
        expect(got.framing.raDeg).toBeGreaterThanOrEqual(0);
        expect(got.framing.raDeg).toBeLessThanOrEqual(360);
        expect(Math.abs(got.framing.decDeg)).toBeLessThanOrEqual(90);
        for (const v of [got.framing.angleDeg, got.framing.scaleArcsecPerPx])
          expect(v === null || Number.isFinite(v)).toBe(true);
      }
    };
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 6000 }), (bytes) => tryIt(bytes)),
      { seed: 65, numRuns: 200 },
    );
    fc.assert(
      fc.property(fc.array(card, { maxLength: 30 }), (cards) => {
        const text = ['SIMPLE  =                    T'.padEnd(80), ...cards, 'END'.padEnd(80)].join('');
        tryIt(new TextEncoder().encode(text.padEnd(Math.ceil(text.length / 2880) * 2880)));
      }),
      { seed: 66, numRuns: 400 },
    );
  });
});
