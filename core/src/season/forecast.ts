import { z } from 'zod';
import { define, explained, InvalidInput, within, type WorkingStep } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

/** Nights of one forecast at most. */
const MOST_NIGHTS = 1000;
const MINUTES_A_DAY = 1440;

export const ForecastInput = z.strictObject({
  needMinutes: z.int().min(0).max(1e7).meta({ unit: 'min', description: 'Exposure that is still wanted' }),
  nights: z
    .array(
      z.strictObject({
        minutes: z
          .int()
          .min(0)
          .max(MINUTES_A_DAY)
          .meta({ unit: 'min', description: 'What the night gives if it is clear' }),
        clear: within('', 0, 1, 'Chance that this night is clear, as foretold').optional(),
      }),
    )
    .max(MOST_NIGHTS),
  clearFraction: within('', 0, 1, 'Share of the nights that are clear'),
  meanClearNights: z.number().max(1e6).optional().meta({
    unit: 'nights',
    description: 'Clear nights in a row, on average; left out: nights know nothing of each other',
  }),
});
export type ForecastInput = z.infer<typeof ForecastInput>;
export const ForecastOutput = z.strictObject({
  byNight: z.array(z.number()),
  chance: z.number(),
  p10: z.int().nullable(),
  p50: z.int().nullable(),
  p90: z.int().nullable(),
  expectedMinutes: z.number(),
  ...explained,
});
export type ForecastOutput = z.input<typeof ForecastOutput>;

/** Sums of chances miss a round number by their last digits. */
const SLACK = 1e-12;
/** Chances of a change from one night to the next. */
interface Chain {
  clearAfterClear: number;
  clearAfterCloud: number;
}

/** @throws InvalidInput where no such weather can be */
function chainOf({ clearFraction: f, meanClearNights: m, nights }: ForecastInput): Chain | null {
  if (m === undefined) return null;
  const foretold = nights.findIndex((n) => n.clear !== undefined);
  if (foretold >= 0)
    throw InvalidInput.at(
      `nights.${foretold}.clear`,
      'a foretold night and spells of clear nights exclude each other: leave out one of them',
    );
  if (f === 1)
    throw InvalidInput.at('clearFraction', 'where every night is clear there are no spells: leave meanClearNights out');
  const shortest = Math.max(1, f / (1 - f));
  if (m < shortest - SLACK)
    throw InvalidInput.at(
      'meanClearNights',
      `must be at least ${Number(shortest.toPrecision(6))}: a clear spell lasts one night at least, and with a clear share of ${f} cloudy ones would have to be shorter than one`,
    );
  return { clearAfterClear: 1 - 1 / m, clearAfterCloud: Math.min(1, f / ((1 - f) * m)) };
}

const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));

/** Chances of each sum, after a clear night and after a cloudy one. */
type Chances = readonly [clear: Float64Array, cloud: Float64Array];
/** One night more. @returns chance of being finished by it, and not before */
function step(
  from: Chances,
  to: Chances,
  { clearAfterClear, clearAfterCloud }: Chain,
  reached: number,
  gain: number,
  need: number,
): number {
  const [clear, cloud] = from;
  const [nextClear, nextCloud] = to;
  let finished = 0;
  for (let s = 0; s <= reached; s++) {
    const p = clear[s]!;
    const q = cloud[s]!;
    const becomesClear = p * clearAfterClear + q * clearAfterCloud;
    nextCloud[s] = p * (1 - clearAfterClear) + q * (1 - clearAfterCloud);
    if (s + gain >= need) finished += becomesClear;
    else nextClear[s + gain] = becomesClear;
  }
  return finished;
}

/**
 * When a project will be finished, exactly: the chance of every sum of minutes below what is needed is carried from night to night,
 * apart for those after a clear and after a cloudy night; what reaches the need is finished. No nights are drawn.
 * @throws InvalidInput where spells and foretold nights meet, or no such spells can be
 */
export function forecast(
  input: ForecastInput,
): Pick<ForecastOutput, 'byNight' | 'chance' | 'p10' | 'p50' | 'p90' | 'expectedMinutes'> {
  const chain = chainOf(input);
  const { needMinutes, nights, clearFraction } = input;
  // counted in the largest step that every night and the need are made of
  const unit = nights.reduce((g, n) => gcd(g, n.minutes), needMinutes) || 1;
  const need = needMinutes / unit;
  const most = nights.reduce((s, n) => s + n.minutes, 0) / unit;
  const sums = Math.min(need, most + 1);
  let [clear, cloud] = [new Float64Array(sums), new Float64Array(sums)];
  let [nextClear, nextCloud] = [new Float64Array(sums), new Float64Array(sums)];
  if (need > 0) cloud[0] = 1;
  let finished = need === 0 ? 1 : 0;
  let reached = 0;
  const byNight: number[] = [];
  nights.forEach((night, i) => {
    if (need > 0) {
      const gain = night.minutes / unit;
      const own = night.clear ?? clearFraction;
      // a chain begins in its long-run state
      const after = chain && i > 0 ? chain : { clearAfterClear: own, clearAfterCloud: own };
      const top = Math.min(sums - 1, reached + gain);
      nextClear.fill(0, 0, top + 1);
      finished += step([clear, cloud], [nextClear, nextCloud], after, reached, gain, need);
      nextCloud.fill(0, reached + 1, top + 1);
      reached = top;
      [clear, cloud, nextClear, nextCloud] = [nextClear, nextCloud, clear, cloud];
    }
    byNight.push(Math.min(1, finished));
  });
  let expected = finished * need;
  for (let s = 0; s < sums; s++) expected += s * (clear[s]! + cloud[s]!);
  const when = (share: number) => {
    const at = byNight.findIndex((p) => p >= share - SLACK);
    return at < 0 ? null : at;
  };
  return {
    byNight,
    chance: Math.min(1, finished),
    p10: when(0.1),
    p50: when(0.5),
    p90: when(0.9),
    expectedMinutes: expected * unit,
  };
}

/** Chance from which a project is taken for safe, and below which for lost. */
const SAFE = 0.9;
const DOUBTFUL = 0.5;

export const seasonForecast = define({
  name: 'season.forecast',
  summary:
    'When a project will be finished: the chance by each night, from the share of clear nights and how long they last',
  sources: ['Exact: sums of independent nights, or of a chain of two states that begins in its long-run state'],
  input: ForecastInput,
  output: ForecastOutput,
  compute: (input) => {
    const found = forecast(input);
    const nights = input.nights.length;
    const given = input.nights.reduce((s, n) => s + n.minutes, 0);
    const working: WorkingStep[] = [
      { label: 'All nights clear would give', formula: 'Σ minutes', value: given, unit: 'min' },
      {
        label: 'Expected',
        formula: 'mean of min(what is given, what is needed)',
        value: found.expectedMinutes,
        unit: 'min',
      },
      { label: 'Finished by the last night', formula: 'P(Σ clear minutes ≥ need)', value: found.chance, unit: '' },
    ];
    const percent = Math.round(100 * found.chance);
    const verdict =
      input.needMinutes === 0
        ? makeVerdict('good', phrase('season.nothing-needed'))
        : found.p50 === null
          ? makeVerdict(found.chance >= SAFE ? 'good' : 'bad', phrase('season.forecast-late', { percent, nights }))
          : makeVerdict(
              found.chance >= SAFE ? 'good' : found.chance >= DOUBTFUL ? 'caution' : 'bad',
              phrase('season.forecast', { percent, nights, half: found.p50 + 1 }),
            );
    return { ...found, working, verdict };
  },
});
