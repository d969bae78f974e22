import { median } from 'simple-statistics';
import { define, InvalidInput, type SpokenVerdict, type WorkingStep } from '../calculation/index.ts';
import { huberFit, mean, studentFactor } from '../statistics/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';
import { covariates, squares, type Covariate } from './covariates.ts';
import { OffsetsInput, OffsetsOutput, THERMOMETER_NOISE_C } from './offsetSchemas.ts';
import { parfocalGroups } from './parfocal.ts';
import { shrinking } from './thermometer.ts';

/** Runs farther out than this many robust σ are outliers. */
const OUTLIER_SIGMA = 4;

/** More filters than any wheel holds: the fit’s cost grows with their cube. */
const MOST_FILTERS = 60;

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
