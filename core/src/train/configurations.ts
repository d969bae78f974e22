import { plateShiftMm } from '../rig/index.ts';
import { z } from 'zod';
import {
  atLeastZero,
  count,
  define,
  explained,
  InvalidInput,
  noRepeats,
  PlainPhraseSchema,
  positive,
} from '../calculation/index.ts';
import { lowerBound } from '../statistics/index.ts';
import { allStacks, flat, threadOrder, type PieceStack } from './pieceStacks.ts';
import { pathLengthMm, pathShiftMm, PathPart, Thread, toleranceMm } from './schemas.ts';
import { toUm } from './spacers.ts';
import { makeVerdict, phrase, words, type Phrase, type PlainPhrase } from '../phrases/index.ts';

const Faced = z.strictObject({ ...PathPart.shape, front: Thread.optional(), rear: Thread.optional() });

export const ConfigurationsInput = z.strictObject({
  configurations: z
    .array(
      z.strictObject({
        name: z.string().min(1).max(120),
        requiredMm: positive('mm', 'Distance the corrector asks for'),
        toleranceMm: toleranceMm(0.5),
        /** Face of the corrector toward the camera. */
        corrector: Thread.optional(),
        /** Pieces that stay in front of the guider in this configuration. */
        front: z.array(Faced).max(20).default([]),
      }),
    )
    .min(1)
    .max(4)
    .superRefine(noRepeats((c) => c.name, 'the configuration')),
  /** From the guider to the sensor: stays bolted together in every configuration. */
  common: z.array(Faced).max(30),
  /** Where among the common pieces spacers may be put in: after so many of them; the guider's body is the first. */
  spaceAfter: z.int().min(0).default(1),
  /** Guide camera's reach, when the guider's focus is to be kept. */
  guide: z
    .strictObject({
      behindPrismMm: atLeastZero('mm', 'Prism centre to the guider’s rear face'),
      minMm: atLeastZero('mm', 'Nearest the guide sensor can stand from the prism'),
      maxMm: atLeastZero('mm', 'Farthest'),
      glassMm: atLeastZero('mm', 'Glass of a solid prism').default(0),
    })
    .optional(),
  stock: z
    .array(
      z.strictObject({
        id: z.string().min(1).max(120),
        lengthMm: atLeastZero('mm', 'Length'),
        count: count('How many').max(20),
        a: Thread.optional(),
        b: Thread.optional(),
      }),
    )
    .max(60)
    .superRefine(noRepeats((s) => s.id, 'the piece')),
  maxPieces: z.int().min(0).max(5).default(3).meta({ description: 'Most pieces in each place' }),
  /** Most pieces common to all; as many as in each place where nothing is said, none without a guider to keep in focus. */
  maxCommonPieces: z.int().min(0).max(5).optional(),
  limit: z.int().min(1).max(20).default(5),
});
export type ConfigurationsInput = z.infer<typeof ConfigurationsInput>;

const Pieces = z.array(z.string());
export const ConfigurationsOutput = z.strictObject({
  solutions: z.array(
    z.strictObject({
      /** Put in behind the guider, the same in every configuration. */
      common: Pieces,
      perConfiguration: z.array(z.strictObject({ name: z.string(), pieces: Pieces, errorMm: z.number() })),
      pieceCount: z.int(),
      guideMm: z.number().optional(),
    }),
  ),
  /** What is missing where nothing fits, in words and as a length to buy. */
  buy: z.array(
    z.strictObject({ name: z.string(), lengthMm: z.number(), text: z.string(), phrases: PlainPhraseSchema }),
  ),
  weighed: z.int(),
  /** Too many stacks: those of more pieces, or the later ones, were left out. */
  cutShort: z.boolean(),
  ...explained,
});
export type ConfigurationsOutput = z.input<typeof ConfigurationsOutput>;

/** Most stacks listed, and most of them weighed against each other, in one search. */
const MOST_STACKS = 250_000;
const MOST_WEIGHED = 8_000_000;
const MOST_ORDERED = 200_000;

/** Pieces in a place, as many as wanted while the stacks of so many can be listed. */
function mostPieces(counts: readonly number[], wanted: number): number {
  // stacks of exactly n pieces: the product of 1 + x + … + x^count over the kinds
  let ways = [1, ...new Array<number>(wanted).fill(0)];
  for (const count of counts)
    ways = ways.map((_, n) => {
      let sum = 0;
      for (let k = 0; k <= Math.min(count, n); k++) sum += ways[n - k]!;
      return sum;
    });
  let [most, total] = [0, 1];
  while (most < wanted && total + ways[most + 1]! <= MOST_STACKS) total += ways[++most]!;
  return most;
}

/**
 * One search over the drawer for all configurations of a tube together: spacers behind the guider are common to all, so
 * that the guide camera never needs refocusing, and each configuration gets its own pieces in front. Only one
 * configuration is mounted at a time, so front pieces may serve in several; what sits behind the guider may not.
 * @param progress called now and then with the share done, 0…1
 */
