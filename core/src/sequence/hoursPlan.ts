import { firstLeg, firstLegs, freeId, type AdoptedOffsets, type PlannedProject } from './firstPlan.ts';
import { MOST_LEGS, type Leg } from './nightPlan.ts';

/** Hours of a night that are somebody’s, for one project. */
export interface ProjectHours {
  project: PlannedProject;
  start: string;
  end: string;
}
/** Gaps are filled from this many objects at most. */
export const MOST_BACKUPS = 2;

/**
 * The legs of a night whose hours are spoken for: each project in its hours, and behind them others for the gaps from the first to
 * the last of them: what lies before and after is nobody’s by this. A mosaic in turns gets as many legs as there is room for beside the others.
 * @param backups in the order in which they should come
 */
export function legsForHours(
  hours: readonly ProjectHours[],
  offsets: AdoptedOffsets | null,
  backups: readonly PlannedProject[] = [],
): Leg[] {
  const ordered = [...hours].sort((a, b) => (a.start < b.start ? -1 : 1));
  const behind = backups.filter((b) => !ordered.some((h) => h.project.id === b.id)).slice(0, MOST_BACKUPS);
  const legs: Leg[] = [];
  ordered.forEach(({ project, start, end }, i) => {
    const room = MOST_LEGS - behind.length - legs.length - (ordered.length - 1 - i);
    legs.push(...firstLegs(legs, project, offsets, { start, end }).slice(0, Math.max(0, room)));
  });
  if (!ordered.length) return legs;
  const whole = { start: ordered[0]!.start, end: ordered.reduce((last, h) => (h.end > last ? h.end : last), '') };
  for (const project of behind) {
    if (legs.length >= MOST_LEGS) break;
    legs.push({
      ...firstLeg(freeId(legs), project, offsets, whole, project.panels > 1 ? 0 : null),
      role: 'backup',
    });
  }
  return legs;
}
