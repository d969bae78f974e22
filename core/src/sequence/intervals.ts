/** From, until [ms]; the end is no part of it. A list of them is in order, and none touches the next. */
export type Interval = readonly [from: number, until: number];

/** Earliest and latest instant a date can hold. */
const EVER: Interval = [-8.64e15, 8.64e15];
export const ALWAYS: readonly Interval[] = [EVER];

/** Any intervals in order, joined where they touch, without empty ones. */
export function joined(list: readonly Interval[]): Interval[] {
  const out: [number, number][] = [];
  for (const [from, until] of [...list].filter(([a, b]) => b > a).sort((x, y) => x[0] - y[0])) {
    const last = out.at(-1);
    if (last && from <= last[1]) last[1] = Math.max(last[1], until);
    else out.push([from, until]);
  }
  return out;
}

/** When both hold. */
export function both(a: readonly Interval[], b: readonly Interval[]): Interval[] {
  const out: Interval[] = [];
  for (let i = 0, j = 0; i < a.length && j < b.length;) {
    const [from, until] = [Math.max(a[i]![0], b[j]![0]), Math.min(a[i]![1], b[j]![1])];
    if (until > from) out.push([from, until]);
    if (a[i]![1] < b[j]![1]) i++;
    else j++;
  }
  return out;
}

/** When one of them holds. */
export const either = (a: readonly Interval[], b: readonly Interval[]): Interval[] => joined([...a, ...b]);

/** When none of them holds. */
export function outside(list: readonly Interval[]): Interval[] {
  const out: Interval[] = [];
  let from = EVER[0];
  for (const [a, b] of list) {
    if (a > from) out.push([from, a]);
    from = b;
  }
  if (from < EVER[1]) out.push([from, EVER[1]]);
  return out;
}

export const lengthMs = (list: readonly Interval[]): number => list.reduce((s, [a, b]) => s + b - a, 0);
