import { NOBODY, SLACK, Taken, type Allocation, type Field, type Pair } from './field.ts';
import type { Given } from './schemas.ts';

/**
 * What was given before, under the locks and limits of now: what is locked for somebody else is theirs, and whoever then has too
 * much gives back what is worth least of it. Free slots then go, one by one, to whom they are worth most.
 * @returns null where nothing stood
 */
export function standingAllocation(f: Field, standing: readonly Given[]): Allocation | null {
  if (standing.length === 0) return null;
  const slotAt = new Map(f.input.slots.map((s, i) => [s.id, i]));
  const projectAt = new Map(f.input.projects.map((p, i) => [p.id, i]));
  const given = Int32Array.from(f.locked);
  const taken = new Taken(f, given);
  const wished = standing.flatMap((g) => {
    const [slot, project] = [slotAt.get(g.slot), projectAt.get(g.project)];
    if (slot === undefined || project === undefined || f.locked[slot] !== NOBODY) return [];
    const at = f.pairAt(slot, project);
    return at < 0 ? [] : [f.pairs[at]!];
  });
  for (const { slot, project } of wished.sort((a, b) => b.worth - a.worth || a.slot - b.slot)) {
    if (given[slot] !== NOBODY || !taken.allows(project, f.minutes[slot]!)) continue;
    given[slot] = project;
    taken.add(project, f.minutes[slot]!);
  }
  for (let best = bestFree(f, given, taken); best; best = bestFree(f, given, taken)) {
    given[best.slot] = best.project;
    taken.add(best.project, f.minutes[best.slot]!);
  }
  return given;
}

/** The free slot that adds most, beside a run of its project where runs have a shortest length; null where none adds anything. */
function bestFree(f: Field, given: Allocation, taken: Taken): Pair | null {
  let [best, most]: [Pair | null, number] = [null, SLACK];
  for (const pair of f.pairs) {
    if (given[pair.slot] !== NOBODY || pair.worth <= most || !taken.allows(pair.project, f.minutes[pair.slot]!))
      continue;
    const beside = [f.before[pair.slot]!, f.after[pair.slot]!].filter((s) => s !== NOBODY && given[s] !== NOBODY);
    if (f.input.minimumBlockSlots > 1 && !beside.some((s) => given[s] === pair.project)) continue;
    const gain = pair.worth - f.input.switchPenalty * beside.filter((s) => given[s] !== pair.project).length;
    if (gain > most) [best, most] = [pair, gain];
  }
  return best;
}
