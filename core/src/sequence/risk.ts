import { quantileSorted } from 'd3-array';
import { z } from 'zod';
import { define, explained, InvalidInput, type WorkingStep } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';
import { seeded } from '../statistics/index.ts';
import { ClearSpells, clearShare, drawSpells } from './clearSpells.ts';
import { play } from './play.ts';
import { partsOf, rulesOf, type Rules } from './rules.ts';
import { EventKind, mostFrames, Order, TimelineFields, timelineComplaints, type FilterPlan } from './schemas.ts';

/** Nights of one question, and frames over all nights and orders: more is no better an answer, and holds the machine. */
export const MOST_NIGHTS = 50_000;
export const MOST_FRAMES_PLAYED = 30_000_000;
/** Nights between two looks at whether anybody still wants the answer. */
const CHUNK = 50;

export const RiskInput = z
  .strictObject({
    ...TimelineFields.omit({ order: true, blocked: true }).shape,
    weather: ClearSpells,
    nights: z.int().min(1).max(MOST_NIGHTS).meta({ description: 'Nights drawn' }).default(2000),
    seed: z
      .int()
      .min(0)
      .max(2 ** 32 - 1)
      .meta({ description: 'Same seed, same nights' })
      .default(1),
    orders: z.array(Order).min(1).max(3).default(['rolling', 'block', 'lagging']),
  })
  .superRefine((v, ctx) => {
    timelineComplaints({ ...v, order: 'block' }, ctx);
    if (new Set(v.orders).size !== v.orders.length)
      ctx.addIssue({ code: 'custom', path: ['orders'], message: 'names an order twice' });
    const spanS = (Date.parse(v.end) - Date.parse(v.start)) / 1000;
    const meanMin = v.weather.clearMeanMin + v.weather.cloudMeanMin;
    if (v.nights * v.orders.length * mostFrames(v.filters, v.overheads.downloadS, spanS) > MOST_FRAMES_PLAYED)
      ctx.addIssue({
        code: 'custom',
        path: ['nights'],
        message: 'would play more frames than can be answered: fewer nights, fewer orders or longer exposures',
      });
    if ((v.nights * spanS) / 60 / meanMin > 2_000_000)
      ctx.addIssue({ code: 'custom', path: ['weather'], message: 'changes too often to be drawn for so many nights' });
  });
export type RiskInput = z.infer<typeof RiskInput>;

const OfOrder = z.strictObject({
  expectedFrames: z.record(z.string(), z.number()),
  expectedBalanced: z.number(),
  /** One standard error of `expectedBalanced` from the number of nights drawn: nothing about the weather's own figures. */
  balancedError: z.number(),
  probabilityAllFilters: z.number(),
  quantiles: z.strictObject({ p10: z.number(), p50: z.number(), p90: z.number() }),
  /** Mean minutes a night, by what they went to; waiting for cloud and for the end together. */
  minutes: z.record(EventKind, z.number()),
});
export type RiskOfOrder = z.infer<typeof OfOrder>;
export const RiskOutput = z.strictObject({
  perOrder: z.partialRecord(Order, OfOrder),
  best: Order,
  clearNights: z.number(),
  ...explained,
});
export type RiskOutput = z.infer<typeof RiskOutput>;

/** Least share of its goal that any filter has at the end of a night. */
function balanced(filters: readonly FilterPlan[], taken: readonly number[]): number {
  let least = 1;
  for (const [i, f] of filters.entries()) if (f.quota! > 0) least = Math.min(least, (f.done + taken[i]!) / f.quota!);
  return least;
}

export type Minutes = Record<EventKind, number>;
/** Nothing of every kind [ms]. */
export const noMinutes = (): Minutes => Object.fromEntries(EventKind.options.map((k) => [k, 0])) as Minutes;

