import { median } from 'simple-statistics';
import { semiAmplitudes } from '../statistics/index.ts';
import type { LogSample } from './logSample.ts';
import { FALSE_ALARM, line } from './series.ts';

export interface Spectrum {
  periodS: number[];
  /** Semi-amplitudes [″]. */
  ra: number[];
  dec: number[];
  /** Semi-amplitude of right ascension that noise alone exceeds once in a thousand logs [″]. */
  noiseArcsec: number;
}
const POINTS = 420;

/**
 * Strength of every rhythm of a log, on a logarithmic scale of periods from 8 cadences to half the span. Lines are taken
 * out first. Null when the log is too short. Source: as in `guide.log`.
 */
export function spectrumOf(samples: readonly LogSample[]): Spectrum | null {
  const guided = samples.some((s) => s.state === 'guiding');
  const used = samples.filter((s) => s.state === (guided ? 'guiding' : 'off'));
  if (used.length < 32) return null;
  const t = used.map((s) => s.timeS);
  const cadence = median(t.slice(1).map((x, i) => x - t[i]!));
  const span = t.at(-1)! - t[0]!;
  const [shortest, longest] = [Math.max(4 * cadence, 8), span / 2];
  if (!(longest > 2 * shortest)) return null;
  const periodS = Array.from({ length: POINTS }, (_, i) => shortest * (longest / shortest) ** (i / (POINTS - 1)));
  const flat = (v: number[]) => {
    const fit = line(t, v);
    return { values: v.map((x, i) => x - fit.meanV - fit.slope * (t[i]! - fit.meanT)), variance: fit.variance };
  };
  const ra = flat(used.map((s) => s.raArcsec));
  const dec = flat(used.map((s) => s.decArcsec));
  const trials = (1 / shortest - 1 / longest) * span;
  const z = -Math.log(1 - (1 - FALSE_ALARM) ** (1 / trials));
  return {
    periodS,
    ra: semiAmplitudes(t, ra.values, periodS),
    dec: semiAmplitudes(t, dec.values, periodS),
    noiseArcsec: Math.sqrt((4 * z * ra.variance) / used.length),
  };
}
