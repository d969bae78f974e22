import { z } from 'zod';
import { median } from 'simple-statistics';
import { atLeastZero, define, explained, instant, InvalidInput, positive, quantity } from '../calculation/index.ts';
import { huberFit, mean, studentFactor } from '../statistics/index.ts';
import type { SpokenVerdict, WorkingStep } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

export const FocusRunPoint = z.strictObject({
  filter: z.string().min(1).max(40),
  position: quantity('steps', 'Best focus of the run'),
  temperatureC: quantity('°C', 'Temperature of the tube').optional(),
  time: instant('When the run was taken').optional(),
  hfd: positive('px', 'Smallest diameter reached').optional(),
  weight: positive('', 'Weight of the run').optional(),
});
export type FocusRunPoint = z.infer<typeof FocusRunPoint>;

export const DriftModel = z.enum(['temperature', 'time', 'both', 'none']);
export type DriftModel = z.infer<typeof DriftModel>;

/** Noise of a usual focuser’s thermometer [°C]; common practice, no source. */
export const THERMOMETER_NOISE_C = 0.2;

export const OffsetsInput = z.strictObject({
  runs: z.array(FocusRunPoint).min(1).max(5000),
  reference: z.string().min(1).meta({ description: 'Filter whose offset is 0' }),
  model: DriftModel.default('temperature'),
  criticalZoneSteps: positive('steps', 'Whole depth of the critical focus zone').optional(),
  thermometerNoiseC: atLeastZero('°C', 'Noise of one reading of the thermometer').default(THERMOMETER_NOISE_C),
});
export type OffsetsInput = z.infer<typeof OffsetsInput>;

const Offset = z.strictObject({
  steps: z.number(),
  error: z.number(),
  /** Half the 95 % interval: Student’s factor for few runs, and what an uncertain thermometer adds. */
  interval95: z.number(),
  runs: z.int(),
});

export const OffsetsOutput = z.strictObject({
  offsets: z.record(z.string(), Offset),
  temperatureStepsPerC: z.number().optional(),
  temperatureError: z.number().optional(),
  driftStepsPerHour: z.number().optional(),
  driftError: z.number().optional(),
  /** Position of the reference filter at the mean temperature (and time). */
  referencePosition: z.number(),
  meanTemperatureC: z.number().optional(),
  residualSteps: z.number(),
  residuals: z.array(z.number()),
  naiveOffsets: z.record(z.string(), z.number()),
  outliers: z.array(z.int()),
  parfocal: z.array(z.array(z.string())).optional(),
  refocusEveryC: z.number().optional(),
  ...explained,
});
export type OffsetsOutput = z.input<typeof OffsetsOutput>;

/** Share of a covariate's sum of squares that must be left after taking off each filter's own mean. */
const LEFT_WITHIN_FILTERS = 0.02;
/** Beyond this correlation temperature and time cannot be told apart. */
const INSEPARABLE = 0.995;
/** Runs farther out than this many robust σ are outliers. */
const OUTLIER_SIGMA = 4;

/** More filters than any wheel holds: the fit’s cost grows with their cube. */
const MOST_FILTERS = 60;

/** Values less their own filter's mean. */
function withinFilters(values: number[], filters: string[]): number[] {
  const groups = new Map<string, number[]>();
  filters.forEach((f, i) => groups.set(f, [...(groups.get(f) ?? []), values[i]!]));
  const means = new Map([...groups].map(([f, v]) => [f, mean(v)]));
  return values.map((v, i) => v - means.get(filters[i]!)!);
}

const squares = (v: readonly number[]) => v.reduce((s, x) => s + x * x, 0);

interface Covariate {
  name: 'temperature' | 'time';
  /** Centred values: °C, or hours. */
  values: number[];
  mean: number;
}

function covariate(name: Covariate['name'], raw: number[], filters: string[]): Covariate {
  const m = mean(raw);
  const values = raw.map((v) => v - m);
  const total = squares(values);
  const left = squares(withinFilters(values, filters));
  const spread = Math.max(...values) - Math.min(...values);
  if (spread < 1e-9 || left < LEFT_WITHIN_FILTERS * total)
    throw InvalidInput.at(
      'runs',
      spread < 1e-9
        ? `${name} is the same in every run, so its effect cannot be found: choose model "none"`
        : `${name} and filter cannot be told apart: every filter was taken at its own ${name}. Return to an earlier filter later in the night, or choose another model`,
    );
  return { name, values, mean: m };
}

