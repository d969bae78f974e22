import type { OffsetSetRecord, PlanRecord, ProjectRecord } from '@keen/contract';
import type { Leg, PlanSettings } from '@keen/core/sequence';
import type { TargetOutput } from '@keen/core/sky';

/**
 * What a careful person would begin with: all goals, lagging once something is there, offsets where they are adopted. Without
 * offsets every change costs a focus run, so one filter after the other; with one filter the clock says when to focus.
 */
export function firstSettings(project: ProjectRecord, offsets: OffsetSetRecord | null): PlanSettings {
  const covered = offsets !== null && project.goals.every((g) => g.filter in offsets.offsets);
  const begun = Object.values(project.done).some((n) => n > 0);
  const one = project.goals.length === 1;
  const everyC = refocusEveryC(offsets);
  return {
    filters: project.goals.map((g) => ({ name: g.filter, exposureS: g.exposureS, quota: g.quota })),
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
export const refocusEveryC = (o: OffsetSetRecord | null): number | null =>
  o?.zoneSteps && o.temperatureStepsPerC ? Math.max(0.1, o.zoneSteps / 2 / Math.abs(o.temperatureStepsPerC)) : null;

/** Longest stretch of a window that no other plan holds. */
export function freeSpan(t: TargetOutput, taken: readonly PlanRecord[]): { start: string; end: string } | null {
  let best: [number, number] | null = null;
  for (const w of t.windows) {
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
  project: ProjectRecord,
  offsets: OffsetSetRecord | null,
  span: { start: string; end: string },
): Leg => ({
  id,
  projectId: project.id,
  role: 'main',
  from: { by: 'clock', at: minute(span.start) },
  until: { by: 'clock', at: minute(span.end) },
  settings: firstSettings(project, offsets),
  guiding: true,
  meridian: 'flip',
});

/** A name for a leg that no other of the plan has. */
export function freeId(legs: readonly Leg[]): string {
  for (let n = legs.length + 1; ; n++) if (!legs.some((l) => l.id === `leg-${n}`)) return `leg-${n}`;
}
