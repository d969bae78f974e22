import type { Programme } from '../calculation/index.ts';
import { maximumOf, NOBODY, SLACK, type Allocation, type Field } from './field.ts';

/** Rows of a programme, gathered one by one. */
class Rows {
  readonly lower: number[] = [];
  readonly upper: number[] = [];
  readonly starts = [0];
  readonly indices: number[] = [];
  readonly values: number[] = [];
  /** Σ value·x ≤ upper. */
  atMost(upper: number, terms: readonly (readonly [column: number, value: number])[]): void {
    for (const [column, value] of terms) {
      this.indices.push(column);
      this.values.push(value);
    }
    this.starts.push(this.indices.length);
    this.lower.push(-Infinity);
    this.upper.push(upper);
  }
}

/** An allocation as a programme, and the way between the two. */
export interface AllocationProgramme {
  programme: Programme;
  /** Columns of an allocation, to begin a search with. */
  columnsOf: (given: Allocation) => Float64Array;
  allocationOf: (columns: Float64Array) => Allocation;
}

/**
 * The rules as rows. A column for each pair: given or not; where runs or changes count, one for each pair that may begin a run
 * (begun ≥ given − given before); and one for each pair of neighbours between which the project changes (changed ≥ before given +
 * one begun − 1). A run of at least n slots: what began in the last n slots is still given.
 * @param locks  which of the locks count; all where left out
 */
export function programmeOf(f: Field, locks: Int32Array = f.locked): AllocationProgramme {
  const { switchPenalty, minimumBlockSlots: block } = f.input;
  const n = f.pairs.length;
  const before = f.pairs.map((p) => (f.before[p.slot] === NOBODY ? -1 : f.pairAt(f.before[p.slot]!, p.project)));
  const after = f.pairs.map((p) => (f.after[p.slot] === NOBODY ? -1 : f.pairAt(f.after[p.slot]!, p.project)));
  /** Column that says a run begins at a pair: the pair’s own where nothing can be before it. */
  const begins = Int32Array.from({ length: n }, (_, k) => k);
  let columns = n;
  if (block > 1 || switchPenalty > 0) for (let k = 0; k < n; k++) if (before[k]! >= 0) begins[k] = columns++;
  const changes = new Map<number, number>();
  if (switchPenalty > 0)
    for (let s = 0; s < f.minutes.length; s++)
      if (f.before[s] !== NOBODY && f.ofSlot[s]!.length && f.ofSlot[f.before[s]!]!.length) changes.set(s, columns++);

  const cost = new Float64Array(columns);
  const lower = new Float64Array(columns);
  const upper = new Float64Array(columns).fill(1);
  const whole = new Uint8Array(columns);
  f.pairs.forEach((p, k) => {
    cost[k] = p.worth;
    whole[k] = 1;
    const lock = locks[p.slot]!;
    const minutes = f.minutes[p.slot]!;
    if (lock === p.project) lower[k] = 1;
    else if (
      lock !== NOBODY ||
      minutes > f.needs[p.project]! + SLACK ||
      minutes > maximumOf(f, f.memberOf[p.project]!) + SLACK ||
      (block === 1 && p.worth === 0)
    )
      upper[k] = 0;
  });
  for (const column of changes.values()) cost[column] = -switchPenalty;

  const rows = new Rows();
  for (const ks of f.ofSlot)
    if (ks.length > 1)
      rows.atMost(
        1,
        ks.map((k) => [k, 1] as const),
      );
  const ofProject = f.needs.map(() => [] as (readonly [number, number])[]);
  const ofMember = new Map<string, (readonly [number, number])[]>();
  f.pairs.forEach((p, k) => {
    const term = [k, f.minutes[p.slot]!] as const;
    ofProject[p.project]!.push(term);
    const member = f.memberOf[p.project]!;
    if (ofMember.has(member)) ofMember.get(member)!.push(term);
    else ofMember.set(member, [term]);
  });
  ofProject.forEach((terms, project) => {
    if (terms.length) rows.atMost(f.needs[project]!, terms);
  });
  for (const [member, terms] of ofMember) {
    const most = maximumOf(f, member);
    if (most < Infinity) rows.atMost(most, terms);
  }
  for (let k = 0; k < n; k++) {
    if (begins[k] !== k)
      rows.atMost(0, [
        [k, 1],
        [before[k]!, -1],
        [begins[k]!, -1],
      ]);
    if (block === 1) continue;
    let [last, length] = [k, 1];
    while (length < block && after[last]! >= 0) [last, length] = [after[last]!, length + 1];
    if (length < block) upper[begins[k]!] = 0;
    const begun: [number, number][] = [];
    for (let [b, back] = [k, 0]; b >= 0 && back < block; b = before[b]!, back++)
      if (begins[b] !== k) begun.push([begins[b]!, 1]);
    if (begun.length) rows.atMost(0, [...begun, [k, -1]]);
  }
  for (const [slot, column] of changes)
    rows.atMost(1, [
      ...f.ofSlot[f.before[slot]!]!.map((k) => [k, 1] as const),
      ...f.ofSlot[slot]!.map((k) => [begins[k]!, 1] as const),
      [column, -1],
    ]);

  return {
    programme: {
      cost,
      lower,
      upper,
      whole,
      rowLower: Float64Array.from(rows.lower),
      rowUpper: Float64Array.from(rows.upper),
      starts: Int32Array.from(rows.starts),
      indices: Int32Array.from(rows.indices),
      values: Float64Array.from(rows.values),
    },
    columnsOf(given) {
      const x = new Float64Array(columns);
      given.forEach((project, slot) => {
        if (project === NOBODY) return;
        const k = f.pairAt(slot, project);
        x[k] = 1;
        const previous = f.before[slot]!;
        const was = previous === NOBODY ? NOBODY : given[previous]!;
        if (was !== project) x[begins[k]!] = 1;
        if (was !== NOBODY && was !== project && changes.has(slot)) x[changes.get(slot)!] = 1;
      });
      return x;
    },
    allocationOf(x) {
      const given = new Int32Array(f.minutes.length).fill(NOBODY);
      f.pairs.forEach((p, k) => {
        if (x[k]! > 0.5) given[p.slot] = p.project;
      });
      return given;
    },
  };
}