/** What one night left: frames by place of their filter, and where the time went [ms]. */
export interface PlayedNight {
  taken: readonly number[];
  ms: Minutes;
}
type Shut = readonly (readonly [number, number])[];
function playNight(rules: Rules, shut: Shut): PlayedNight {
  const ms = noMinutes();
  const { taken } = play(rules, shut, {
    frame: (step) => {
      for (const part of partsOf(rules, step)) ms[part.kind] += part.ms;
    },
    wait: (from, to) => void (ms.wait += to - from),
  });
  return { taken, ms };
}

/** What is gathered of one order over the nights. */
export class Tally {
  readonly order: Order;
  readonly balanced: number[] = [];
  private readonly filters: readonly FilterPlan[];
  private readonly night: (shut: Shut) => PlayedNight;
  private readonly frames: number[];
  private readonly ms = noMinutes();
  private whole = 0;
  private clear: PlayedNight | null = null;
  constructor(order: Order, filters: readonly FilterPlan[], night: (shut: Shut) => PlayedNight) {
    this.order = order;
    this.filters = filters;
    this.night = night;
    this.frames = filters.map(() => 0);
  }
  add(shut: Shut) {
    // without a cloud every night is the same
    const { taken, ms } = shut.length ? this.night(shut) : (this.clear ??= this.night(shut));
    taken.forEach((n, i) => (this.frames[i]! += n));
    for (const k of EventKind.options) this.ms[k] += ms[k];
    if (this.filters.every((f, i) => f.done + taken[i]! >= 1)) this.whole++;
    this.balanced.push(balanced(this.filters, taken));
  }
  result(): RiskOfOrder {
    const n = this.balanced.length;
    const mean = this.balanced.reduce((s, b) => s + b, 0) / n;
    const variance = this.balanced.reduce((s, b) => s + (b - mean) ** 2, 0) / Math.max(1, n - 1);
    const sorted = [...this.balanced].sort((a, b) => a - b);
    // linear between order statistics: definition 7 of Hyndman & Fan 1996, The American Statistician 50, 361 (from memory)
    const ofNights = (share: number) => quantileSorted(sorted, share)!;
    return {
      expectedFrames: Object.fromEntries(this.filters.map((f, i) => [f.name, this.frames[i]! / n])),
      expectedBalanced: mean,
      balancedError: Math.sqrt(variance / n),
      probabilityAllFilters: this.whole / n,
      quantiles: { p10: ofNights(0.1), p50: ofNights(0.5), p90: ofNights(0.9) },
      minutes: Object.fromEntries(EventKind.options.map((k) => [k, this.ms[k] / n / 60_000])) as Minutes,
    };
  }
}

/**
 * Plays many nights of the site's weather through every order, all of them under the same sky. A generator, so that
 * whoever runs it can stop between nights: it yields the share that is done.
 */
export function* playRisk(input: RiskInput): Generator<number, RiskOutput> {
  const { weather, nights, seed, orders, ...plan } = input;
  const rules = rulesOf({ ...plan, order: 'rolling', blocked: [] });
  const tallies = orders.map(
    (order) => new Tally(order, rules.filters, (shut) => playNight({ ...rules, order }, shut)),
  );
  const source = seeded(seed);
  let clear = 0;
  for (let night = 0; night < nights; night++) {
    const spells = drawSpells(weather, source.fork(`night ${night}`), rules.startMs, rules.endMs);
    if (spells.length === 0) clear++;
    for (const t of tallies) t.add(spells);
    if (night % CHUNK === CHUNK - 1) yield (night + 1) / nights;
  }
  return riskResult(input, tallies, clear / nights);
}

/** The drawn nights as an answer: order by order, and the best. */
export function riskResult(input: Drawn, tallies: readonly Tally[], clearNights: number): RiskOutput {
  const perOrder = Object.fromEntries(tallies.map((t) => [t.order, t.result()])) as RiskOutput['perOrder'];
  const best = input.orders.reduce((a, b) => {
    const [x, y] = [perOrder[a]!, perOrder[b]!];
    const more = y.expectedBalanced - x.expectedBalanced || y.probabilityAllFilters - x.probabilityAllFilters;
    return more > 0 ? b : a;
  });
  return {
    perOrder,
    best,
    clearNights,
    working: workingOf(input, perOrder),
    verdict: verdictOf(input, perOrder, best),
  };
}
type Drawn = Pick<RiskInput, 'weather' | 'nights'> & { orders: readonly Order[] };

