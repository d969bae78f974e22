import { stillWanted, type TimelineInput } from '../sequence/index.ts';
import type { RunResult } from './run.ts';
import { judge, phrase } from '../phrases/index.ts';

/** Share of refused frames from which a night deserves a second look; common practice, no source. */
const MANY_REJECTED = 0.2;

/** What came of a run: counts, where the minutes went, and one sentence. */
export function runSummary(
  timeline: TimelineInput,
  end: string,
  acceptedOf: readonly number[],
  { events, frames, focusRuns }: Pick<RunResult, 'events' | 'frames' | 'focusRuns'>,
): RunResult {
  const accepted = Object.fromEntries(timeline.filters.map((f, i) => [f.name, acceptedOf[i]!]));
  const rejected = frames.filter((f) => !f.accepted).length;
  const lostS: Record<string, number> = {};
  let openShutterS = 0;
  for (const e of events) {
    const s = (Date.parse(e.end) - Date.parse(e.start)) / 1000;
    if (e.kind === 'expose') openShutterS += s;
    else if (s > 0) lostS[e.kind] = (lostS[e.kind] ?? 0) + s;
  }
  const good = acceptedOf.reduce((s, n) => s + n, 0);
  const short = timeline.filters.filter((f, i) => stillWanted(f, acceptedOf[i]!) > 0 && f.quota !== undefined);
  const cloudMin = Math.round((lostS.cloud ?? 0) / 60);
  return {
    start: timeline.start,
    end,
    events,
    frames,
    focusRuns,
    accepted,
    rejected,
    lostS,
    openShutterS,
    verdict: judge(
      good === 0 ? 'bad' : rejected > MANY_REJECTED * frames.length ? 'caution' : 'good',
      phrase(cloudMin ? 'run.frames-cloud' : 'run.frames', { good, rejected, cloudMin }),
      short.length
        ? phrase('run.still-wanted', { perFilter: short.map((f) => `${f.name} ${stillWanted(f, accepted[f.name]!)}`) })
        : phrase('sequence.quotas-reached'),
    ),
  };
}
