import { phrase, type PlainPhrase } from '../phrases/index.ts';
import { longestRun, maximumOf, NOBODY, SLACK, Taken, type Allocation, type Field } from './field.ts';

/** Names of others in one sentence at most. */
const NAMED = 3;

/** Why a project has no more than it has: the first rule that binds, looked up in the allocation itself. */
export function whyNoMore(f: Field, given: Allocation, project: number, taken = new Taken(f, given)): PlainPhrase {
  if (taken.byProject[project]! >= f.needs[project]! - SLACK) return phrase('season.why-met');
  const own = f.pairs.filter((p) => p.project === project);
  if (own.length === 0) return phrase('season.why-nowhere');
  const more = own.filter((p) => given[p.slot] !== project);
  if (more.length === 0) return phrase('season.why-all');
  const needed = more.filter((p) => taken.withinNeed(project, f.minutes[p.slot]!));
  if (needed.length === 0) return phrase('season.why-remainder');
  const member = f.memberOf[project]!;
  const allowed = needed.filter((p) => taken.withinMaximum(project, f.minutes[p.slot]!));
  if (allowed.length === 0) return phrase('season.why-maximum', { member, maxMinutes: maximumOf(f, member) });
  const free = allowed.filter((p) => given[p.slot] === NOBODY);
  if (free.length === 0) {
    const holders = new Map<number, number>();
    for (const p of allowed) holders.set(given[p.slot]!, (holders.get(given[p.slot]!) ?? 0) + 1);
    const most = [...holders].sort((a, b) => b[1] - a[1]).slice(0, NAMED);
    return phrase('season.why-others', { projects: most.map(([p]) => f.input.projects[p]!.id) });
  }
  // one slot more by itself: in a run that is long enough with it
  const block = f.input.minimumBlockSlots;
  const runs = free.filter((p) => longestRun(f, p.slot, project, (s) => given[s] === project) >= block);
  if (runs.length === 0) return phrase('season.why-block', { slots: block });
  if (runs.every((p) => p.worth === 0)) return phrase('season.why-worthless');
  const changes = (slot: number) =>
    [f.before[slot]!, f.after[slot]!].filter((s) => s !== NOBODY && given[s] !== NOBODY && given[s] !== project).length;
  const gain = Math.max(...runs.map((p) => p.worth - f.input.switchPenalty * changes(p.slot)));
  return gain <= SLACK ? phrase('season.why-switch') : phrase('season.why-open', { gain });
}
