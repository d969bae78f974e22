import type { RunEvent } from '../observatory/index.ts';
import { atNow, playedOn, type Coming } from './ahead.ts';
import type { RunState } from './state.ts';
import { step } from './step.ts';

/**
 * What is under way and what comes next, with its times, if nothing goes wrong.
 * @param most  how many
 */
export function outlook(state: RunState, most = 4): Coming[] {
  const coming: Coming[] = [];
  if (most > 0) for (const c of playedOn({ ...state, beside: null }, step)) if (coming.push(c) >= most) break;
  return coming;
}

/** What is under way: what it is, and since when; null where nothing is. */
export function underWay(s: RunState): { kind: RunEvent['kind']; phrase: RunEvent['phrase']; startMs: number } | null {
  const at = atNow(s);
  return at ? { kind: at.kind, phrase: at.what, startMs: at.startMs } : null;
}
