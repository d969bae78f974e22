import { median, quantile } from 'simple-statistics';
import { z } from 'zod';
import { lombScargle, MAD_TO_SIGMA, runningMedian, type Rhythm } from '../statistics/index.ts';
import type { Axis, LogSample, Pulse } from './logSample.ts';
import type { Masks } from './samples.ts';
import { FALSE_ALARM, lagOne, line } from './series.ts';
import { phrase, words } from '../phrases/index.ts';
import { PhraseSchema } from '../calculation/index.ts';

export const Finding = z.strictObject({
  code: z.enum([
    'hot-pixel-lock',
    'hot-pixel-suspect',
    'over-correction-ra',
    'over-correction-dec',
    'dec-backlash',
    'cloud',
    'gust',
    'periodic-error',
    'polar-drift',
    'star-lost',
    'calm',
  ]),
  severity: z.enum(['good', 'caution', 'bad']),
  evidence: z.string(),
  advice: z.string(),
  /** Evidence and advice as codes and values. */
  phrases: z.tuple([PhraseSchema, PhraseSchema]),
});
export type Finding = z.infer<typeof Finding>;

/** A finding from its values; what to do is the book's entry of the same name with `-advice`. */
function finding(
  code: Finding['code'],
  severity: Finding['severity'],
  values: Record<string, number> = {},
  advice: Finding['code'] | 'star-lost-often' = code,
  seen: 'pulses' | 'unseen' = 'pulses',
): Finding {
  const evidence =
    seen === 'unseen' && (code === 'over-correction-ra' || code === 'over-correction-dec')
      ? phrase(`log.${code}-by-errors`, values)
      : phrase(`log.${code}`, values);
  const phrases: Finding['phrases'] = [evidence, phrase(`log.${advice}-advice`)];
  return { code, severity, evidence: words(phrases[0]), advice: words(phrases[1]), phrases };
}

interface Log {
  samples: readonly LogSample[];
  masks: Masks;
  cadence: number;
  /** The strongest rhythm of right ascension, where it is already known for the same samples. */
  rhythm?: Rhythm | null;
  /** Likewise the products of neighbours. */
  lag?: Record<Axis, number>;
}
/** Thresholds, by simulated faults; common practice, no source. */
const OVER = { lag: -0.55, alternating: 0.75, pairs: 30 } as const;
/** Declination that hangs: neighbours alike beyond `lag`; `run` pulses one way that leave the error at `left` of itself, so often each way and in all. By simulated faults; common practice, no source. */
const BACKLASH = { lag: 0.35, run: 5, left: 0.75, each: 2, all: 5 } as const;
/** How far the level exceeded by 15 % of a normal scatter lies above its middle [σ]. */
const TOP_SIGMA = 1.036;
/** Cloud: the running middle of so many samples falls below a share of the clear level, which is the quantile `top`, for so many samples on end. By simulated faults; common practice, no source. */
const CLOUD = { median: 7, share: 0.5, samples: 8, top: 0.85 } as const;
/** A step of time beyond so many cadences is a gap. */
const PAUSE_CADENCES = 2.5;
/** Gusts: beyond so many scatters from a running middle of half so many samples, each at most so long, at least so many, and rare. By simulated faults; common practice, no source. */
const GUST = { sigma: 6, half: 25, longestS: 45, least: 2, share: 0.15 } as const;
/** A rhythm is periodic error from so many cycles, half so large [″], with such a share of the scatter. Common practice, no source. */
const WORM = { cycles: 3, semiArcsec: 0.3, share: 0.25 } as const;
/** A drift is polar error from so much a minute [″/min], when it adds up to so many scatters. Common practice, no source. */
const POLAR = { arcsecPerMin: 0.3, scatters: 3 } as const;
/** From so many lost samples on the star, not chance, is to blame. */
const LOST_OFTEN = 3;

/** Everything that is wrong, worst first; `calm` alone when nothing is. */
export function findingsOf(log: Log): Finding[] {
  const found = [
    hotPixel(log),
    ...overCorrection(log),
    backlash(log),
    cloud(log),
    gust(log),
    worm(log),
    polar(log),
    lost(log),
  ].filter((f): f is Finding => f !== null);
  if (found.length) return found;
  return [finding('calm', 'good')];
}

const hasPulses = (samples: readonly LogSample[]) => samples.some((s) => s.raPulseMs !== 0 || s.decPulseMs !== 0);

function hotPixel({ samples, masks }: Log): Finding | null {
  const spanOfRun = (at: number, n: number) => ({ fromS: Math.round(samples[at]!.timeS), samples: n });
  const count = (mask: readonly boolean[]) => mask.filter(Boolean).length;
  const at = masks.locked.indexOf(true);
  if (at >= 0) return finding('hot-pixel-lock', 'bad', spanOfRun(at, count(masks.locked)));
  const maybe = masks.suspected.indexOf(true);
  return maybe < 0 ? null : finding('hot-pixel-suspect', 'caution', spanOfRun(maybe, count(masks.suspected)));
}

