import { z } from 'zod';
import { median } from 'simple-statistics';
import { define, explained, positive, quantity, Verdict, within, type SpokenVerdict } from '../calculation/index.ts';
import { lombScargle } from '../statistics/index.ts';
import { findingsOf, Finding } from './findings.ts';
import type { Axis, LogSample } from './logSample.ts';
import { marked } from './samples.ts';
import { FALSE_ALARM, lagOne, line } from './series.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

/** Longest log read as one [samples, s]: three nights at a sample a second, and two days. */
export const MOST_SAMPLES = 200_000;
export const LONGEST_LOG_S = 172_800;

const State = z.enum(['guiding', 'settling', 'dithering', 'lost', 'off']);
const arcsec = (d: string) => quantity('″', d);
export const LogInput = z
  .strictObject({
    samples: z
      .array(
        z.strictObject({
          timeS: quantity('s', 'Since the start'),
          raArcsec: arcsec('Star minus lock, on the sky, east positive'),
          decArcsec: arcsec('Star minus lock, north positive'),
          raPulseMs: quantity('ms', 'Pulse sent, east positive').default(0),
          decPulseMs: quantity('ms', 'Pulse sent, north positive').default(0),
          snr: z.number().min(0).optional(),
          state: State.default('guiding'),
        }),
      )
      .min(10)
      .max(MOST_SAMPLES),
    imagingScaleArcsecPerPx: positive('″/px', 'Scale of the main camera').optional(),
    decDeg: within('deg', -90, 90, 'Declination').optional(),
  })
  .superRefine((v, ctx) => {
    const wrong = v.samples.findIndex((s, i) => i > 0 && s.timeS <= v.samples[i - 1]!.timeS);
    if (wrong > 0)
      ctx.addIssue({
        code: 'custom',
        path: ['samples', wrong, 'timeS'],
        message: 'times must rise from sample to sample',
      });
    const spanS = v.samples.at(-1)!.timeS - v.samples[0]!.timeS;
    if (spanS > LONGEST_LOG_S)
      ctx.addIssue({
        code: 'custom',
        path: ['samples', v.samples.length - 1, 'timeS'],
        message: `must lie within ${LONGEST_LOG_S} s (two days) of the first; one log is one night`,
      });
    const guiding = v.samples.filter((s) => s.state === 'guiding').length;
    const used = guiding || v.samples.filter((s) => s.state === 'off').length;
    if (used < 10)
      ctx.addIssue({
        code: 'custom',
        path: ['samples'],
        message: `only ${used} samples were guided; at least 10 are needed`,
      });
  });
export type LogInput = z.infer<typeof LogInput>;

const both = z.strictObject({ ra: z.number(), dec: z.number() });
export const LogOutput = z.strictObject({
  rms: z.strictObject({ ra: z.number(), dec: z.number(), total: z.number() }),
  peak: both,
  driftArcsecPerMin: both,
  lag1: both,
  dominantPeriodS: z.number().optional(),
  polarErrorArcmin: z.number().optional(),
  rmsImagingPx: z.number().optional(),
  findings: z.array(Finding),
  ...explained,
});
export type LogOutput = z.input<typeof LogOutput>;

/** What is kept of a log's reading beside its samples; one kept long ago has its sentences without codes. */
export const LogSummary = LogOutput.omit({ working: true }).extend({
  findings: z.array(Finding.partial({ phrases: true })),
  verdict: Verdict,
  samples: z.int(),
  spanS: z.number(),
});
export type LogSummary = z.infer<typeof LogSummary>;
export const summaryOfLog = (input: LogInput): LogSummary => {
  const { working: _w, ...rest } = readLog(input);
  return { ...rest, samples: input.samples.length, spanS: input.samples.at(-1)!.timeS - input.samples[0]!.timeS };
};

/** Polar error in arcminutes for a declination drift of 1″ a minute: 1436.07/(2π·60). */
const ARCMIN_PER_DRIFT = 3.81;
/** Shortest unguided span from which a polar error is said [s]. */
const POLAR_SPAN_S = 180;
const ofOneShape = (s: LogSample): LogSample =>
  ({
    timeS: s.timeS,
    raArcsec: s.raArcsec,
    decArcsec: s.decArcsec,
    raPulseMs: s.raPulseMs,
    decPulseMs: s.decPulseMs,
    snr: s.snr,
    state: s.state,
  }) as LogSample;
