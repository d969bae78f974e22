import { stillWanted, type TimelineInput } from '../sequence/index.ts';
import type { RunFrame, RunResult } from './run.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

/** Share of refused frames from which a night deserves a second look; common practice, no source. */
const MANY_REJECTED = 0.2;

/** What was taken for one leg: good frames by place of its filters. */
export interface LegTaken {
  projectId: string;
  /** What it is pointed at, to tell goals of several objects apart. */
  object?: string;
  timeline: TimelineInput;
  taken: readonly number[];
}

/** What came of a run: counts, where the minutes went, and one sentence. */
export function runSummary(
  legs: readonly LegTaken[],
  start: string,
  end: string,
  { events, frames, focusRuns }: Pick<RunResult, 'events' | 'focusRuns'> & { frames: RunFrame[] },
): RunResult {
  const accepted: Record<string, number> = {};
  for (const { timeline, taken } of legs)
    timeline.filters.forEach((f, i) => (accepted[f.name] = (accepted[f.name] ?? 0) + taken[i]!));
  const rejected = frames.filter((f) => !f.accepted).length;
  const lostS: Record<string, number> = {};
  let openShutterS = 0;
  for (const e of events) {
    const s = (Date.parse(e.end) - Date.parse(e.start)) / 1000;
    if (e.kind === 'expose') openShutterS += s;
    else if (s > 0) lostS[e.kind] = (lostS[e.kind] ?? 0) + s;
  }
  const good = Object.values(accepted).reduce((s, n) => s + n, 0);
  const short = stillShort(legs);
  const cloudMin = Math.round((lostS.cloud ?? 0) / 60);
  return {
    start,
    end,
    events,
    frames,
    focusRuns,
    accepted,
    rejected,
    lostS,
    openShutterS,
    follower: null,
    faults: [],
    verdict: makeVerdict(
      good === 0 ? 'bad' : rejected > MANY_REJECTED * frames.length ? 'caution' : 'good',
      phrase(cloudMin ? 'run.frames-cloud' : 'run.frames', { good, rejected, cloudMin }),
      short.length
        ? phrase('run.still-wanted', { perFilter: short })
        : // where no leg had any hours nothing was wanted of the night, and nothing is reached either
          phrase(legs.length ? 'sequence.quotas-reached' : 'run.none-free'),
    ),
  };
}

/** What the goals still want, each goal once however many legs worked for it. */
function stillShort(legs: readonly LegTaken[]): string[] {
  const left = new Map<string, { name: string; frames: number }>();
  const several = new Set(legs.map((l) => l.projectId)).size > 1;
  for (const { projectId, object, timeline, taken } of legs)
    timeline.filters.forEach((f, i) => {
      if (f.quota === undefined) return;
      const goal = `${projectId} ${f.name} ${f.exposureS}`;
      const before = left.get(goal);
      if (before) before.frames -= taken[i]!;
      else
        left.set(goal, { name: several && object ? `${object} ${f.name}` : f.name, frames: stillWanted(f, taken[i]!) });
    });
  return [...left.values()].filter((g) => g.frames > 0).map((g) => `${g.name} ${g.frames}`);
}
