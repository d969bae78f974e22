import { describe, expect, test } from '@jest/globals';
import { parseInput } from '../calculation/index.ts';
import { simulateGuiding } from '../observatory/index.ts';
import { seeded } from '../statistics/index.ts';
import { LogInput, readLog } from './log.ts';
import type { LogSample } from './logSample.ts';
import { rounds } from '../test/rounds.ts';

/** Logs made here, by the simplest guider there is, so that the fault in them is known. */
const RATE = 0.0075;
interface Night {
  seed: number;
  n?: number;
  /** Scatter of one measurement [″], share of it corrected, and what the mount does by itself [″ a sample]. */
  seeing?: number;
  gain?: number;
  drift?: number;
  ditherEvery?: number;
  /** Pulses below this error are not sent [″]. */
  least?: number;
  scintillation?: number;
  /** From this sample on the spot is a hot pixel. */
  lockedFrom?: number;
}
function night(o: Night): LogSample[] {
  const random = seeded(o.seed);
  const { n = 600, seeing = 0.5, gain = 0.5, drift = 0.004, ditherEvery = 0, least = 0, scintillation = 0.08 } = o;
  const at = { ra: 0, dec: 0 };
  let settle = 0;
  return Array.from({ length: n }, (_, i): LogSample => {
    at.ra += drift;
    let state: LogSample['state'] = settle-- > 0 ? 'settling' : 'guiding';
    if (ditherEvery && i > 0 && i % ditherEvery === 0) {
      const a = 2 * Math.PI * random.next();
      [at.ra, at.dec] = [at.ra + 3 * Math.cos(a), at.dec + 3 * Math.sin(a)];
      [state, settle] = ['dithering', 8];
    }
    const locked = o.lockedFrom !== undefined && i >= o.lockedFrom;
    const seen = (v: number) => (locked ? 0.015 * random.normal() : v + seeing * random.normal());
    const [raArcsec, decArcsec] = [seen(at.ra), seen(at.dec)];
    const pulse = (e: number) => (Math.abs(e) < least ? 0 : Math.round((gain * e) / RATE));
    const [raPulseMs, decPulseMs] = [pulse(raArcsec), pulse(decArcsec)];
    [at.ra, at.dec] = [at.ra - raPulseMs * RATE, at.dec - decPulseMs * RATE];
    return {
      timeS: 2 * i,
      raArcsec,
      decArcsec,
      raPulseMs,
      decPulseMs,
      snr: Math.max(1, 40 * (1 + scintillation * random.normal())),
      state,
    };
  });
}
const withoutPulses = (samples: LogSample[]) => samples.map(({ raPulseMs: _r, decPulseMs: _d, ...s }) => s);
const read = (samples: object[]) => readLog(parseInput(LogInput, { samples }));
const codes = (samples: object[]) => read(samples).findings.map((f) => f.code);
const SEEDS = Array.from({ length: rounds(3, 8) }, (_, i) => 100 + i);

describe('a superb mount', () => {
  test.each([
    ['with dithers', 90, 0],
    ['with dithers, small errors left alone', 90, 0.12],
    ['with pulses alone', 0, 0],
  ])('of 0.10″ an axis, %s, is no hot pixel', (_what, ditherEvery, least) => {
    for (const seed of SEEDS)
      expect([
        seed,
        codes(night({ seed, seeing: 0.09, ditherEvery, least, n: 900 })).filter((c) => c.startsWith('hot')),
      ]).toEqual([seed, []]);
  });
  test('stiller still, but going with every dither, is no hot pixel either', () => {
    for (const seed of SEEDS)
      expect(codes(night({ seed, seeing: 0.05, ditherEvery: 90, n: 900 }))).not.toContain('hot-pixel-lock');
  });
  test('without pulses and dithers in the log it cannot be told, and is said so, not called bad', () => {
    for (const seed of SEEDS) {
      const got = read(withoutPulses(night({ seed, seeing: 0.05, gain: 0.4 })));
      expect(got.findings[0]!.code).toBe('hot-pixel-suspect');
      expect(got.verdict.level).toBe('caution');
      expect(got.verdict.text).toContain('nothing that would tell a hot pixel from a superb mount');
    }
  });
});

