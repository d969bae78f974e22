import { type Observatory, type RunPlan, type RunResult } from '../observatory/index.ts';
import { drive } from './drive.ts';
import type { Happened, Said } from './events.ts';
import { resultOf } from './project.ts';
import type { RunState } from './state.ts';

/** Share of a night of which it is worth telling. */
const TOLD = 0.01;
export interface Played {
  result: RunResult;
  events: Happened[];
  state: RunState;
}
/**
 * Plays a run on an observatory with a clock of its own, event by event, as fast as it answers.
 * @param progress  told after each event: share of the night that is over, and the frames there are
 */
export async function play(
  plan: RunPlan,
  o: Observatory,
  progress: (share: number, frames: number) => void = () => undefined,
): Promise<Played> {
  const startMs = o.clock.now();
  const events: Happened[] = [];
  const says: Said[] = [];
  const beside: Said[] = [];
  let known = { share: 0, frames: 0 };
  const state = await drive({
    o,
    plan,
    told: (event, stepped) => {
      events.push(event);
      says.push(...stepped.says);
      beside.push(...stepped.beside.says);
      const { nowMs, frames, finished } = stepped.state;
      const share = Math.min(1, (nowMs - startMs) / Math.max(1, plan.endMs - startMs));
      if (frames === known.frames && share < known.share + TOLD && !finished) return;
      known = { share, frames };
      progress(share, frames);
    },
  });
  return { result: resultOf(state, { says, beside }), events, state };
}
