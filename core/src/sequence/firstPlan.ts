import { countsAs, gatheredIn, goalFor, type Goal, type Progress } from '../record/index.ts';
import type { TargetOutput } from '../sky/index.ts';
import { ahead } from './evening.ts';
import { goalLayers } from './goals.ts';
import { MOST_LEGS, type Leg } from './nightPlan.ts';
import type { MoonRule, PlanSettings } from './plan.ts';

/** What a project asks for and has, as far as a plan for it begins with. */
export interface PlannedProject extends Progress {
  id: string;
  object: string;
  goals: Goal[];
  /** What was said for all of its nights. */
  season?: { moon: MoonRule | null } | undefined;
}
/** Offsets somebody adopted, as far as a plan begins with them. */
export interface AdoptedOffsets {
  offsets: Readonly<Record<string, unknown>>;
  zoneSteps: number | null;
  temperatureStepsPerC: number | null;
}

/**
 * What a careful person would begin with: these goals, lagging once something is there, offsets where they are adopted. Without
 * offsets every change costs a focus run, so one filter after the other; with one filter the clock says when to focus.
 */
export function firstSettings(
  project: PlannedProject,
  offsets: AdoptedOffsets | null,
  goals: Goal[] = goalLayers(project.goals)[0]!,
): PlanSettings {
  const covered = offsets !== null && goals.every((g) => g.filter in offsets.offsets);
  const begun = project.done.some((n) => n > 0);
  const one = goals.length === 1;
  const moon = project.season?.moon;
  const everyC = refocusEveryC(offsets);
  return {
    filters: goals.map((g) => ({ name: g.filter, exposureS: g.exposureS, quota: g.quota, ...(moon ? { moon } : {}) })),
    order: begun ? 'lagging' : covered || one ? 'rolling' : 'block',
    dither: { everyFrames: 2, perRound: false },
    focus: covered
      ? { policy: 'offsets', everyMin: 90, ...(everyC === null ? {} : { everyC: Math.round(everyC * 10) / 10 }) }
      : one
        ? { policy: 'every-change-and-time', everyMin: 60 }
        : { policy: 'every-change' },
    coolingCPerHour: 1,
  };
}

/** Largest change of temperature that stays inside half the critical zone [°C]. */
export const refocusEveryC = (o: AdoptedOffsets | null): number | null =>
  o?.zoneSteps && o.temperatureStepsPerC ? Math.max(0.1, o.zoneSteps / 2 / Math.abs(o.temperatureStepsPerC)) : null;

/** Longest stretch of a window that no other plan holds, and that is still to come. */
export function freeSpan(
  t: TargetOutput,
  taken: readonly { start: string; end: string }[],
  fromMs = -Infinity,
): { start: string; end: string } | null {
  let best: [number, number] | null = null;
  for (const w of ahead(t.windows, fromMs)) {
    let cursor = Date.parse(w.start);
    const end = Date.parse(w.end);
    const inside = taken.map((p) => [Date.parse(p.start), Date.parse(p.end)] as const).sort((a, b) => a[0] - b[0]);
    for (const [a, b] of [...inside, [end, end] as const]) {
      const stop = Math.min(end, a);
      if (stop > cursor && (!best || stop - cursor > best[1] - best[0])) best = [cursor, stop];
      cursor = Math.max(cursor, b);
    }
  }
  return best && { start: new Date(best[0]).toISOString(), end: new Date(best[1]).toISOString() };
}

const minute = (iso: string) => new Date(Math.round(Date.parse(iso) / 60_000) * 60_000).toISOString();
/** A leg of a project for these hours. */
export const firstLeg = (
  id: string,
  project: PlannedProject,
  offsets: AdoptedOffsets | null,
  span: { start: string; end: string },
  panel: number | null = null,
  goals?: Goal[],
): Leg => ({
  id,
  projectId: project.id,
  panel,
  role: 'main',
  turnMin: null,
  from: { by: 'clock', at: minute(span.start) },
  until: { by: 'clock', at: minute(span.end) },
  settings: firstSettings(project, offsets, goals),
  guiding: true,
  meridian: 'flip',
  centreWithinArcmin: 0.5,
  follower: null,
});

/** Length of a turn where the panels of a mosaic take turns [min]; common practice, no source. */
export const TURN_MIN = 30;
/** Its panels that still want frames. */
const openPanels = (p: PlannedProject) =>
  p.byPanel.flatMap((done, k) => (p.goals.some((g, i) => (done[i] ?? 0) < g.quota) ? [k] : []));
/** Goals by legs, each filter once in a leg; those that are reached are left out while others are not. */
function layersOf(p: PlannedProject, panel: number | null): Goal[][] {
  const layers = goalLayers(p.goals);
  const there = gatheredIn(p, panel);
  const open = layers.filter((l) => l.some((g) => (goalFor(there, g)?.done ?? 0) < g.quota));
  return open.length ? open : layers;
}

/**
 * The legs a project begins with: one, or one for each panel of its mosaic and each length of a filter that still wants
 * frames, in turns, so that after a short night all have something.
 * @param there legs the plan has already
 * @param panel one panel, the middle of the framing, or all panels
 */
export function firstLegs(
  there: readonly Leg[],
  project: PlannedProject,
  offsets: AdoptedOffsets | null,
  span: { start: string; end: string },
  panel: number | null | 'all' = project.panels > 1 ? 'all' : null,
): Leg[] {
  const open = openPanels(project);
  const panels = panel === 'all' ? (open.length ? open : project.byPanel.map((_, k) => k)) : [panel];
  const wanted = panels.flatMap((k) => layersOf(project, k).map((goals) => ({ k, goals })));
  return wanted.slice(0, MOST_LEGS - there.length).reduce<Leg[]>((made, { k, goals }) => {
    const leg = firstLeg(freeId([...there, ...made]), project, offsets, span, k, goals);
    return [...made, wanted.length > 1 ? { ...leg, turnMin: TURN_MIN } : leg];
  }, []);
}

/** Goals of a project’s panel that no leg of the plan works for, and that still want frames. */
export function unplannedGoals(legs: readonly Leg[], project: PlannedProject, panel: number | null): Goal[] {
  const there = gatheredIn(project, panel);
  const planned = legs
    .filter((l) => l.projectId === project.id && l.panel === panel)
    .flatMap((l) => l.settings.filters.map((f) => ({ filter: f.name, exposureS: f.exposureS })));
  // a filter that is left out of the plan altogether was left out on purpose
  return project.goals.filter(
    (g) =>
      planned.some((f) => f.filter === g.filter) &&
      !planned.some((f) => countsAs(g, f)) &&
      (goalFor(there, g)?.done ?? 0) < g.quota,
  );
}

/** What a leg is called: its object, and of a mosaic its panel. */
export function legName(leg: Leg, projects: readonly PlannedProject[]): string {
  const object = projects.find((p) => p.id === leg.projectId)?.object ?? 'an object that is gone';
  return leg.panel === null ? object : `${object}, panel ${leg.panel + 1}`;
}

/** A name for a leg that no other of the plan has. */
export function freeId(legs: readonly Leg[]): string {
  for (let n = legs.length + 1; ; n++) if (!legs.some((l) => l.id === `leg-${n}`)) return `leg-${n}`;
}
