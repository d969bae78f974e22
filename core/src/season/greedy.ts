import { NOBODY, Taken, type Allocation, type Field } from './field.ts';

/**
 * What a person would do: locks first; then pieces of the shortest run for one project, the most worth first, each where its slots
 * are free and need and maximum allow; then, while there is one, the best free slot beside a run of its project. What changes cost
 * is not looked at.
 */
export function greedyAllocation(f: Field): Allocation {
  const block = f.input.minimumBlockSlots;
  const given = Int32Array.from(f.locked);
  const taken = new Taken(f, given);

  const pieces: { slots: number[]; project: number; worth: number }[] = [];
  for (let slot = 0; slot < given.length; slot++) {
    const slots = [slot];
    while (slots.length < block && f.after[slots.at(-1)!]! !== NOBODY) slots.push(f.after[slots.at(-1)!]!);
    if (slots.length < block) continue;
    for (const first of f.ofSlot[slot]!) {
      const { project } = f.pairs[first]!;
      let worth = 0;
      for (const s of slots) {
        const at = f.pairAt(s, project);
        worth = at < 0 ? NaN : worth + f.pairs[at]!.worth;
      }
      if (worth > 0) pieces.push({ slots, project, worth });
    }
  }
  pieces.sort((a, b) => b.worth - a.worth || a.slots[0]! - b.slots[0]! || a.project - b.project);
  for (const { slots, project } of pieces) {
    const minutes = slots.reduce((sum, s) => sum + f.minutes[s]!, 0);
    if (slots.some((s) => given[s] !== NOBODY) || !taken.allows(project, minutes)) continue;
    for (const s of slots) given[s] = project;
    taken.add(project, minutes);
  }
  if (block > 1) {
    const adjoins = (slot: number, project: number) =>
      [f.before[slot]!, f.after[slot]!].some((s) => s !== NOBODY && given[s] === project);
    for (;;) {
      let best = -1;
      for (let slot = 0; slot < given.length; slot++) {
        if (given[slot] !== NOBODY) continue;
        for (const at of f.ofSlot[slot]!) {
          const { project, worth } = f.pairs[at]!;
          if (worth <= (best < 0 ? 0 : f.pairs[best]!.worth)) continue;
          if (adjoins(slot, project) && taken.allows(project, f.minutes[slot]!)) best = at;
        }
      }
      if (best < 0) break;
      const { slot, project } = f.pairs[best]!;
      given[slot] = project;
      taken.add(project, f.minutes[slot]!);
    }
  }
  return given;
}
