import { InvalidInput, type Solver } from '../calculation/index.ts';
import { fieldOf, longestRun, maximumOf, NOBODY, Taken, type Allocation, type Field } from './field.ts';
import { programmeOf } from './programme.ts';
import type { AllocateInput } from './schemas.ts';

/** Refuses locks that name nothing, or that contradict a rule by themselves. @throws InvalidInput at the first of them */
export function demandLocks(input: AllocateInput): Field {
  const f = fieldOf(input);
  const slotAt = new Map(input.slots.map((s, i) => [s.id, i]));
  const projectAt = new Map(input.projects.map((p, i) => [p.id, i]));
  const taken = new Taken(f);
  const held = new Map<number, number>();
  input.locked.forEach((lock, i) => {
    const refuse = (what: 'slot' | 'project', why: string) => {
      throw InvalidInput.at(`locked.${i}.${what}`, `the lock of “${lock.slot}” for “${lock.project}”: ${why}`);
    };
    const slot = slotAt.get(lock.slot) ?? refuse('slot', 'there is no such slot');
    const project = projectAt.get(lock.project) ?? refuse('project', 'there is no such project');
    if (f.pairAt(slot, project) < 0) refuse('slot', 'the slot is not among those the project may have');
    const other = held.get(slot);
    if (other === project) return;
    if (other !== undefined) refuse('slot', `the slot is locked for “${input.projects[other]!.id}” already`);
    held.set(slot, project);
    const minutes = f.minutes[slot]!;
    if (!taken.withinNeed(project, minutes))
      refuse('project', `with it ${taken.byProject[project]! + minutes} min are locked, it needs ${f.needs[project]}`);
    const member = f.memberOf[project]!;
    if (!taken.withinMaximum(project, minutes))
      refuse(
        'project',
        `with it ${taken.ofMember(member) + minutes} min of “${member}” are locked, the most is ${maximumOf(f, member)}`,
      );
    taken.add(project, minutes);
  });
  const block = input.minimumBlockSlots;
  input.locked.forEach((lock, i) => {
    const [slot, project] = [slotAt.get(lock.slot)!, projectAt.get(lock.project)!];
    const free = (s: number) => f.locked[s] === NOBODY || f.locked[s] === project;
    const run = longestRun(f, slot, project, free);
    if (run < block)
      throw InvalidInput.at(
        `locked.${i}.slot`,
        `the lock of “${lock.slot}” for “${lock.project}”: its run can be ${run} slots long, the shortest is ${block}`,
      );
  });
  return f;
}

/** Time for one question whether some of the locks can be kept [s]. */
const TRY_S = 2;
/** The first lock that cannot be kept beside those before it; null where that was not found out. */
export function lockInTheWay(f: Field, solver: Solver): number | null {
  const slotAt = new Map(f.input.slots.map((s, i) => [s.id, i]));
  const locks = new Int32Array(f.locked.length).fill(NOBODY);
  for (const [i, { slot }] of f.input.locked.entries()) {
    const at = slotAt.get(slot)!;
    locks[at] = f.locked[at]!;
    const { programme } = programmeOf(f, locks);
    const { state } = solver.maximise(
      { ...programme, cost: new Float64Array(programme.cost.length) },
      { timeLimitS: TRY_S, gap: 1 },
    );
    if (state === 'infeasible') return i;
  }
  return null;
}

/** Whether every run is long enough: what was made without looking at that may have short ones around its locks. */
export function runsHold(f: Field, given: Allocation): boolean {
  const block = f.input.minimumBlockSlots;
  if (block === 1) return true;
  return given.every((project, slot) => {
    if (project === NOBODY) return true;
    return longestRun(f, slot, project, (s) => given[s] === project) >= block;
  });
}
