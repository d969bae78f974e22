import { mates, type Thread } from './schemas.ts';

/** Some pieces of the drawer, by their places in it. */
export interface PieceStack {
  /** How many of each kind, sparse: kind, count. */
  parts: [number, number][];
  um: number;
  pieces: number;
}

/** Every multiset of at most so many pieces from the drawer. */
export function allStacks(lengths: number[], counts: number[], most: number): PieceStack[] {
  const found: PieceStack[] = [{ parts: [], um: 0, pieces: 0 }];
  const parts: [number, number][] = [];
  const extend = (from: number, um: number, pieces: number) => {
    for (let i = from; i < lengths.length; i++)
      for (let n = 1; n <= Math.min(counts[i]!, most - pieces); n++) {
        parts.push([i, n]);
        const next = um + n * lengths[i]!;
        found.push({ parts: [...parts], um: next, pieces: pieces + n });
        if (pieces + n < most) extend(i + 1, next, pieces + n);
        parts.pop();
      }
  };
  extend(0, 0, 0);
  return found;
}

/** Pieces of a stack in an order in which every thread meets its mate between two faces; null when there is none. */
export function threadOrder(
  ids: number[],
  stock: readonly { a?: Thread | undefined; b?: Thread | undefined }[],
  from: Thread | undefined,
  to: Thread | undefined,
): number[] | null {
  const used = ids.map(() => false);
  const order: number[] = [];
  const fits = (a: Thread | undefined, b: Thread | undefined) => a === undefined || b === undefined || mates(a, b);
  const extend = (face: Thread | undefined): boolean => {
    if (order.length === ids.length) return fits(face, to);
    for (let k = 0; k < ids.length; k++) {
      if (used[k]) continue;
      const s = stock[ids[k]!]!;
      for (const [front, rear] of [
        [s.a, s.b],
        [s.b, s.a],
      ] as const) {
        if (!fits(face, front)) continue;
        used[k] = true;
        order.push(ids[k]!);
        // a piece without threads (a shim) hands the face on
        if (extend(front === undefined && rear === undefined ? face : rear)) return true;
        order.pop();
        used[k] = false;
      }
    }
    return false;
  };
  return extend(from) ? order : null;
}

/** Every piece of a stack on its own. */
export const flat = (s: PieceStack): number[] => s.parts.flatMap(([i, n]) => new Array<number>(n).fill(i));
