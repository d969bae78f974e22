import { goalFor, type Gathered, type Goal } from './goal.ts';

/** Light frames of one night, panel, filter and exposure. */
export interface Taken {
  night: string;
  panel: number | null;
  filter: string;
  exposureS: number;
  accepted: number;
  rejected: number;
}
/** What a project asks for, and what it has. `done` and `byPanel` stand in the order of its goals. */
export interface Progress {
  goals: readonly Goal[];
  panels: number;
  done: readonly number[];
  byPanel: readonly (readonly number[])[];
}
type Counted = Pick<Taken, 'panel' | 'filter' | 'exposureS' | 'accepted'>;

/** Accepted frames of each goal, in their order. */
const doneByGoal = (goals: readonly Goal[], taken: readonly Counted[]): number[] =>
  goals.map((g) => taken.reduce((s, t) => s + (goalFor(goals, t) === g ? t.accepted : 0), 0));

/** Progress of a project, from what its nights on record brought. Of a mosaic each panel counts up to what its goal asks for. */
export function progressOf(
  goals: readonly Goal[],
  taken: readonly Counted[],
  panels: number,
): Pick<Progress, 'done' | 'byPanel'> & { done: number[]; byPanel: number[][] } {
  if (panels === 1) return { done: doneByGoal(goals, taken), byPanel: [] };
  const byPanel = Array.from({ length: panels }, (_, k) =>
    doneByGoal(
      goals,
      taken.filter((t) => t.panel === k),
    ),
  );
  return {
    byPanel,
    done: goals.map((g, i) => byPanel.reduce((s, done) => s + Math.min(g.quota, done[i]!), 0)),
  };
}

/** Do frames like these count for anything the project asks for? */
export const servesGoal = (
  goals: readonly Goal[],
  taken: Pick<Taken, 'panel' | 'filter' | 'exposureS'>,
  panels: number,
): boolean => goalFor(goals, taken) !== undefined && (panels === 1 || (taken.panel !== null && taken.panel < panels));

/** Accepted frames of each goal in one panel; without a panel those of the project. */
export function gatheredIn(p: Progress, panel: number | null): Gathered[] {
  const done = panel === null ? p.done : (p.byPanel[panel] ?? []);
  return p.goals.map(({ filter, exposureS }, i) => ({ filter, exposureS, done: done[i] ?? 0 }));
}

/** The same as it was before one night brought its frames. */
export function gatheredBefore(
  p: Progress & { nights: readonly Taken[] },
  panel: number | null,
  night: string,
): Gathered[] {
  const gathered = gatheredIn(p, panel);
  for (const n of p.nights) {
    if (n.night !== night || (panel !== null && n.panel !== panel)) continue;
    const there = goalFor(gathered, n);
    if (there) there.done -= n.accepted;
  }
  return gathered;
}

/** Good frames no goal asks for, by filter and length: on record, not counted. */
export function gatheredAside(p: {
  goals: readonly Goal[];
  nights: readonly (Taken & { counts: boolean })[];
}): Gathered[] {
  const aside: Gathered[] = [];
  for (const n of p.nights) {
    if (n.counts || !n.accepted || goalFor(p.goals, n)) continue;
    const there = goalFor(aside, n);
    if (there) there.done += n.accepted;
    else aside.push({ filter: n.filter, exposureS: n.exposureS, done: n.accepted });
  }
  return aside;
}

/** A project’s goals over all its panels, with what is there and what is still wanted. */
export const stillWanted = <G extends Goal>(p: {
  goals: readonly G[];
  panels: number;
  done: readonly number[];
}): (G & { done: number; left: number })[] =>
  p.goals.map((g, i) => {
    const [quota, done] = [g.quota * p.panels, p.done[i] ?? 0];
    return { ...g, quota, done, left: Math.max(0, quota - done) };
  });

/** Open shutter that is there of what was asked for [s], each goal up to its quota. */
export function openShutterThere(p: Pick<Progress, 'goals' | 'panels' | 'done'>): { thereS: number; askedS: number } {
  const goals = stillWanted(p);
  const sum = (of: (g: (typeof goals)[number]) => number) => goals.reduce((s, g) => s + of(g) * g.exposureS, 0);
  return { thereS: sum((g) => g.quota - g.left), askedS: sum((g) => g.quota) };
}

/** Open shutter that is still wanted [min]. */
export const wantedMinutes = (p: Pick<Progress, 'goals' | 'panels' | 'done'>): number =>
  stillWanted(p).reduce((s, g) => s + (g.left * g.exposureS) / 60, 0);
