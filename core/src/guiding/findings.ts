import { median, quantileSorted } from 'simple-statistics';
import { z } from 'zod';
import { lombScargle, MAD_TO_SIGMA, runningMedian, type Rhythm } from '../statistics/index.ts';
import type { Axis, LogSample, Masks, Pulse } from './samples.ts';
import { FALSE_ALARM, lagOne, line } from './series.ts';

export const Finding = z.strictObject({
  code: z.enum([
    'hot-pixel-lock',
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
});
export type Finding = z.infer<typeof Finding>;

interface Log {
  samples: readonly LogSample[];
  masks: Masks;
  cadence: number;
  /** The strongest rhythm of right ascension, where it is already known for the same samples. */
  rhythm?: Rhythm | null;
}
/** Thresholds, by simulated faults; common practice, no source. */
const OVER = { lag: -0.55, alternating: 0.75, pairs: 30 } as const;
const BACKLASH = { lag: 0.35, run: 5, left: 0.75, each: 2, all: 5 } as const;
const CLOUD = { median: 7, share: 0.5, samples: 8, top: 0.85 } as const;
const GUST = { sigma: 6, half: 25, longestS: 45, least: 2, share: 0.15 } as const;
const WORM = { cycles: 3, semiArcsec: 0.3, share: 0.25 } as const;
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
  return [
    { code: 'calm', severity: 'good', evidence: 'No fault stands out.', advice: 'Leave the settings as they are.' },
  ];
}

function hotPixel({ samples, masks }: Log): Finding | null {
  const at = masks.locked.indexOf(true);
  if (at < 0) return null;
  const n = masks.locked.filter(Boolean).length;
  return {
    code: 'hot-pixel-lock',
    severity: 'bad',
    evidence: `From ${samples[at]!.timeS.toFixed(0)} s, ${n} samples hardly move: no star through air is so still, and this one answers neither pulses nor dithers.`,
    advice:
      'The guider hangs on a hot pixel while the mount runs away: choose another star, and use a dark frame or a bad-pixel map.',
  };
}

function overCorrection(log: Log): (Finding | null)[] {
  const of = (
    axis: Axis,
    pulse: Pulse,
    code: 'over-correction-ra' | 'over-correction-dec',
    name: string,
  ): Finding | null => {
    const { samples, masks, cadence } = log;
    const lag = lagOne(samples, masks.clean, axis, cadence);
    let [pairs, turned] = [0, 0];
    for (let i = 1; i < samples.length; i++) {
      const [a, b] = [samples[i - 1]![pulse], samples[i]![pulse]];
      if (!masks.clean[i] || !masks.clean[i - 1] || a === 0 || b === 0) continue;
      pairs++;
      if (a * b < 0) turned++;
    }
    if (!(lag < OVER.lag && pairs >= OVER.pairs && turned > OVER.alternating * pairs)) return null;
    return {
      code,
      severity: 'bad',
      evidence: `${name} swings from side to side: neighbours correlate at ${lag.toFixed(2)}, ${Math.round((100 * turned) / pairs)} % of the pulses undo the one before.`,
      advice: 'Let a smaller share of each error be corrected on this axis, or lengthen the guide exposure.',
    };
  };
  return [
    of('raArcsec', 'raPulseMs', 'over-correction-ra', 'Right ascension'),
    of('decArcsec', 'decPulseMs', 'over-correction-dec', 'Declination'),
  ];
}

function backlash({ samples, masks, cadence }: Log): Finding | null {
  const lag = lagOne(samples, masks.clean, 'decArcsec', cadence);
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
  return {
    code: 'dec-backlash',
    severity: 'caution',
    evidence: `${runs.north} runs of northward and ${runs.south} of southward pulses moved nothing before the star jumped.`,
    advice:
      'Declination has play: guide it in one direction only against a slight drift, balance it a little heavy on one side, or have the gears adjusted.',
  };
}

function cloud({ samples, masks }: Log): Finding | null {
  const rows = samples.flatMap((s, i) =>
    s.snr !== undefined && s.state !== 'lost' && !masks.locked[i] ? [{ snr: s.snr, t: s.timeS }] : [],
  );
  if (rows.length < 2 * CLOUD.samples) return null;
  const limit =
    CLOUD.share *
    quantileSorted(
      rows.map((r) => r.snr).sort((a, b) => a - b),
      CLOUD.top,
    );
  const near = runningMedian(
    rows.map((r) => r.snr),
    (CLOUD.median - 1) / 2,
  );
  let [run, longest, at] = [0, 0, 0];
  rows.forEach((_, i) => {
    run = near[i]! < limit ? run + 1 : 0;
    if (run > longest) [longest, at] = [run, i - run + 1];
  });
  if (longest < CLOUD.samples) return null;
  return {
    code: 'cloud',
    severity: 'caution',
    evidence: `From ${rows[at]!.t.toFixed(0)} s the star kept less than half its signal for ${longest} samples.`,
    advice: 'Cloud or dew: look at the sky and the lens; frames of that spell deserve a second look.',
  };
}

function gust({ samples, masks }: Log): Finding | null {
  const at = samples.flatMap((_, i) => (masks.clean[i] ? [i] : []));
  if (at.length < 2 * GUST.half) return null;
  const out = new Set<number>();
  for (const axis of ['raArcsec', 'decArcsec'] as const) {
    const v = at.map((i) => samples[i]![axis]);
    const middle = runningMedian(v, GUST.half);
    const rest = v.map((x, k) => x - middle[k]!);
    const sigma = MAD_TO_SIGMA * median(rest.map(Math.abs));
    rest.forEach((r, k) => {
      if (Math.abs(r) > GUST.sigma * sigma) out.add(k);
    });
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
  return {
    code: 'gust',
    severity: 'caution',
    evidence: `${short.length} short bursts far beyond the usual scatter, the first at ${short[0]![0].toFixed(0)} s.`,
    advice:
      'Wind, a cable that catches, or steps on the ground: shelter the tube, tie the cables; lost frames rather than settings.',
  };
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
  return {
    code: 'periodic-error',
    severity: 'caution',
    evidence: `Right ascension swings ±${r.semiAmplitude.toFixed(2)}″ every ${r.period.toFixed(0)} s over ${(span / r.period).toFixed(0)} turns.`,
    advice:
      'The worm shows through: train periodic-error correction, shorten the guide exposure, or let a little more of each error be corrected in right ascension.',
  };
}

function polar({ samples, masks }: Log): Finding | null {
  const clean = samples.filter((_, i) => masks.clean[i]);
  if (clean.length < 10 || clean.some((s) => s.decPulseMs !== 0)) return null;
  const t = clean.map((s) => s.timeS);
  const v = clean.map((s) => s.decArcsec);
  const fit = line(t, v);
  const perMin = 60 * fit.slope;
  const scatter = Math.sqrt(
    v.reduce((s, x, i) => s + (x - fit.meanV - fit.slope * (t[i]! - fit.meanT)) ** 2, 0) / v.length,
  );
  const total = Math.abs(fit.slope) * (t.at(-1)! - t[0]!);
  if (Math.abs(perMin) < POLAR.arcsecPerMin || total < POLAR.scatters * scatter) return null;
  return {
    code: 'polar-drift',
    severity: 'caution',
    evidence: `Declination, unguided, drifts ${perMin.toFixed(2)}″ a minute: a polar error of at least ${(3.81 * Math.abs(perMin)).toFixed(1)}′.`,
    advice:
      'Align the polar axis again; one measurement sees only the part across this hour circle, so take a second one six hours of right ascension away.',
  };
}

function lost({ samples }: Log): Finding | null {
  const rows = samples.filter((s) => s.state === 'lost');
  const first = rows[0];
  if (!first) return null;
  const often = rows.length >= LOST_OFTEN;
  return {
    code: 'star-lost',
    severity: often ? 'bad' : 'caution',
    evidence: `The star was lost for ${rows.length} ${rows.length === 1 ? 'sample' : 'samples'}, first at ${first.timeS.toFixed(0)} s.`,
    advice: often
      ? 'A brighter star, a longer exposure, or cloud: compare with the signal before it.'
      : 'So few spoil nothing by themselves; look at the signal there if it happens every night.',
  };
}
