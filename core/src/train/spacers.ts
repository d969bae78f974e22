import { z } from 'zod';
import { atLeastZero, count, define, explained, noRepeats, quantity } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';
import { lowerBound } from '../statistics/index.ts';
import { toleranceMm } from './schemas.ts';

export const SpacersInput = z.strictObject({
  gapMm: quantity('mm', 'Length to be filled'),
  toleranceMm: toleranceMm(0.5),
  stock: z
    .array(
      z.strictObject({
        id: z.string().min(1).max(120),
        lengthMm: atLeastZero('mm', 'Length'),
        count: count('How many'),
      }),
    )
    .max(200)
    .superRefine(noRepeats((s) => s.id, 'the spacer')),
  maxPieces: count('Most pieces in one stack').max(12).default(5),
  limit: z.int().min(1).max(200).default(5),
});
export type SpacersInput = z.infer<typeof SpacersInput>;

const Stack = z.strictObject({
  pieces: z.array(z.strictObject({ id: z.string(), count: z.int() })),
  totalMm: z.number(),
  errorMm: z.number(),
  pieceCount: z.int(),
});
export type Stack = z.infer<typeof Stack>;
export const SpacersOutput = z.strictObject({
  solutions: z.array(Stack),
  nearest: Stack,
  /** Too many stacks: those of more pieces were left out. */
  cutShort: z.boolean(),
  ...explained,
});
export type SpacersOutput = z.input<typeof SpacersOutput>;

/** Millimetres to whole micrometres. */
export const toUm = (mm: number): number => Math.round(mm * 1000);

interface Found {
  counts: number[];
  totalUm: number;
  errorUm: number;
  pieces: number;
  kinds: number;
}

/** Fewer kinds first, then more of what stands earlier in the drawer. */
function tieBreak(a: Found, b: Found): number {
  if (a.kinds !== b.kinds) return a.kinds - b.kinds;
  for (let i = 0; i < a.counts.length; i++) if (a.counts[i] !== b.counts[i]) return b.counts[i]! - a.counts[i]!;
  return 0;
}
const byPieces = (a: Found, b: Found): number =>
  a.pieces - b.pieces || Math.abs(a.errorUm) - Math.abs(b.errorUm) || tieBreak(a, b);
const byError = (a: Found, b: Found): number =>
  Math.abs(a.errorUm) - Math.abs(b.errorUm) || a.pieces - b.pieces || tieBreak(a, b);

/** Most stacks looked at in one search. */
const MOST_LOOKS = 1_500_000;

/**
 * Every stack of at most `maxPieces` from the drawer in whole micrometres, those of fewer pieces first, so that a search
 * that is cut short has the smaller stacks whole. A branch is left when nothing that can still be added brings it within
 * the tolerance or nearer than the nearest so far.
 */