export function configurations(input: ConfigurationsInput, progress?: (share: number) => void): ConfigurationsOutput {
  const { stock, common } = input;
  if (input.spaceAfter > common.length)
    throw InvalidInput.at('spaceAfter', `there are only ${common.length} common pieces`);
  const lengths = stock.map((s) => toUm(s.lengthMm));
  const counts = stock.map((s) => s.count);
  const most = mostPieces(counts, input.maxPieces);
  const stacks = allStacks(lengths, counts, most);
  const sorted = [...stacks].sort((a, b) => a.um - b.um || a.pieces - b.pieces);
  const byPieces = [...stacks].sort((a, b) => a.pieces - b.pieces || a.um - b.um);

  const commonUm = toUm(pathLengthMm(common));
  const shiftUm = toUm(pathShiftMm(common));
  const gaps = input.configurations.map((c) => ({
    c,
    um: toUm(c.requiredMm) + shiftUm + toUm(pathShiftMm(c.front)) - commonUm - toUm(pathLengthMm(c.front)),
    toleranceUm: c.toleranceMm * 1000 + 1e-3,
  }));
  const behind = common.slice(1);
  const guideBaseUm = input.guide
    ? toUm(input.guide.behindPrismMm + pathLengthMm(behind) - pathShiftMm(behind) + plateShiftMm(input.guide.glassMm))
    : 0;
  // ahead of the guider a spacer moves guider and guide camera together
  const guideUm = (um: number) => guideBaseUm + (input.spaceAfter > 0 ? um : 0);
  const guideFits = (um: number) =>
    !input.guide || (guideUm(um) >= input.guide.minMm * 1000 - 1e-3 && guideUm(um) <= input.guide.maxMm * 1000 + 1e-3);

  type Solution = ConfigurationsOutput['solutions'][number];
  const solutions: { pieces: number; error: number; key: string; value: Solution }[] = [];
  const worst = () => (solutions.length < input.limit ? Infinity : solutions.at(-1)!.pieces);
  const mostCommon = input.maxCommonPieces ?? input.maxPieces;
  let weighed = 0;
  let stopped = false;
  let ordered = 0;
  /** Orders of front stacks by their threads: the same in every configuration’s rounds. */
  const orders = gaps.map(() => new Map<PieceStack, number[] | null>());
  let nearest = gaps.map(() => Infinity);
  let nearestSum = Infinity;
  const left = new Array<number>(stock.length).fill(0);
  byPieces.forEach((behindStack, at) => {
    if (progress && at % 2048 === 0) progress(at / byPieces.length);
    if (behindStack.pieces > Math.min(worst(), mostCommon) || !guideFits(behindStack.um)) return;
    if (weighed > MOST_WEIGHED || ordered > MOST_ORDERED) {
      stopped = true;
      return;
    }
    counts.forEach((n, i) => (left[i] = n));
    for (const [i, n] of behindStack.parts) left[i]! -= n;
    const chosen: { stack: PieceStack; order: number[]; error: number }[] = [];
    const misses: number[] = [];
    for (const [at, g] of gaps.entries()) {
      const want = g.um - behindStack.um;
      let best: { stack: PieceStack; order: number[]; error: number } | null = null;
      let miss = Infinity;
      // a piece that stays has a face of its own, known or not: the corrector’s is behind it
      const firstFace = g.c.front.length ? g.c.front.at(-1)!.rear : g.c.corrector;
      const consider = (s: PieceStack, within: boolean) => {
        weighed++;
        if (s.parts.some(([i, n]) => left[i]! < n)) return;
        const error = s.um - want;
        if (Math.abs(error) < Math.abs(miss)) miss = error;
        if (
          !within ||
          (best &&
            (s.pieces > best.stack.pieces ||
              (s.pieces === best.stack.pieces && Math.abs(error) >= Math.abs(best.error))))
        )
          return;
        let order = orders[at]!.get(s);
        if (order === undefined) {
          ordered++;
          order = threadOrder(flat(s), stock, firstFace, common[0]?.front);
          orders[at]!.set(s, order);
        }
        if (order) best = { stack: s, order, error };
      };
      const from = lowerBound(sorted, (x) => x.um, want - g.toleranceUm);
      for (let k = from; k < sorted.length && sorted[k]!.um <= want + g.toleranceUm; k++) consider(sorted[k]!, true);
      // the neighbours outside the tolerance, for saying what is missing
      for (const k of [from - 1, from]) if (sorted[k]) consider(sorted[k], false);
      misses.push(miss);
      if (best) chosen.push(best);
    }
    const total = misses.reduce((s, m) => s + Math.abs(m), 0);
    if (total < nearestSum) [nearest, nearestSum] = [misses, total];
    if (chosen.length < gaps.length) return;
    const inner = input.spaceAfter > 0 ? common[input.spaceAfter - 1]?.rear : undefined;
    const order = threadOrder(flat(behindStack), stock, inner, common[input.spaceAfter]?.front);
    if (!order) return;
    const pieces = behindStack.pieces + chosen.reduce((s, c) => s + c.stack.pieces, 0);
    const error = chosen.reduce((s, c) => s + Math.abs(c.error), 0);
    const id = (k: number) => stock[k]!.id;
    const value: ConfigurationsOutput['solutions'][number] = {
      common: order.map(id),
      perConfiguration: chosen.map((c, k) => ({
        name: gaps[k]!.c.name,
        pieces: c.order.map(id),
        errorMm: c.error / 1000,
      })),
      pieceCount: pieces,
      ...(input.guide ? { guideMm: guideUm(behindStack.um) / 1000 } : {}),
    };
    // the same pieces in the same places are one solution, by whichever way they were found
    const key = keyOf(value);
    if (solutions.some((s) => s.key === key)) return;
    solutions.push({ pieces, error, key, value });
    solutions.sort((a, b) => a.pieces - b.pieces || a.error - b.error);
    solutions.splice(input.limit);
  });
  progress?.(1);
  const buy = solutions.length ? [] : shopping(input, gaps, nearest, guideBaseUm);
  return {
    solutions: solutions.map((s) => s.value),
    buy,
    weighed,
    cutShort: stopped || most < input.maxPieces,
    working: [
      ...gaps.map((g) => ({
        label: `To be filled, ${g.c.name}`,
        formula: 'required + glass − common − front',
        value: g.um / 1000,
        unit: 'mm',
      })),
      ...(input.guide
        ? [
            {
              label: 'Guide sensor belongs at, without spacers',
              formula: 'behind the prism, in air',
              value: guideBaseUm / 1000,
              unit: 'mm',
            },
          ]
        : []),
      { label: 'Stacks weighed', formula: `at most ${most} pieces in each place`, value: weighed, unit: '' },
    ],
    verdict: verdictOf(input, solutions[0]?.value, buy, [
      ...(most < input.maxPieces ? [phrase('train.looked-at-pieces', { pieces: most })] : []),
      ...(stopped ? [phrase('train.looked-at-part')] : []),
    ]),
  };
}

