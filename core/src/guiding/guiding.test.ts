import { describe, expect, test } from '@jest/globals';
import FFT from 'fft.js';
import { parseInput, InvalidInput } from '../calculation/index.ts';
import { GUIDE_FAULTS, simulateGuiding, type GuideFault } from '../observatory/index.ts';
import { lombScargle, seeded, semiAmplitudes } from '../statistics/index.ts';
import { budget, BudgetInput } from './budget.ts';
import { limit, LimitInput } from './limit.ts';
import { LogInput, readLog, summaryOfLog } from './log.ts';
import { allowedArcsec, RULES } from './rules.ts';
import { spectrumOf } from './spectrum.ts';

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
  test('evenly sampled, its amplitudes are those of a Fourier transform by another library', () => {
    const n = 1024;
    const r = seeded(17);
    const v = Array.from(
      { length: n },
      (_, i) =>
        0.8 * Math.sin((2 * Math.PI * 37 * i) / n) + 0.3 * Math.cos((2 * Math.PI * 5 * i) / n) + 0.2 * r.normal(),
    );
    const mean = v.reduce((s, x) => s + x, 0) / n;
    const fft = new FFT(n);
    const out = fft.createComplexArray();
    fft.realTransform(
      out,
      v.map((x) => x - mean),
    );
    const bins = [3, 5, 11, 37, 100, 301];
    const ours = semiAmplitudes(
      v.map((_, i) => i),
      v,
      bins.map((k) => n / k),
    );
    bins.forEach((k, i) => expect(ours[i]!).toBeCloseTo((2 * Math.hypot(out[2 * k]!, out[2 * k + 1]!)) / n, 9));
  });
  test('the spectrum peaks at the worm and stays under its noise line without one', () => {
    const of = (fault: GuideFault) => spectrumOf(simulateGuiding({ seed: 4, seconds: 7200, fault, wormPeriodS: 480 }))!;
    const worm = of('worm');
    const peak = worm.periodS[worm.ra.indexOf(Math.max(...worm.ra))]!;
    expect(Math.abs(peak - 480)).toBeLessThan(20);
    expect(Math.max(...worm.ra)).toBeGreaterThan(3 * worm.noiseArcsec);
    const calm = of('none');
    expect(Math.max(...calm.dec)).toBeLessThan(2 * calm.noiseArcsec);
    expect(spectrumOf(simulateGuiding({ seed: 4, seconds: 60 }))).toBeNull();
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

describe('a stand-in’s nights', () => {
  const EXPECTED: Record<GuideFault, string> = {
    none: 'calm',
    'over-correction': 'over-correction-ra',
    worm: 'periodic-error',
    cloud: 'cloud',
    'hot-pixel': 'hot-pixel-lock',
    gusts: 'gust',
    polar: 'polar-drift',
    backlash: 'dec-backlash',
  };
  test.each(GUIDE_FAULTS)('%s is read from the log, whatever the seed', (fault) => {
    for (const seed of [3, 14, 159]) {
      const found = codes(simulateGuiding({ seed, seconds: 5400, fault }));
      expect(found).toContain(EXPECTED[fault]);
      if (fault === 'none') expect(found).toEqual(['calm']);
    }
  });
  test('the same seed is the same night; the summary keeps the figures and the span', () => {
    const of = () => simulateGuiding({ seed: 8, seconds: 900 });
    expect(of()).toEqual(of());
    const input = parseInput(LogInput, { samples: of() });
    expect(summaryOfLog(input)).toMatchObject({ samples: 450, spanS: 898, rms: readLog(input).rms });
  });
  test('each rule allows what its words say', () => {
    const main = { scaleArcsecPerPx: 0.9, seeingArcsec: 2.4 };
    expect(RULES.map((r) => allowedArcsec(r.id, main))).toEqual([1, 0.8, 0.45, 2.4 / 3]);
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