describe('a hot pixel', () => {
  test('is found by not going with a dither, by not answering pulses, and by needing none where the night did', () => {
    for (const seed of SEEDS) {
      expect([seed, codes(night({ seed, lockedFrom: 300, ditherEvery: 100 }))[0]]).toEqual([seed, 'hot-pixel-lock']);
      expect([seed, codes(night({ seed, lockedFrom: 300 }))[0]]).toEqual([seed, 'hot-pixel-lock']);
      expect([seed, codes(night({ seed, lockedFrom: 300, least: 0.1 }))[0]]).toEqual([seed, 'hot-pixel-lock']);
      expect(codes(simulateGuiding({ seed, seconds: 2400, fault: 'hot-pixel' }))[0]).toBe('hot-pixel-lock');
    }
  });
});

describe('over-correction', () => {
  test('is found from the errors where the log has no pulses, and healthy guiding is not called so', () => {
    for (const seed of SEEDS) {
      for (const gain of [1.6, 1.7, 1.8]) {
        const samples = night({ seed, gain, n: 900 });
        expect([seed, gain, codes(withoutPulses(samples))]).toEqual([
          seed,
          gain,
          expect.arrayContaining(['over-correction-ra', 'over-correction-dec']),
        ]);
        expect(codes(samples)).toEqual(expect.arrayContaining(['over-correction-ra']));
      }
      for (const gain of [0.3, 0.6, 0.9])
        expect(codes(withoutPulses(night({ seed, gain, n: 900 }))).filter((c) => c.startsWith('over'))).toEqual([]);
    }
  });
});

describe('what is not there to see', () => {
  test('absent pulse columns are not “unguided”; a log that says off, or has pulses on the other axis alone, is', () => {
    const drifting = (state: LogSample['state'], raPulseMs: number) =>
      Array.from({ length: 300 }, (_, i) => ({
        timeS: 2 * i,
        raArcsec: 0.3 * Math.sin(9 * i),
        decArcsec: 0.02 * i + 0.2 * Math.cos(7 * i),
        raPulseMs,
        state,
      }));
    expect(codes(drifting('guiding', 0))).not.toContain('polar-drift');
    expect(codes(drifting('guiding', 40))).toContain('polar-drift');
    expect(codes(drifting('off', 0))).toContain('polar-drift');
  });
  test('samples right after a gap or a dither are no gusts; wind is', () => {
    for (const seed of SEEDS) {
      const samples = night({ seed, n: 900 });
      for (const at of [200, 420, 640]) {
        for (let i = at; i < 900; i++) samples[i]!.timeS += 120;
        for (let i = at; i < at + 3; i++) samples[i]!.raArcsec += 6;
      }
      expect([seed, codes(samples).includes('gust')]).toEqual([seed, false]);
      const windy = night({ seed, n: 900 });
      for (const at of [200, 420, 640]) for (let i = at; i < at + 4; i++) windy[i]!.raArcsec += 6;
      expect([seed, codes(windy).includes('gust')]).toEqual([seed, true]);
    }
  });
  test('strong scintillation is no cloud; cloud through it still is', () => {
    let found = 0;
    for (const seed of SEEDS) {
      expect([seed, codes(night({ seed, scintillation: 0.3, n: 2000 })).includes('cloud')]).toEqual([seed, false]);
      const veiled = night({ seed, scintillation: 0.15, n: 900 });
      for (let i = 400; i < 460; i++) veiled[i]!.snr! *= 0.3;
      if (codes(veiled).includes('cloud')) found++;
    }
    expect(found).toBe(SEEDS.length);
  });
});