function overCorrection(log: Log): (Finding | null)[] {
  const of = (axis: Axis, pulse: Pulse, code: 'over-correction-ra' | 'over-correction-dec'): Finding | null => {
    const { samples, masks, cadence } = log;
    const lag = log.lag?.[axis] ?? lagOne(samples, masks.clean, axis, cadence);
    let [pairs, turned] = [0, 0];
    if (!hasPulses(samples)) {
      // without pulse columns the errors themselves tell: over-corrected ones change sides
      for (let i = 1; i < samples.length; i++) {
        if (!masks.clean[i] || !masks.clean[i - 1]) continue;
        pairs++;
        if (samples[i - 1]![axis] * samples[i]![axis] < 0) turned++;
      }
      if (!(lag < OVER.lag && pairs >= OVER.pairs && turned > OVER.alternating * pairs)) return null;
      return finding(code, 'bad', { lag, turnedPercent: (100 * turned) / pairs }, code, 'unseen');
    }
    for (let i = 1; i < samples.length; i++) {
      const [a, b] = [samples[i - 1]![pulse], samples[i]![pulse]];
      if (!masks.clean[i] || !masks.clean[i - 1] || a === 0 || b === 0) continue;
      pairs++;
      if (a * b < 0) turned++;
    }
    if (!(lag < OVER.lag && pairs >= OVER.pairs && turned > OVER.alternating * pairs)) return null;
    return finding(code, 'bad', { lag, undonePercent: (100 * turned) / pairs });
  };
  return [of('raArcsec', 'raPulseMs', 'over-correction-ra'), of('decArcsec', 'decPulseMs', 'over-correction-dec')];
}

function backlash({ samples, masks, cadence, lag: known }: Log): Finding | null {
  const lag = known?.decArcsec ?? lagOne(samples, masks.clean, 'decArcsec', cadence);
  if (!(lag > BACKLASH.lag)) return null;
  const runs = { north: 0, south: 0 };
  let [begin, sign] = [-1, 0];
  const close = (end: number) => {
    if (begin >= 0 && end - begin >= BACKLASH.run) {
      const first = samples[begin]!.decArcsec;
      const later = samples[Math.min(end - 1, begin + BACKLASH.run - 1)]!.decArcsec;
      if (first * later > 0 && Math.abs(later) >= BACKLASH.left * Math.abs(first)) runs[sign > 0 ? 'north' : 'south']++;
    }
    begin = -1;
  };
  samples.forEach((s, i) => {
    const now = masks.withSettling[i] ? Math.sign(s.decPulseMs) : 0;
    if (now !== 0 && now === sign && begin >= 0) return;
    close(i);
    sign = now;
    if (now !== 0) begin = i;
  });
  close(samples.length);
  if (runs.north < BACKLASH.each || runs.south < BACKLASH.each || runs.north + runs.south < BACKLASH.all) return null;
  return finding('dec-backlash', 'caution', runs);
}

function cloud({ samples, masks }: Log): Finding | null {
  const rows: { snr: number; t: number }[] = [];
  for (let i = 0; i < samples.length; i++) {
    const { snr, state, timeS } = samples[i]!;
    if (snr !== undefined && state !== 'lost' && !masks.locked[i]) rows.push({ snr, t: timeS });
  }
  if (rows.length < 2 * CLOUD.samples) return null;
  const snr = rows.map((r) => r.snr);
  const top = quantile(snr, CLOUD.top);
  // scintillation spreads the signal from sample to sample: the clear level lies below the bright ones by that much
  const flicker = (MAD_TO_SIGMA * median(snr.slice(1).map((v, i) => Math.abs(v - snr[i]!)))) / Math.SQRT2;
  const limit = CLOUD.share * Math.max(top / 2, top - TOP_SIGMA * flicker);
  // a middle below the limit needs half a window below it
  if (snr.reduce((n, x) => n + (x < limit ? 1 : 0), 0) < CLOUD.median / 2) return null;
  const near = runningMedian(snr, (CLOUD.median - 1) / 2);
  let [run, longest, at] = [0, 0, 0];
  rows.forEach((_, i) => {
    run = near[i]! < limit ? run + 1 : 0;
    if (run > longest) [longest, at] = [run, i - run + 1];
  });
  if (longest < CLOUD.samples) return null;
  return finding('cloud', 'caution', { fromS: Math.round(rows[at]!.t), samples: longest });
}

/** What comes right after a gap or a pause is the star being found again, no wind: so many samples are left out. */
const AFTER_PAUSE = 4;
function afterPause(samples: readonly LogSample[], cadence: number): boolean[] {
  let left = 0;
  return samples.map((s, i) => {
    const before = samples[i - 1];
    const paused =
      before &&
      (s.timeS - before.timeS > PAUSE_CADENCES * cadence ||
        before.state === 'lost' ||
        before.state === 'dithering' ||
        before.state === 'settling' ||
        before.state === 'off');
    if (paused && s.state !== before.state) left = AFTER_PAUSE;
    else if (paused && s.timeS - before.timeS > PAUSE_CADENCES * cadence) left = AFTER_PAUSE;
    return left-- > 0;
  });
}

