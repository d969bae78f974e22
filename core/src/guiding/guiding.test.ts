import { describe, expect, test } from '@jest/globals';
import { parseInput, InvalidInput } from '../calculation/index.ts';
import { lombScargle, seeded } from '../statistics/index.ts';
import { budget, BudgetInput } from './budget.ts';
import { limit, LimitInput } from './limit.ts';
import { LogInput, readLog } from './log.ts';

/** A guided night of white seeing, with a fault mixed in. */
function night(
  seed: number,
  n: number,
  fault: (i: number) => { ra?: number; dec?: number; snr?: number; state?: string } = () => ({}),
) {
  const r = seeded(seed);
  return Array.from({ length: n }, (_, i) => {
    const f = fault(i);
    const [ra, dec] = [0.5 * r.normal() + (f.ra ?? 0), 0.5 * r.normal() + (f.dec ?? 0)];
    return {
      timeS: 3 * i + 0.1 * r.next(),
      raArcsec: ra,
      decArcsec: dec,
      raPulseMs: Math.round(ra * 60),
      decPulseMs: Math.round(dec * 60),
      snr: (f.snr ?? 40) * (1 + 0.05 * r.normal()),
      state: f.state ?? 'guiding',
    };
  });
}
const codes = (samples: object[]) => readLog(parseInput(LogInput, { samples })).findings.map((f) => f.code);

describe('the periodogram', () => {
  test('a known sine in uneven times comes back with its period and size', () => {
    const r = seeded(3);
    const t = Array.from({ length: 500 }, (_, i) => 4 * i + 2 * r.next());
    const v = t.map((x) => 1.2 * Math.sin((2 * Math.PI * x) / 431 + 0.7) + 0.3 * r.normal());
    const got = lombScargle(t, v, 32, 1000)!;
    expect(Math.abs(got.period - 431)).toBeLessThan(4);
    expect(Math.abs(got.semiAmplitude - 1.2)).toBeLessThan(0.1);
    expect(got.falseAlarm).toBeLessThan(1e-9);
  });
  test('in white noise a false alarm below 1 % is about as rare as it should be', () => {
    let alarms = 0;
    for (let seed = 1; seed <= 100; seed++) {
      const r = seeded(seed);
      const t = Array.from({ length: 200 }, (_, i) => 3 * i);
      if (
        lombScargle(
          t,
          t.map(() => r.normal()),
          24,
          300,
        )!.falseAlarm < 0.01
      )
        alarms++;
    }
    expect(alarms).toBeLessThanOrEqual(6);
  });
});

describe('findings', () => {
  test.each([1, 2, 3, 4, 5])('a calm night is calm, seed %i', (seed) =>
    expect(codes(night(seed, 400))).toEqual(['calm']),
  );
  test('a cloud, lost stars and two gusts are told apart', () => {
    expect(codes(night(6, 400, (i) => (i > 150 && i < 190 ? { snr: 12 } : {})))).toContain('cloud');
    expect(codes(night(7, 400, (i) => (i > 100 && i < 106 ? { state: 'lost' } : {})))).toContain('star-lost');
    const gusty = codes(night(8, 400, (i) => ([80, 81, 82, 250, 251].includes(i) ? { ra: 7, dec: -4 } : {})));
    expect(gusty).toContain('gust');
    expect(gusty).not.toContain('periodic-error');
  });
  test('scatter does not depend on where zero lies', () => {
    const one = readLog(parseInput(LogInput, { samples: night(9, 200) }));
    const other = readLog(
      parseInput(LogInput, { samples: night(9, 200).map((s) => ({ ...s, raArcsec: s.raArcsec + 3 })) }),
    );
    expect(other.rms.ra).toBeCloseTo(one.rms.ra, 9);
    expect(other.lag1.ra).toBeCloseTo(one.lag1.ra, 9);
  });
  test('too few samples and times that go back are refused, with the place', () => {
    expect(() => parseInput(LogInput, { samples: night(1, 9) })).toThrow(InvalidInput);
    const back = night(1, 30);
    back[12]!.timeS = 1;
    expect(() => parseInput(LogInput, { samples: back })).toThrow(/samples\.12\.timeS/);
  });
});

test('off axis there is no flexure; more aperture reaches fainter stars', () => {
  const base = {
    imaging: { focalLengthMm: 1600, pixelUm: 3.76 },
    guide: { focalLengthMm: 240, pixelUm: 2.9 },
    exposureS: 600,
    seeingArcsec: 2,
    flexureArcsecPerMin: 0.1,
  };
  expect(budget(parseInput(BudgetInput, { ...base, offAxis: true })).longestExposureS).toBeNull();
  expect(budget(parseInput(BudgetInput, { ...base, offAxis: false })).verdict.level).toBe('bad');
  const at = (apertureMm: number) =>
    limit(
      parseInput(LimitInput, {
        apertureMm,
        exposureS: 2,
        pixelUm: 3,
        focalLengthMm: 800,
        fwhmArcsec: 3,
        readNoiseE: 1,
        quantumEfficiency: 0.7,
        skyMagArcsec2: 20,
      }),
    ).limitingMag;
  expect(at(200)).toBeGreaterThan(at(100) + 0.7);
});