function workingOf(input: Drawn, perOrder: RiskOutput['perOrder']): WorkingStep[] {
  const { weather: w, nights } = input;
  return [
    { label: 'Clear in the long run', formula: 'clear/(clear + cloud)', value: 100 * clearShare(w), unit: '%' },
    {
      label: 'Nights drawn',
      formula: 'two-state Markov chain, exponential spells',
      value: nights,
      unit: '',
      source: 'textbook',
    },
    ...input.orders.flatMap((o) => [
      {
        label: `${o}: balanced share`,
        formula: 'mean of min over filters of (done + frames)/quota',
        value: 100 * perOrder[o]!.expectedBalanced,
        unit: '%',
      },
      {
        label: `${o}: its error from the number of nights`,
        formula: 's/√n (one standard error)',
        value: 100 * perOrder[o]!.balancedError,
        unit: '%',
      },
      { label: `${o}: minutes focusing`, formula: 'mean over nights', value: perOrder[o]!.minutes.focus, unit: 'min' },
    ]),
  ];
}

/** All of the nights only where it is all of them. */
const wholePercent = (share: number) => (share < 1 ? Math.min(99, 100 * share) : 100);

/** Differences below this many standard errors of the difference are none; common practice. */
const CLEARLY = 3;
function verdictOf(input: Drawn, perOrder: RiskOutput['perOrder'], best: Order) {
  const of = perOrder[best]!;
  const figures = {
    order: best,
    balancedPercent: 100 * of.expectedBalanced,
    allPercent: wholePercent(of.probabilityAllFilters),
  };
  const others = input.orders.filter((o) => o !== best);
  if (others.length === 0) return makeVerdict('good', phrase('risk.one-order', figures));
  const next = others.reduce((a, b) => (perOrder[b]!.expectedBalanced > perOrder[a]!.expectedBalanced ? b : a));
  const gap = of.expectedBalanced - perOrder[next]!.expectedBalanced;
  // the nights are the same for every order, so this overstates the error of the difference: the cautious side
  const error = Math.hypot(of.balancedError, perOrder[next]!.balancedError);
  if (gap <= CLEARLY * error && gap < 0.01) {
    const all = of.probabilityAllFilters - perOrder[next]!.probabilityAllFilters;
    return makeVerdict('good', phrase(all > 0.01 ? 'risk.alike-but-whole' : 'risk.alike', { ...figures, other: next }));
  }
  const focusMin = of.minutes.focus - perOrder[next]!.minutes.focus;
  return makeVerdict(
    of.probabilityAllFilters < 0.5 ? 'caution' : 'good',
    phrase('risk.best', { ...figures, other: next, otherPercent: 100 * perOrder[next]!.expectedBalanced }),
    ...(Math.abs(focusMin) >= 1
      ? [phrase(focusMin > 0 ? 'risk.dearer' : 'risk.cheaper', { focusMin: Math.abs(focusMin) })]
      : []),
  );
}

/** All at once. @throws InvalidInput when the plan leaves nothing to want */
export function risk(input: RiskInput): RiskOutput {
  if (input.filters.every((f) => f.quota! <= f.done))
    throw InvalidInput.at('filters', 'every quota is reached already');
  const run = playRisk(input);
  for (;;) {
    const step = run.next();
    if (step.done) return step.value;
  }
}

export const sequenceRisk = define({
  name: 'sequence.risk',
  summary: 'What a cloudy night leaves: rolling, block and lagging order under the same drawn weather',
  sources: ['Alternating exponential spells: textbook', 'Played by the engine of sequence.timeline'],
  input: RiskInput,
  output: RiskOutput,
  compute: risk,
});
