import { median } from 'simple-statistics';
import type { Axis, LogSample } from './logSample.ts';

/** A spot that stands still: a hot pixel does, and a star on a superb mount nearly does. What tells them apart is an answer. */
export type Stillness = 'none' | 'lock' | 'suspect';

/** Samples over which a spot has to stand still. */
const WINDOW = 20;
/** Scatter no star through ordinary air has [″]; a superb mount on a superb night comes near it. */
const STILL_ARCSEC = 0.08;
/** A still spot goes on over a gap shorter than this [s]. */
const BRIDGE_S = 120;
/** A collapse: the rest of the log scatters so many times more. With fewer samples than that the rest says nothing. */
const COLLAPSE = 2;
const REST_SAMPLES = 40;
/** A dither is seen when the spot goes this far from its place: times its scatter, and at least [″]. */
const EXCURSION = { scatters: 6, least: 0.5 } as const;
/** After a dither the spot is back when the middle of so many samples lies within this many scatters, or [″]. */
const BACK = { samples: 8, scatters: 3, least: 0.3 } as const;
/** Pulses are answered when neighbours are opposed beyond chance: standard errors of the mean product. */
const ANSWERED_Z = 2.5;
const AXES: readonly Axis[] = ['raArcsec', 'decArcsec'];

/** Standard deviation over every window of so many values, by running sums; index is the window's first value. */
function windowScatter(v: readonly number[], width: number): number[] {
  const out: number[] = [];
  const base = v[0] ?? 0;
  let [sum, squares] = [0, 0];
  for (let i = 0; i < v.length; i++) {
    const x = v[i]! - base;
    sum += x;
    squares += x * x;
    if (i >= width) {
      const old = v[i - width]! - base;
      sum -= old;
      squares -= old * old;
    }
    if (i >= width - 1) out.push(Math.sqrt(Math.max(0, squares / width - (sum / width) ** 2)));
  }
  return out;
}

/** Scatter of some samples about their own middle, by the median of distances, worse axis. */
function scatterOf(samples: readonly LogSample[], axis: Axis): number {
  const v = samples.map((s) => s[axis]);
  const middle = median(v);
  return 1.4826 * median(v.map((x) => Math.abs(x - middle)));
}

/** Samples that hardly move for a window or more, short interruptions bridged. */
function stillSamples(samples: readonly LogSample[]): boolean[] {
  const seen: number[] = [];
  for (let i = 0; i < samples.length; i++) if (samples[i]!.state !== 'lost') seen.push(i);
  const [ra, dec] = AXES.map((axis) =>
    windowScatter(
      seen.map((i) => samples[i]![axis]),
      WINDOW,
    ),
  ) as [number[], number[]];
  const still = samples.map(() => false);
  ra.forEach((r, k) => {
    if (r < STILL_ARCSEC && dec[k]! < STILL_ARCSEC) for (let j = k; j < k + WINDOW; j++) still[seen[j]!] = true;
  });
  let last = -1;
  still.forEach((on, i) => {
    if (!on) return;
    if (last >= 0 && i > last + 1 && samples[i]!.timeS - samples[last]!.timeS < BRIDGE_S)
      for (let j = last + 1; j < i; j++) still[j] = true;
    last = i;
  });
  return still;
}

/** Whether the spot went with the dithers inside or right after the span: away and back. Null: there was none to see. */
function followsDithers(samples: readonly LogSample[], from: number, to: number, scatter: number): boolean | null {
  const away = Math.max(EXCURSION.least, EXCURSION.scatters * scatter);
  const near = Math.max(BACK.least, BACK.scatters * scatter);
  let [followed, ignored] = [0, 0];
  for (let i = from; i < samples.length; i++) {
    if (samples[i]!.state !== 'dithering' || samples[i - 1]?.state === 'dithering') continue;
    const end = samples.findIndex((s, k) => k > i && s.state !== 'dithering' && s.state !== 'settling');
    const after = samples.slice(end, end + BACK.samples).filter((s) => s.state !== 'lost');
    if (end < 0 || after.length < BACK.samples) break;
    const moved = samples.slice(i, end).some((s) => Math.hypot(s.raArcsec, s.decArcsec) > away);
    const back = AXES.every((axis) => Math.abs(median(after.map((s) => s[axis]))) < near);
    if (moved && back) followed++;
    else ignored++;
    // the first dither after the span still tells of the spot in it
    if (i > to) break;
  }
  return followed + ignored === 0 ? null : followed > ignored;
}

/** Whether pulses bring the spot back: corrections of what is only noise oppose neighbours. Null: there were none. */
function answersPulses(span: readonly LogSample[]): boolean | null {
  let [product, square, pairs] = [0, 0, 0];
  for (const [axis, pulse] of [
    ['raArcsec', 'raPulseMs'],
    ['decArcsec', 'decPulseMs'],
  ] as const) {
    const middle = median(span.map((s) => s[axis]));
    for (let i = 1; i < span.length; i++) {
      if (span[i - 1]![pulse] === 0) continue;
      product += (span[i]![axis] - middle) * (span[i - 1]![axis] - middle);
      square += ((span[i]![axis] - middle) ** 2 + (span[i - 1]![axis] - middle) ** 2) / 2;
      pairs++;
    }
  }
  if (pairs < WINDOW || square === 0) return null;
  return (product / square) * Math.sqrt(pairs) < -ANSWERED_Z;
}

/**
 * Which samples hang on something that stands still, and whether it can be told. The scatter must collapse against the
 * rest of the log; then dithers decide, then pulses. A log that has neither cannot tell a hot pixel from a superb mount.
 */
export function stillSpot(samples: readonly LogSample[]): { still: boolean[]; stillness: Stillness } {
  const still = stillSamples(samples);
  const inside = samples.filter((_, i) => still[i]);
  const none = { still: samples.map(() => false), stillness: 'none' as const };
  if (inside.length === 0) return none;
  const scatter = Math.max(...AXES.map((a) => scatterOf(inside, a)));
  const rest = samples.filter((s, i) => !still[i] && (s.state === 'guiding' || s.state === 'off'));
  if (rest.length >= REST_SAMPLES && Math.max(...AXES.map((a) => scatterOf(rest, a))) < COLLAPSE * scatter) return none;
  const [from, to] = [still.indexOf(true), still.lastIndexOf(true)];
  const hasDithers = samples.some((s) => s.state === 'dithering');
  const hasPulses = samples.some((s) => s.raPulseMs !== 0 || s.decPulseMs !== 0);
  const answer = followsDithers(samples, from, to, scatter) ?? answersPulses(inside);
  if (answer === true) return none;
  if (answer === false) return { still, stillness: 'lock' };
  // the rest of the night had to be corrected, and this spot never
  if (hasDithers || hasPulses) return { still, stillness: rest.length >= REST_SAMPLES ? 'lock' : 'suspect' };
  return { still, stillness: 'suspect' };
}