export function spacers(input: SpacersInput): SpacersOutput {
  const gapUm = toUm(input.gapMm);
  const toleranceUm = input.toleranceMm * 1000 + 1e-3;
  const { stock, maxPieces, limit } = input;
  // longest first: what is left to add is then bounded by what comes next
  const order = stock.map((_, i) => i).sort((a, b) => stock[b]!.lengthMm - stock[a]!.lengthMm || a - b);
  const lengths = order.map((i) => toUm(stock[i]!.lengthMm));
  const have = order.map((i) => stock[i]!.count);
  const shortest = Math.min(...lengths.filter((_, i) => have[i]! > 0), Infinity);

  const counts = new Array<number>(stock.length).fill(0);
  const solutions: Found[] = [];
  let nearest: Found | null = null;
  let looked = 0;
  const keep = (totalUm: number, pieces: number, kinds: number) => {
    const errorUm = totalUm - gapUm;
    const size = Math.abs(errorUm);
    const fits = size <= toleranceUm;
    const nearer = nearest === null || size <= Math.abs(nearest.errorUm);
    if (!fits && !nearer) return;
    const found: Found = { counts: [...counts], totalUm, errorUm, pieces, kinds };
    if (nearest === null || byError(found, nearest) < 0) nearest = found;
    if (!fits) return;
    const last = solutions.at(-1);
    if (solutions.length === limit && last && byPieces(found, last) >= 0) return;
    const at = solutions.findIndex((s) => byPieces(found, s) < 0);
    solutions.splice(at < 0 ? solutions.length : at, 0, found);
    if (solutions.length > limit) solutions.pop();
  };
  const full = () => solutions.length === limit;
  /** How far off the gap a stack of so many pieces may be and still matter. */
  const reachUm = (pieces: number) => {
    const worst = full() ? solutions.at(-1)! : null;
    const kept = !worst ? toleranceUm : worst.pieces < pieces ? 0 : Math.abs(worst.errorUm);
    return Math.max(kept, Math.abs(nearest!.errorUm));
  };
  /** Adds exactly so many more pieces, of kinds from a place on. */
  const add = (from: number, more: number, totalUm: number, pieces: number, kinds: number) => {
    if (more === 0) {
      keep(totalUm, pieces, kinds);
      return;
    }
    // kinds that are too long even with the shortest beside them are skipped in one step
    const longest = gapUm + reachUm(pieces + more) - totalUm - (more - 1) * shortest;
    for (
      let i = Math.max(
        from,
        lowerBound(lengths, (l) => -l, -longest),
      );
      i < lengths.length;
      i++
    ) {
      const reach = reachUm(pieces + more);
      if (totalUm + more * lengths[i]! < gapUm - reach) return;
      for (let n = 1; n <= Math.min(have[i]!, more); n++) {
        const next = totalUm + n * lengths[i]!;
        if (next + (more - n) * shortest > gapUm + reach) break;
        if (++looked > MOST_LOOKS) break;
        counts[order[i]!] = n;
        add(i + 1, more - n, next, pieces + n, kinds + 1);
      }
      counts[order[i]!] = 0;
      if (looked > MOST_LOOKS) return;
    }
  };
  let whole = 0;
  for (let n = 0; n <= maxPieces; n++) {
    // enough stacks of fewer pieces, and nothing can be nearer than exact
    if (full() && solutions.at(-1)!.pieces < n && (nearest as Found | null)?.errorUm === 0) whole = maxPieces;
    else add(0, n, 0, 0, 0);
    if (looked > MOST_LOOKS) break;
    whole = Math.max(whole, n);
  }
  const cutShort = whole < maxPieces;

  const shown = (f: Found): Stack => ({
    pieces: stock.flatMap((s, i) => (f.counts[i]! > 0 ? [{ id: s.id, count: f.counts[i]! }] : [])),
    totalMm: f.totalUm / 1000,
    errorMm: f.errorUm / 1000,
    pieceCount: f.pieces,
  });
  const best = nearest as Found | null;
  const near = shown(best!);
  const first = solutions[0];
  const limits = cutShort ? [phrase('train.looked-at-pieces', { pieces: whole })] : [];
  const listed = (s: Stack) =>
    s.pieces.map((p) => (p.count > 1 ? `${p.count} × ${p.id}` : p.id)).join(' + ') || 'nothing';
  return {
    solutions: solutions.map(shown),
    nearest: near,
    cutShort,
    working: [
      { label: 'Gap', formula: 'as given, in whole µm', value: gapUm / 1000, unit: 'mm' },
      {
        label: 'Stacks weighed',
        formula: `at most ${cutShort ? whole : maxPieces} pieces of ${stock.length} kinds`,
        value: looked,
        unit: '',
      },
    ],
    verdict: first
      ? makeVerdict(
          'good',
          phrase('train.spacers', { stack: listed(shown(first)), totalMm: first.totalUm / 1000, gapMm: gapUm / 1000 }),
          ...limits,
        )
      : makeVerdict(
          'bad',
          phrase(cutShort ? 'train.spacers-none-looked-at' : 'train.spacers-none', {
            gapMm: gapUm / 1000,
            toleranceMm: input.toleranceMm,
            stack: listed(near),
            offMm: Math.abs(near.errorMm),
            way: near.errorMm < 0 ? 'short' : 'long',
          }),
          ...limits,
        ),
  };
}

export const trainSpacers = define({
  name: 'train.spacers',
  summary: 'Stacks of spacers from the drawer that fill a gap',
  sources: ['Exhaustive search in whole micrometres'],
  input: SpacersInput,
  output: SpacersOutput,
  compute: spacers,
});