/** Neighbours more alike than this are no guided axis: what drifts or swings by itself carries its own past with it. */
const UNHELD_LAG = 0.8;
/** Whether guiding holds an axis: only there is an excursion a gust. Drift and an uncorrected worm leave the running middle too. */
function held(samples: readonly LogSample[], masks: Masks, axis: Axis, cadence: number): boolean {
  const pulse = axis === 'raArcsec' ? 'raPulseMs' : 'decPulseMs';
  if (samples.some((s, i) => masks.clean[i] && s[pulse] !== 0)) return true;
  return !hasPulses(samples) && lagOne(samples, masks.clean, axis, cadence) < UNHELD_LAG;
}

function gust({ samples, masks, cadence }: Log): Finding | null {
  const fresh = afterPause(samples, cadence);
  const at: number[] = [];
  for (let i = 0; i < samples.length; i++) if (masks.clean[i] && !fresh[i]) at.push(i);
  if (at.length < 2 * GUST.half) return null;
  const out = new Set<number>();
  for (const axis of ['raArcsec', 'decArcsec'] as const) {
    if (!held(samples, masks, axis, cadence)) continue;
    const v = at.map((i) => samples[i]![axis]);
    const middle = runningMedian(v, GUST.half);
    const away = v.map((x, k) => Math.abs(x - middle[k]!));
    const limit = GUST.sigma * MAD_TO_SIGMA * median(away);
    for (let k = 0; k < away.length; k++) if (away[k]! > limit) out.add(k);
  }
  const places = [...out].sort((a, b) => a - b);
  if (places.length === 0 || places.length > GUST.share * at.length) return null;
  const time = (k: number) => samples[at[k]!]!.timeS;
  const bursts: [number, number][] = [];
  for (const k of places) {
    const last = bursts.at(-1);
    if (last && time(k) - last[1] <= GUST.longestS / 3) last[1] = time(k);
    else bursts.push([time(k), time(k)]);
  }
  const short = bursts.filter(([a, b]) => b - a <= GUST.longestS);
  if (short.length < GUST.least) return null;
  return finding('gust', 'caution', { bursts: short.length, fromS: Math.round(short[0]![0]) });
}

function worm({ samples, masks, cadence, rhythm }: Log): Finding | null {
  const clean = samples.filter((_, i) => masks.clean[i]);
  if (clean.length < 30) return null;
  const t = clean.map((s) => s.timeS);
  const v = clean.map((s) => s.raArcsec);
  const fit = line(t, v);
  const flat = v.map((x, i) => x - fit.meanV - fit.slope * (t[i]! - fit.meanT));
  const span = t.at(-1)! - t[0]!;
  const r = rhythm === undefined ? lombScargle(t, flat, Math.max(20, 8 * cadence), span / 2) : rhythm;
  if (!r || r.falseAlarm >= FALSE_ALARM || span / r.period < WORM.cycles) return null;
  const variance = flat.reduce((s, x) => s + x * x, 0) / flat.length;
  if (r.semiAmplitude < WORM.semiArcsec || r.semiAmplitude ** 2 / 2 < WORM.share * variance) return null;
  return finding('periodic-error', 'caution', {
    semiArcsec: r.semiAmplitude,
    periodS: Math.round(r.period),
    turns: Math.round(span / r.period),
  });
}

function polar({ samples, masks }: Log): Finding | null {
  const clean = samples.filter((_, i) => masks.clean[i]);
  // columns that are absent say nothing about guiding: unguided is known from the other axis’ pulses, or said by the state
  const unguided = clean.every((s) => s.state === 'off') || clean.some((s) => s.raPulseMs !== 0);
  if (clean.length < 10 || !unguided || clean.some((s) => s.decPulseMs !== 0)) return null;
  const t = clean.map((s) => s.timeS);
  const v = clean.map((s) => s.decArcsec);
  const fit = line(t, v);
  const perMin = 60 * fit.slope;
  const scatter = Math.sqrt(
    v.reduce((s, x, i) => s + (x - fit.meanV - fit.slope * (t[i]! - fit.meanT)) ** 2, 0) / v.length,
  );
  const total = Math.abs(fit.slope) * (t.at(-1)! - t[0]!);
  if (Math.abs(perMin) < POLAR.arcsecPerMin || total < POLAR.scatters * scatter) return null;
  return finding('polar-drift', 'caution', { perMinuteArcsec: perMin, polarArcmin: 3.81 * Math.abs(perMin) });
}

function lost({ samples }: Log): Finding | null {
  const rows = samples.filter((s) => s.state === 'lost');
  const first = rows[0];
  if (!first) return null;
  const often = rows.length >= LOST_OFTEN;
  return finding(
    'star-lost',
    often ? 'bad' : 'caution',
    { samples: rows.length, fromS: Math.round(first.timeS) },
    often ? 'star-lost-often' : 'star-lost',
  );
}
