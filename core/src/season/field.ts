import type { AllocateInput } from './schemas.ts';

/** A project in a slot it may have. */
export interface Pair {
  slot: number;
  project: number;
  quality: number;
  /** Weight × quality × minutes. */
  worth: number;
}

/** The input by number: slots and projects in their order, neighbours, pairs, what binds. */
export interface Field {
  input: AllocateInput;
  minutes: readonly number[];
  needs: readonly number[];
  memberOf: readonly string[];
  /** Neighbour before and after: same night and rig, order one less or more; −1: none. */
  before: Int32Array;
  after: Int32Array;
  pairs: readonly Pair[];
  /** Place of a pair among them; −1: the project may not have the slot. */
  pairAt: (slot: number, project: number) => number;
  ofSlot: readonly (readonly number[])[];
  /** Project locked into a slot; −1: none. */
  locked: Int32Array;
}
/** Project of each slot; −1: nobody’s. */
export type Allocation = Int32Array;
export const NOBODY = -1;
/** Sums of minutes may miss a limit by their last digits. */
export const SLACK = 1e-9;

/** Locks are taken as far as they name a pair; `demandLocks` says which do not. */
export function fieldOf(input: AllocateInput): Field {
  const { slots, projects } = input;
  const slotAt = new Map(slots.map((s, i) => [s.id, i]));
  const projectAt = new Map(projects.map((p, i) => [p.id, i]));
  const place = (night: string, rig: string, order: number) => JSON.stringify([night, rig, order]);
  const at = new Map(slots.map((s, i) => [place(s.night, s.rig, s.order), i]));
  const neighbour = (step: number) =>
    Int32Array.from(slots, (s) => at.get(place(s.night, s.rig, s.order + step)) ?? NOBODY);
  const where = new Map<number, number>();
  const key = (slot: number, project: number) => slot * projects.length + project;
  const pairs: Pair[] = [];
  const ofSlot: number[][] = slots.map(() => []);
  projects.forEach((p, project) => {
    for (const { slot: id, quality } of p.eligible) {
      const slot = slotAt.get(id)!;
      where.set(key(slot, project), pairs.length);
      ofSlot[slot]!.push(pairs.length);
      pairs.push({ slot, project, quality, worth: p.weight * quality * slots[slot]!.minutes });
    }
  });
  const locked = new Int32Array(slots.length).fill(NOBODY);
  for (const { slot, project } of input.locked ?? []) {
    const [s, p] = [slotAt.get(slot), projectAt.get(project)];
    if (s !== undefined && p !== undefined) locked[s] = p;
  }
  return {
    input,
    minutes: slots.map((s) => s.minutes),
    needs: projects.map((p) => p.needMinutes),
    memberOf: projects.map((p) => p.member),
    before: neighbour(-1),
    after: neighbour(1),
    pairs,
    pairAt: (slot, project) => where.get(key(slot, project)) ?? -1,
    ofSlot,
    locked,
  };
}

/** Most minutes a member may have; infinite where nothing is said. */
export const maximumOf = (f: Field, member: string): number =>
  Object.hasOwn(f.input.memberMaxMinutes ?? {}, member) ? f.input.memberMaxMinutes![member]! : Infinity;

/** What an allocation is worth: Σ weight·quality·minutes, less the price of every change between neighbours. */
export function objectiveOf(f: Field, given: Allocation): number {
  let worth = 0;
  let changes = 0;
  given.forEach((project, slot) => {
    if (project === NOBODY) return;
    worth += f.pairs[f.pairAt(slot, project)]!.worth;
    const next = f.after[slot]!;
    if (next !== NOBODY && given[next] !== NOBODY && given[next] !== project) changes++;
  });
  return worth - f.input.switchPenalty * changes;
}

/** Minutes by project and by member. */
export class Taken {
  readonly byProject: number[];
  readonly byMember = new Map<string, number>();
  private readonly f: Field;
  constructor(f: Field, given?: Allocation) {
    this.f = f;
    this.byProject = f.needs.map(() => 0);
    given?.forEach((project, slot) => {
      if (project !== NOBODY) this.add(project, f.minutes[slot]!);
    });
  }
  add(project: number, minutes: number): void {
    this.byProject[project]! += minutes;
    const member = this.f.memberOf[project]!;
    this.byMember.set(member, (this.byMember.get(member) ?? 0) + minutes);
  }
  ofMember(member: string): number {
    return this.byMember.get(member) ?? 0;
  }
  /** Whether need and maximum allow so many more. */
  allows(project: number, minutes: number): boolean {
    return this.withinNeed(project, minutes) && this.withinMaximum(project, minutes);
  }
  withinNeed(project: number, minutes: number): boolean {
    return this.byProject[project]! + minutes <= this.f.needs[project]! + SLACK;
  }
  withinMaximum(project: number, minutes: number): boolean {
    const member = this.f.memberOf[project]!;
    return this.ofMember(member) + minutes <= maximumOf(this.f, member) + SLACK;
  }
}

/** The longest run a project could have around a slot, in slots. */
export function longestRun(f: Field, slot: number, project: number, free: (slot: number) => boolean): number {
  const usable = (s: number) => s !== NOBODY && f.pairAt(s, project) >= 0 && free(s);
  let length = 1;
  for (let s = f.before[slot]!; usable(s); s = f.before[s]!) length++;
  for (let s = f.after[slot]!; usable(s); s = f.after[s]!) length++;
  return length;
}
