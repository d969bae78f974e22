import { z } from 'zod';
import { atLeastZero, count, define, explained, noRepeats, quantity } from '../calculation/index.ts';
import { judge, phrase } from '../phrases/index.ts';
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
export const SpacersOutput = z.strictObject({ solutions: z.array(Stack), nearest: Stack, ...explained });
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

/**
 * Every stack of at most `maxPieces` from the drawer, searched depth first in whole micrometres. A branch is left when
 * nothing that can still be added brings it within the tolerance or nearer than the nearest so far.
 */
export function spacers(input: SpacersInput): SpacersOutput {
  const gapUm = toUm(input.gapMm);
  const toleranceUm = input.toleranceMm * 1000 + 1e-3;
  const { stock, maxPieces, limit } = input;
  const lengths = stock.map((s) => toUm(s.lengthMm));
  const longestFrom = new Array<number>(stock.length + 1).fill(0);
  for (let i = stock.length - 1; i >= 0; i--)
    longestFrom[i] = Math.max(longestFrom[i + 1]!, stock[i]!.count > 0 ? lengths[i]! : 0);

  const counts = new Array<number>(stock.length).fill(0);
  const solutions: Found[] = [];
  let nearest: Found | null = null;
  let tried = 0;
  const keep = (totalUm: number, pieces: number, kinds: number) => {
    tried++;
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
  const search = (from: number, totalUm: number, pieces: number, kinds: number) => {
    for (let i = from; i < stock.length; i++) {
      const reach = Math.max(toleranceUm, Math.abs(nearest!.errorUm));
      if (totalUm + (maxPieces - pieces) * longestFrom[i]! < gapUm - reach) return;
      const most = Math.min(stock[i]!.count, maxPieces - pieces);
      for (let n = 1; n <= most; n++) {
        const next = totalUm + n * lengths[i]!;
        if (next > gapUm + Math.max(toleranceUm, Math.abs(nearest!.errorUm))) break;
        counts[i] = n;
        keep(next, pieces + n, kinds + 1);
        if (pieces + n < maxPieces) search(i + 1, next, pieces + n, kinds + 1);
      }
      counts[i] = 0;
    }
  };
  keep(0, 0, 0);
  search(0, 0, 0, 0);

  const shown = (f: Found): Stack => ({
    pieces: stock.flatMap((s, i) => (f.counts[i]! > 0 ? [{ id: s.id, count: f.counts[i]! }] : [])),
    totalMm: f.totalUm / 1000,
    errorMm: f.errorUm / 1000,
    pieceCount: f.pieces,
  });
  const best = nearest as Found | null;
  const near = shown(best!);
  const first = solutions[0];
  const listed = (s: Stack) =>
    s.pieces.map((p) => (p.count > 1 ? `${p.count} × ${p.id}` : p.id)).join(' + ') || 'nothing';
  return {
    solutions: solutions.map(shown),
    nearest: near,
    working: [
      { label: 'Gap', formula: 'as given, in whole µm', value: gapUm / 1000, unit: 'mm' },
      {
        label: 'Stacks weighed',
        formula: `at most ${maxPieces} pieces of ${stock.length} kinds`,
        value: tried,
        unit: '',
      },
    ],
    verdict: first
      ? judge(
          'good',
          phrase('train.spacers', { stack: listed(shown(first)), totalMm: first.totalUm / 1000, gapMm: gapUm / 1000 }),
        )
      : judge(
          'bad',
          phrase('train.spacers-none', {
            gapMm: gapUm / 1000,
            toleranceMm: input.toleranceMm,
            stack: listed(near),
            offMm: Math.abs(near.errorMm),
            way: near.errorMm < 0 ? 'short' : 'long',
          }),
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
