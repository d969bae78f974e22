import { z } from 'zod';
import { atLeastZero, count, define, explained, noRepeats } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';
import { mates, Thread } from './schemas.ts';

export const Adapter = z.strictObject({
  id: z.string().min(1).max(120),
  a: Thread,
  b: Thread,
  lengthMm: atLeastZero('mm', 'Length it adds'),
});
export type Adapter = z.infer<typeof Adapter>;

export const AdaptersInput = z.strictObject({
  from: Thread,
  to: Thread,
  stock: z
    .array(Adapter)
    .max(200)
    .superRefine(noRepeats((a) => a.id, 'the adapter')),
  maxPieces: count('Most adapters in a chain').max(8).default(4),
  limit: z.int().min(1).max(1000).default(50),
});
export type AdaptersInput = z.infer<typeof AdaptersInput>;

export const AdaptersOutput = z.strictObject({
  chains: z.array(z.strictObject({ ids: z.array(z.string()), lengthMm: z.number() })),
  /** Too many chains: the search ended before all were seen. */
  cutShort: z.boolean(),
  ...explained,
});
export type AdaptersOutput = z.input<typeof AdaptersOutput>;

interface Chain {
  places: number[];
  lengthMm: number;
}

const inOrder = (a: Chain, b: Chain): number => {
  if (Math.abs(a.lengthMm - b.lengthMm) > 1e-9) return a.lengthMm - b.lengthMm;
  for (let i = 0; i < a.places.length; i++) if (a.places[i] !== b.places[i]) return a.places[i]! - b.places[i]!;
  return 0;
};

/** Most places of an adapter looked at in one search. */
const MOST_LOOKS = 3_000_000;

/** Fewest adapters from each face to the wanted one, by size and gender; a face that is not here never gets there. */
function fewestFrom(input: AdaptersInput): (face: Thread) => number {
  const key = (t: Thread) => `${t.size.trim().toLowerCase()} ${t.gender}`;
  const faces = [input.from, ...input.stock.flatMap((s) => [s.a, s.b])];
  const steps = new Map<string, number>();
  for (const f of faces) if (mates(f, input.to)) steps.set(key(f), 0);
  for (let n = 1; n <= input.maxPieces; n++)
    for (const f of faces) {
      if (steps.has(key(f))) continue;
      const leads = (other: Thread) => (steps.get(key(other)) ?? Infinity) < n;
      if (input.stock.some((s) => (mates(f, s.a) && leads(s.b)) || (mates(f, s.b) && leads(s.a)))) steps.set(key(f), n);
    }
  return (face) => steps.get(key(face)) ?? Infinity;
}

/** Chains with exactly so many adapters, the best `limit` of them; stops when the looks are used up. */
function chainsOf(
  input: AdaptersInput,
  pieces: number,
  fewest: (f: Thread) => number,
  looks: { left: number },
): Chain[] {
  const { stock, limit } = input;
  const seen = new Set<string>();
  const found: Chain[] = [];
  const used = new Array<boolean>(stock.length).fill(false);
  const places: number[] = [];
  const extend = (face: Thread, lengthMm: number) => {
    if (fewest(face) > pieces - places.length) return;
    if (places.length === pieces) {
      if (!mates(face, input.to)) return;
      const key = places.join(' ');
      if (seen.has(key)) return;
      seen.add(key);
      found.push({ places: [...places], lengthMm });
      // kept short on the way, so that a drawer full of one thread stays bounded
      if (found.length > 20 * limit) found.sort(inOrder).splice(limit);
      return;
    }
    stock.forEach((s, i) => {
      if (used[i] || looks.left <= 0) return;
      looks.left--;
      used[i] = true;
      places.push(i);
      if (mates(face, s.a)) extend(s.b, lengthMm + s.lengthMm);
      if (mates(face, s.b)) extend(s.a, lengthMm + s.lengthMm);
      places.pop();
      used[i] = false;
    });
  };
  extend(input.from, 0);
  return found.sort(inOrder).slice(0, limit);
}

/** Chains of adapters that join two faces, each adapter at most once and either way round. */
export function adapters(input: AdaptersInput): AdaptersOutput {
  const chains: Chain[] = [];
  const most = Math.min(input.maxPieces, input.stock.length);
  const fewest = fewestFrom(input);
  const looks = { left: MOST_LOOKS };
  for (let pieces = 0; pieces <= most && chains.length < input.limit && looks.left > 0; pieces++)
    chains.push(...chainsOf(input, pieces, fewest, looks).slice(0, input.limit - chains.length));
  const cutShort = looks.left <= 0;
  const name = (t: Thread) => `${t.size} ${t.gender}`;
  const first = chains[0];
  const ids = (c: Chain) => c.places.map((i) => input.stock[i]!.id);
  return {
    chains: chains.map((c) => ({ ids: ids(c), lengthMm: c.lengthMm })),
    cutShort,
    working: [
      {
        label: 'Faces',
        formula: 'same size, opposite gender',
        value: `${name(input.from)} to ${name(input.to)}`,
        unit: '',
      },
      { label: 'Chains', formula: `at most ${input.maxPieces} adapters, each once`, value: chains.length, unit: '' },
    ],
    verdict: !first
      ? makeVerdict(
          'bad',
          phrase(cutShort ? 'train.no-chain-looked-at' : 'train.no-chain', {
            from: name(input.from),
            to: name(input.to),
          }),
        )
      : first.places.length === 0
        ? makeVerdict('good', phrase('train.as-they-are', { from: name(input.from), to: name(input.to) }))
        : makeVerdict(
            'good',
            phrase('train.joined', { stack: ids(first).join(' + '), lengthMm: first.lengthMm }),
            ...(cutShort ? [phrase('train.looked-at-part')] : []),
          ),
  };
}

export const trainAdapters = define({
  name: 'train.adapters',
  summary: 'Chains of thread adapters that join two faces',
  sources: ['Search over the drawer'],
  input: AdaptersInput,
  output: AdaptersOutput,
  compute: adapters,
});