/** What a guide log says: scatter, drift, rhythm, and what is wrong. */
export function readLog(input: LogInput): LogOutput {
  // read many times below: objects of one shape, whatever way they came, are read several times faster
  const samples = input.samples.map(ofOneShape);
  const guided = samples.some((s) => s.state === 'guiding');
  const used = samples.map((s) => s.state === (guided ? 'guiding' : 'off'));
  const chosen = samples.filter((_, i) => used[i]);
  const cadence = median(samples.slice(1).map((s, i) => s.timeS - samples[i]!.timeS));
  const t = chosen.map((s) => s.timeS);
  const of = (axis: Axis) => {
    const v = chosen.map((s) => s[axis]);
    const fit = line(t, v);
    return {
      ...fit,
      rms: Math.sqrt(fit.variance),
      peak: v.reduce((p, x) => Math.max(p, Math.abs(x - fit.meanV)), 0),
      lag1: lagOne(samples, used, axis, cadence),
    };
  };
  const [ra, dec] = [of('raArcsec'), of('decArcsec')];
  const span = t.at(-1)! - t[0]!;
  const flat = chosen.map((s) => s.raArcsec - ra.meanV - ra.slope * (s.timeS - ra.meanT));
  const rhythm = lombScargle(t, flat, Math.max(20, 8 * cadence), span / 2);
  const dominantPeriodS = rhythm && rhythm.falseAlarm < FALSE_ALARM ? rhythm.period : undefined;
  const unguidedDec = chosen.every((s) => s.decPulseMs === 0) && span >= POLAR_SPAN_S;
  const drift = { ra: ra.slope * 60, dec: dec.slope * 60 };
  const polarErrorArcmin = unguidedDec ? ARCMIN_PER_DRIFT * Math.abs(drift.dec) : undefined;
  const total = Math.hypot(ra.rms, dec.rms);
  const masks = marked(samples);
  // nothing hangs on a hot pixel: the tests look at the very samples used above
  const same = masks.clean.every((c, i) => c === used[i]);
  const findings = findingsOf({
    samples,
    masks,
    cadence,
    ...(same ? { rhythm, lag: { raArcsec: ra.lag1, decArcsec: dec.lag1 } } : {}),
  });
  return {
    rms: { ra: ra.rms, dec: dec.rms, total },
    peak: { ra: ra.peak, dec: dec.peak },
    driftArcsecPerMin: drift,
    lag1: { ra: ra.lag1, dec: dec.lag1 },
    ...(dominantPeriodS === undefined ? {} : { dominantPeriodS }),
    ...(polarErrorArcmin === undefined ? {} : { polarErrorArcmin }),
    ...(input.imagingScaleArcsecPerPx === undefined ? {} : { rmsImagingPx: total / input.imagingScaleArcsecPerPx }),
    findings,
    working: [
      { label: 'Samples used', formula: guided ? 'state guiding' : 'state off', value: chosen.length, unit: '' },
      { label: 'Scatter', formula: '√(Σ(x − x̄)²/N), both axes in quadrature', value: total, unit: '″' },
      { label: 'Right ascension', formula: 'rms', value: ra.rms, unit: '″' },
      { label: 'Declination', formula: 'rms', value: dec.rms, unit: '″' },
      ...(rhythm
        ? [
            {
              label: 'Strongest rhythm',
              formula: 'Lomb–Scargle of RA less its line',
              value: rhythm.period,
              unit: 's',
              source: 'Scargle 1982; Press & Rybicki 1989',
            },
          ]
        : []),
      ...(polarErrorArcmin === undefined
        ? []
        : [
            {
              label: 'Polar error, at least',
              formula: '3.81·|declination drift in ″/min|',
              value: polarErrorArcmin,
              unit: '′',
            },
          ]),
    ],
    verdict: verdictOf(total, findings),
  };
}

/** Scatter that good guiding stays below, in all [″]; common practice, no source. */
export const GOOD_GUIDING_ARCSEC = 0.8;

function verdictOf(total: number, findings: z.infer<typeof Finding>[]): SpokenVerdict {
  const first = findings[0]!;
  const quality = total < 0.5 ? 'very good' : total < GOOD_GUIDING_ARCSEC ? 'good' : total < 1 ? 'usable' : 'poor';
  if (first.code === 'calm')
    return makeVerdict(total < 1 ? 'good' : 'caution', phrase('guide.log-calm', { rmsArcsec: total, quality }));
  return makeVerdict(
    findings.some((f) => f.severity === 'bad') ? 'bad' : 'caution',
    phrase('guide.log-total', { rmsArcsec: total }),
    ...first.phrases,
  );
}

export const guideLog = define({
  name: 'guide.log',
  summary: 'Scatter, drift, rhythm and faults of a guide log',
  sources: [
    'Scargle 1982, ApJ 263, 835',
    'Press & Rybicki 1989, ApJ 338, 277',
    'Limits of the findings: common practice, no source',
  ],
  input: LogInput,
  output: LogOutput,
  compute: readLog,
});