function covariates(input: Pick<OffsetsInput, 'runs' | 'model'>, filters: string[]): Covariate[] {
  const wants = (name: Covariate['name']) => input.model === name || input.model === 'both';
  const need = <T>(name: string, get: (r: FocusRunPoint) => T | undefined): T[] =>
    input.runs.map((r, i) => {
      const v = get(r);
      if (v === undefined) throw InvalidInput.at(`runs.${i}`, `has no ${name}, which the model "${input.model}" needs`);
      return v;
    });
  const list: Covariate[] = [];
  if (wants('temperature'))
    list.push(
      covariate(
        'temperature',
        need('temperatureC', (r) => r.temperatureC),
        filters,
      ),
    );
  if (wants('time'))
    list.push(
      covariate(
        'time',
        need('time', (r) => r.time).map((t) => Date.parse(t) / 3_600_000),
        filters,
      ),
    );
  if (list.length === 2) {
    const [a, b] = list.map((c) => withinFilters(c.values, filters)) as [number[], number[]];
    const r = a.reduce((s, v, i) => s + v * b[i]!, 0) / Math.sqrt(squares(a) * squares(b));
    if (Math.abs(r) > INSEPARABLE)
      throw InvalidInput.at(
        'model',
        `temperature and time moved together (correlation ${r.toFixed(4)}): choose one of them`,
      );
  }
  return list;
}

/** Share of a temperature spread that is truly temperature; below it the slope rests on small differences. */
const RELIABLE = 0.9;
/** Beyond that a slope says nothing; an interval needs a number. */
const MOST_FLAT = 20;

/**
 * A noisy thermometer draws the slope too flat: by the share of its noise in the spread within the filters. Null where
 * that hardly matters. Source: attenuation by errors in the regressor, textbook.
 */
function shrinking(extra: readonly Covariate[], filters: string[], nFilters: number, noiseC: number) {
  const t = extra.find((c) => c.name === 'temperature');
  if (!t || noiseC === 0) return null;
  const within = withinFilters(t.values, filters);
  const dof = Math.max(1, within.length - nFilters);
  const variance = squares(within) / dof;
  if (noiseC ** 2 / variance <= 1 - RELIABLE) return null;
  // few runs know their spread badly: how flat the slope may have been drawn is taken at the spread’s lower end
  const lower = (variance * dof) / (dof + 1.645 * Math.sqrt(2 * dof));
  const reliable = 1 - noiseC ** 2 / lower;
  return {
    spreadC: Math.sqrt(variance),
    noiseC,
    tooFlat: reliable > 0 ? Math.min(MOST_FLAT, (1 - reliable) / reliable) : MOST_FLAT,
  };
}

/** Groups of two or more whose every pair differs, its 95 % interval included, by less than half the zone. */
function parfocalGroups(
  order: string[],
  steps: number[],
  cov: (a: number, b: number) => number,
  zone: number,
  factor: number,
) {
  const byOffset = order.map((_, i) => i).sort((a, b) => steps[a]! - steps[b]! || a - b);
  const near = (a: number, b: number) => {
    const variance = cov(a, a) + cov(b, b) - 2 * cov(a, b);
    return Math.abs(steps[a]! - steps[b]!) + factor * Math.sqrt(Math.max(0, variance)) < zone / 2;
  };
  const groups: number[][] = [];
  const taken = new Set<number>();
  for (const first of byOffset) {
    if (taken.has(first)) continue;
    const group = [first];
    for (const other of byOffset)
      if (other !== first && !taken.has(other) && !group.includes(other) && group.every((g) => near(g, other)))
        group.push(other);
    group.forEach((g) => taken.add(g));
    if (group.length > 1) groups.push(group);
  }
  return groups.map((g) => [...g].sort((a, b) => a - b).map((i) => order[i]!));
}

/**
 * Filter offsets separated from temperature (or time) by one robust fit over all runs.
 * position = μ + offset[filter] + k·(T − T̄) + h·(t − t̄), reference offset 0.
 */
