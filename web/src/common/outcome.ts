import type { Problem } from '@keen/contract';
import { InvalidInput } from '@keen/core/calculation';

/** What came back from the server or from the worker: the value, or the problem that says what is wrong. */
export type Outcome<T> = { ok: true; value: T } | { ok: false; problem: Problem };

/** A problem of this side: what the craft refused, with its places, or what went wrong in working it out. */
function problemOf(e: unknown): Problem {
  const title = e instanceof Error ? e.message : String(e);
  return e instanceof InvalidInput
    ? { type: 'about:blank', title, status: 400, code: e.code, issues: [...e.issues] }
    : { type: 'about:blank', title, status: 500, code: 'failed' };
}

/** Runs a piece of work; what it throws becomes a problem. */
export function outcomeOf<T>(work: () => T): Outcome<T> {
  try {
    return { ok: true, value: work() };
  } catch (e) {
    return { ok: false, problem: problemOf(e) };
  }
}

/** The result, or null where the input is not (yet) one that can be reckoned with; anything else that goes wrong is thrown. */
export function valueOrNull<T>(work: () => T): T | null {
  try {
    return work();
  } catch (e) {
    if (e instanceof InvalidInput) return null;
    throw e;
  }
}

/** One line for a person. */
export const problemText = (p: Problem): string => p.detail ?? p.title;

/** The line with its places, where there are any: what is wrong with which field. */
export const problemPlaces = (p: Problem): string =>
  p.issues?.map((i) => (i.path ? `${i.path}: ${i.message}` : i.message)).join('; ') || problemText(p);