const keyOf = (v: ConfigurationsOutput['solutions'][number]): string =>
  JSON.stringify([[...v.common].sort(), v.perConfiguration.map((c) => [c.name, [...c.pieces].sort()])]);

function shopping(
  input: ConfigurationsInput,
  gaps: { c: { name: string }; um: number }[],
  nearest: number[],
  guideBaseUm: number,
): ConfigurationsOutput['buy'] {
  if (input.guide && nearest.every((m) => m === Infinity)) {
    const short = input.guide.minMm - guideBaseUm / 1000;
    const over = guideBaseUm / 1000 - input.guide.maxMm;
    const lengthMm = short > 0 ? short : over;
    const phrases = phrase(short > 0 ? 'train.lack-between' : 'train.lack-own-side', { missingMm: lengthMm });
    return [{ name: 'guide camera', lengthMm, text: words(phrases), phrases }];
  }
  return gaps.flatMap((g, k) => {
    const miss = nearest[k]!;
    if (Math.abs(miss) <= 1e-3) return [];
    const { name } = g.c;
    const lack = (lengthMm: number, phrases: PlainPhrase) => [{ name, lengthMm, text: words(phrases), phrases }];
    if (g.um < 0) return lack(g.um / 1000, phrase('train.lack-too-long', { name, overMm: -g.um / 1000 }));
    const lengthMm = Math.abs(miss) === Infinity ? g.um / 1000 : -miss / 1000;
    const code = lengthMm > 0 ? 'train.lack-short' : 'train.lack-long';
    return lack(lengthMm, phrase(code, { name, missMm: Math.abs(lengthMm) }));
  });
}

function verdictOf(
  input: ConfigurationsInput,
  best: ConfigurationsOutput['solutions'][number] | undefined,
  buy: ConfigurationsOutput['buy'],
  limits: Phrase[],
) {
  if (!best)
    return makeVerdict(
      'bad',
      phrase(
        limits.length
          ? 'train.drawer-none-looked-at'
          : input.configurations.length > 1
            ? 'train.drawer-none-together'
            : 'train.drawer-none',
        {
          lacks: buy.length ? buy.map((b) => b.phrases) : [phrase('train.lack-any')],
        },
      ),
      ...limits,
    );
  const listed = best.common.join(' + ');
  const common = input.guide
    ? [listed ? phrase('train.behind-guider', { pieces: listed }) : phrase('train.behind-guider-nothing')]
    : listed
      ? [phrase('train.between', { pieces: listed })]
      : [];
  const own = best.perConfiguration.map(({ name, pieces, errorMm }) =>
    pieces.length
      ? phrase('train.stack-for', { name, errorMm, pieces: pieces.join(' + ') })
      : phrase('train.stack-for-nothing', { name, errorMm }),
  );
  return makeVerdict('good', ...common, ...own, ...limits);
}

export const trainConfigurations = define({
  name: 'train.configurations',
  summary: 'One stack of spacers for all configurations of a tube, with the guide camera kept in focus',
  sources: ['Exhaustive search in whole micrometres', 'Plane-plate shift: textbook optics'],
  input: ConfigurationsInput,
  output: ConfigurationsOutput,
  compute: (input) => configurations(input),
});