export function offsets(
  input: Omit<OffsetsInput, 'thermometerNoiseC'> & { thermometerNoiseC?: number },
): OffsetsOutput {
  const { runs, reference, criticalZoneSteps } = input;
  const filters = runs.map((r) => r.filter);
  const order = [...new Set(filters)];
  if (!order.includes(reference))
    throw InvalidInput.at('reference', `no run was taken through “${reference}”; there are ${order.join(', ')}`);
  if (order.length > MOST_FILTERS)
    throw InvalidInput.at('runs', `name ${order.length} filters; one camera has at most ${MOST_FILTERS}`);
  const others = order.filter((f) => f !== reference);
  const unknowns = 1 + others.length + (input.model === 'both' ? 2 : input.model === 'none' ? 0 : 1);
  if (runs.length < unknowns + 1)
    throw InvalidInput.at(
      'runs',
      `${runs.length} runs cannot settle ${unknowns} unknowns: at least ${unknowns + 1} are needed`,
    );
  const extra = covariates(input, filters);

  const centre = median(runs.map((r) => r.position));
  const rows = runs.map((r, i) => [
    1,
    ...others.map((f) => (f === r.filter ? 1 : 0)),
    ...extra.map((c) => c.values[i]!),
  ]);
  const fit = huberFit(
    rows,
    runs.map((r) => r.position - centre),
    runs.map((r) => r.weight ?? 1),
  );
  if (!fit) throw InvalidInput.at('runs', 'these runs do not separate the filters from the drift');

  const column = (f: string) => (f === reference ? -1 : 1 + others.indexOf(f));
  const at = (f: string) => (f === reference ? 0 : fit.coefficients[column(f)]!);
  const cov = (a: string, b: string) =>
    a === reference || b === reference ? 0 : fit.covariance[column(a)]![column(b)]!;
  const factor = studentFactor(runs.length - unknowns);
  const thermometer = shrinking(extra, filters, order.length, input.thermometerNoiseC ?? THERMOMETER_NOISE_C);
  const slopeNow = extra[0]?.name === 'temperature' ? fit.coefficients[1 + others.length]! : 0;
  /** What a slope drawn too flat by the thermometer may do to an offset: it acts on the filters’ different temperatures. */
  const shift = (f: string) => {
    if (!thermometer) return 0;
    const meanOf = (g: string) => mean(extra[0]!.values.filter((_, i) => filters[i] === g));
    return Math.abs(slopeNow) * thermometer.tooFlat * Math.abs(meanOf(f) - meanOf(reference));
  };
  const table = Object.fromEntries(
    order.map((f) => {
      const error = Math.sqrt(cov(f, f));
      const interval95 = factor * Math.hypot(error, f === reference ? 0 : shift(f));
      return [f, { steps: at(f), error, interval95, runs: filters.filter((g) => g === f).length }];
    }),
  );
  const means = new Map(order.map((f) => [f, mean(runs.filter((r) => r.filter === f).map((r) => r.position))]));
  const naiveOffsets = Object.fromEntries(order.map((f) => [f, means.get(f)! - means.get(reference)!]));

  const outliers = fit.residuals.flatMap((r, i) =>
    Math.abs(r) * Math.sqrt(runs[i]!.weight ?? 1) > OUTLIER_SIGMA * fit.scale ? [i] : [],
  );
  const inliers = fit.residuals.filter((_, i) => !outliers.includes(i));
  const residualSteps = Math.sqrt(squares(inliers) / inliers.length);

  const slopeOf = (name: Covariate['name']) => {
    const i = extra.findIndex((c) => c.name === name);
    if (i < 0) return undefined;
    const at = 1 + others.length + i;
    return { slope: fit.coefficients[at]!, error: Math.sqrt(fit.covariance[at]![at]!), mean: extra[i]!.mean };
  };
  const temperature = slopeOf('temperature');
  const time = slopeOf('time');
  const parfocal =
    criticalZoneSteps === undefined
      ? undefined
      : parfocalGroups(order, order.map(at), (a, b) => cov(order[a]!, order[b]!), criticalZoneSteps, factor);
  const refocusEveryC =
    criticalZoneSteps !== undefined && temperature && temperature.slope !== 0
      ? criticalZoneSteps / 2 / Math.abs(temperature.slope)
      : undefined;

  const working: WorkingStep[] = [
    {
      label: 'Model',
      formula: `position = μ + offset[filter]${temperature ? ' + k·(T − T̄)' : ''}${time ? ' + h·(t − t̄)' : ''}`,
      value: `${runs.length} runs, ${unknowns} unknowns`,
      unit: '',
      source: 'Huber 1981, ch. 7 (from memory)',
    },
    ...others.map((f) => ({
      label: `Offset ${f}`,
      formula: 'robust fit; naive mean difference ' + naiveOffsets[f]!.toFixed(1),
      value: at(f),
      unit: 'steps',
    })),
    ...(temperature
      ? [{ label: 'Temperature slope k', formula: 'robust fit', value: temperature.slope, unit: 'steps/°C' }]
      : []),
    ...(time ? [{ label: 'Drift h', formula: 'robust fit', value: time.slope, unit: 'steps/h' }] : []),
    { label: 'Robust σ', formula: '1.4826·median|r|·√(n/(n − p))', value: fit.scale, unit: 'steps' },
    ...(refocusEveryC === undefined
      ? []
      : [{ label: 'Refocus every', formula: '(zone/2)/|k|', value: refocusEveryC, unit: '°C' }]),
  ];
  return {
    offsets: table,
    ...(temperature ? { temperatureStepsPerC: temperature.slope, temperatureError: temperature.error } : {}),
    ...(time ? { driftStepsPerHour: time.slope, driftError: time.error } : {}),
    referencePosition: centre + fit.coefficients[0]!,
    ...(temperature ? { meanTemperatureC: temperature.mean } : {}),
    residualSteps,
    residuals: fit.residuals,
    naiveOffsets,
    outliers,
    ...(parfocal ? { parfocal } : {}),
    ...(refocusEveryC === undefined ? {} : { refocusEveryC }),
    working,
    verdict: verdictOf(
      table,
      naiveOffsets,
      reference,
      outliers.length,
      criticalZoneSteps,
      temperature?.slope,
      thermometer,
    ),
  };
}

