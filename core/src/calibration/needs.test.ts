import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parseInput } from '../calculation/index.ts';
import { flatServes, needs, NeedsInput } from './needs.ts';

const frame = { filter: 'L', exposureS: 300, gain: 100, temperatureC: -10, trainRevision: 'r', angleDeg: 90 };
const flat = { filter: 'L', exposureS: 2, gain: 100, trainRevision: 'r', angleDeg: 90 };
const dark = { exposureS: 300, gain: 100, temperatureC: -10 };
const ask = (input: object) => needs(parseInput(NeedsInput, input));
const kinds = (input: object) => ask(input).missing.map((m) => m.kind);

describe('what calibration needs', () => {
  test('a flat turned by half a circle does not hold; one across north does', () => {
    const at = (flatDeg: number, frameDeg: number) =>
      flatServes({ ...flat, binning: 1, angleDeg: flatDeg }, { ...frame, binning: 1, angleDeg: frameDeg }, 2);
    expect([at(0, 180), at(359, 1), at(-1, 361), at(10, 12), at(10, 12.1)]).toEqual([false, true, true, true, false]);
  });
  test('offsets count only where both are given; binning, gain and exposure always', () => {
    const library = { flats: [{ ...flat, offset: 30 }], darks: [dark], darkFlats: [{ exposureS: 2.001, gain: 100 }] };
    expect(kinds({ frames: [frame], library })).toEqual([]);
    expect(kinds({ frames: [{ ...frame, offset: 20 }], library })).toEqual(['flat']);
    expect(kinds({ frames: [{ ...frame, binning: 2 }], library })).toEqual(['flat', 'dark']);
    expect(kinds({ frames: [{ ...frame, exposureS: 301 }], library })).toEqual(['dark']);
  });
  test('only what a change of the train would lose is urgent', () => {
    const frames = [frame, { ...frame, trainRevision: 'old' }];
    const got = ask({ frames, library: { darks: [dark] }, changing: ['r'] });
    expect(got.missing).toHaveLength(2);
    expect(got.urgent.map((u) => u.trainRevision)).toEqual(['r']);
  });
  test('every frame is either served or waits; taking all that is missing leaves nothing', () => {
    const any = fc.record({
      filter: fc.constantFrom('L', 'Ha'),
      exposureS: fc.constantFrom(60, 300),
      gain: fc.constantFrom(0, 100),
      temperatureC: fc.integer({ min: -12, max: -8 }),
      trainRevision: fc.constantFrom('r', 's'),
      angleDeg: fc.integer({ min: 0, max: 360 }),
      count: fc.integer({ min: 1, max: 9 }),
    });
    fc.assert(
      fc.property(fc.array(any, { maxLength: 12 }), (frames) => {
        const first = ask({ frames });
        const waiting = (kind: string) =>
          first.missing.filter((m) => m.kind === kind).reduce((s, m) => s + m.frames, 0);
        const all = frames.reduce((s, f) => s + f.count, 0);
        expect([waiting('flat'), waiting('dark')]).toEqual([all, all]);
        const flats = first.missing.flatMap((m) =>
          m.kind === 'flat'
            ? [{ filter: m.filter, trainRevision: m.trainRevision, angleDeg: m.angleDeg, gain: m.gain, exposureS: 2 }]
            : [],
        );
        const darks = first.missing.flatMap((m) =>
          m.kind === 'dark' ? [{ exposureS: m.exposureS, gain: m.gain, temperatureC: m.temperatureC }] : [],
        );
        const darkFlats = [0, 100].map((gain) => ({ exposureS: 2, gain }));
        expect(ask({ frames, library: { flats, darks, darkFlats } }).missing).toEqual([]);
      }),
      { numRuns: 60, seed: 3 },
    );
  });
});
