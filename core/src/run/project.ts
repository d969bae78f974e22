import { runSummary, type RunResult } from '../observatory/index.ts';
import type { Happened, Said } from './events.ts';
import type { RunState } from './state.ts';
import { step } from './step.ts';
import { iso } from './work.ts';

/** What was said on the way, by either camera. */
export interface SaidOf {
  says: readonly Said[];
  beside: readonly Said[];
}
/** What came of a run, from where it stands and what was said on the way. */
export function resultOf(s: RunState, { says, beside }: SaidOf): RunResult {
  const lead = ofCamera(s, says);
  if (!s.beside || !beside.some((x) => x.said !== 'event')) return lead;
  const { follower: _none, faults: _asked, ...follower } = ofCamera({ ...s.beside, nowMs: s.nowMs }, beside);
  return { ...lead, follower };
}
function ofCamera(s: RunState, says: readonly Said[]): RunResult {
  const of = <K extends Said['said']>(kind: K) =>
    says.filter((x): x is Said & { said: K } => x.said === kind).map(({ said: _s, ...rest }) => rest);
  const taken = s.legs.map((l) => ({
    projectId: l.projectId,
    object: l.target.name,
    timeline: l.timeline,
    taken: l.state.taken,
  }));
  return runSummary(taken, iso(s.startMs), iso(s.nowMs), {
    events: of('event'),
    frames: of('frame'),
    focusRuns: of('focus'),
  } as Pick<RunResult, 'events' | 'focusRuns' | 'frames'>);
}

/** A run played again from its events: where it stands, and what was said. */
export function replay(events: readonly Happened[]): { state: RunState | null; says: Said[]; beside: Said[] } {
  let state: RunState | null = null;
  const says: Said[] = [];
  const beside: Said[] = [];
  for (const e of events) {
    const stepped = step(state, e);
    state = stepped.state;
    says.push(...stepped.says);
    beside.push(...stepped.beside.says);
  }
  return { state, says, beside };
}