/** A focus that moves by more zones a degree is no tube's: runs of different trains are mixed; common practice, no source. */
const STEEP_ZONES = 2;

function verdictOf(
  table: Record<string, { steps: number; interval95: number; runs: number }>,
  naive: Record<string, number>,
  reference: string,
  outliers: number,
  zone: number | undefined,
  slope: number | undefined,
  thermometer: ReturnType<typeof shrinking>,
): SpokenVerdict {
  const others = Object.keys(table).filter((f) => f !== reference);
  const weak = zone === undefined ? [] : others.filter((f) => table[f]!.interval95 > zone / 2);
  const misled = others.reduce<{ f: string; by: number } | null>((worst, f) => {
    const by = Math.abs(naive[f]! - table[f]!.steps);
    return !worst || by > worst.by ? { f, by } : worst;
  }, null);
  const known = weak.length
    ? phrase('focus.offsets-weak', { filters: weak, n: weak.length })
    : phrase(zone ? 'focus.offsets-within-zone' : 'focus.offsets-known', { n: others.length, reference });
  // a filter's only run is fitted exactly whatever it says: nothing could have shown that it was a bad one
  const once = Object.keys(table).filter((f) => table[f]!.runs === 1);
  const steep = zone !== undefined && slope !== undefined && Math.abs(slope) > STEEP_ZONES * zone;
  return makeVerdict(
    steep ? 'bad' : weak.length || outliers > 0 || thermometer || once.length ? 'caution' : 'good',
    ...(steep ? [phrase('focus.slope-steep', { slopeStepsPerC: slope, zones: Math.abs(slope) / zone })] : []),
    known,
    ...(once.length ? [phrase('focus.offsets-once', { filters: once, n: once.length })] : []),
    ...(thermometer
      ? [phrase('focus.small-differences', { spreadDeltaC: thermometer.spreadC, noiseDeltaC: thermometer.noiseC })]
      : []),
    ...(slope === undefined || steep ? [] : [phrase('focus.slope', { slopeStepsPerC: slope })]),
    ...(misled && misled.by > Math.max(1, (zone ?? 0) / 4)
      ? [phrase('focus.averages-mislead', { bySteps: misled.by, filter: misled.f })]
      : []),
    ...(outliers ? [phrase('focus.outliers', { n: outliers })] : []),
  );
}

export const focusOffsets = define({
  name: 'focus.offsets',
  summary: 'Filter offsets freed from the night’s cooling, with errors',
  sources: ['Huber 1981, Robust Statistics (from memory)', 'Outlier and parfocal limits: common practice, no source'],
  input: OffsetsInput,
  output: OffsetsOutput,
  compute: offsets,
});
