import { z } from 'zod';

/** Waiting for a steward, for hours that become free, standing, refused, or given back. */
export const BookingState = z.enum(['asked', 'waiting', 'held', 'declined', 'cancelled']);
export type BookingState = z.infer<typeof BookingState>;
/** States in which hours are somebody’s: nobody else is given them. */
export const TAKES_HOURS = ['asked', 'held'] as const satisfies readonly BookingState[];
export const takesHours = (state: BookingState): boolean => (TAKES_HOURS as readonly BookingState[]).includes(state);

/** A member asked for the hours, or the rules of the coming nights gave them. */
export const BookingOrigin = z.enum(['member', 'rules']);
export type BookingOrigin = z.infer<typeof BookingOrigin>;

/** What came of hours that are over, as somebody said. */
export const HoursOutcome = z.enum(['used', 'clouded', 'fault', 'unused']);
export type HoursOutcome = z.infer<typeof HoursOutcome>;

/** A stretch of time of one rig [ms]. */
export interface Hours {
  fromMs: number;
  untilMs: number;
}
export const overlap = (a: Hours, b: Hours): boolean => a.fromMs < b.untilMs && b.fromMs < a.untilMs;

/** Two stretches of one owner, one after the other, are one where they meet to the second. */
const MEET_MS = 1000;

/**
 * Slots that follow each other on one rig for one project, as stretches. @param slots of any order
 */
export function stretches<S extends Hours & { rigId: string; night: string; projectId: string }>(
  slots: readonly S[],
): (Hours & { rigId: string; night: string; projectId: string })[] {
  const sorted = [...slots].sort((a, b) => (a.rigId < b.rigId ? -1 : a.rigId > b.rigId ? 1 : a.fromMs - b.fromMs));
  const made: (Hours & { rigId: string; night: string; projectId: string })[] = [];
  for (const { rigId, night, projectId, fromMs, untilMs } of sorted) {
    const last = made.at(-1);
    const goesOn =
      last?.rigId === rigId &&
      last.night === night &&
      last.projectId === projectId &&
      Math.abs(last.untilMs - fromMs) <= MEET_MS;
    if (goesOn) last.untilMs = untilMs;
    else made.push({ rigId, night, projectId, fromMs, untilMs });
  }
  return made;
}

/**
 * Who moves up when hours become free: of those that wait, the longest waiting first, each whose hours are wholly free by then.
 * @param waiting in the order in which they asked
 * @param taken   hours of the same rig that somebody has
 */
export function movingUp<W extends Hours>(waiting: readonly W[], taken: readonly Hours[]): W[] {
  const [held, up]: [Hours[], W[]] = [[...taken], []];
  for (const w of waiting)
    if (!held.some((h) => overlap(h, w))) {
      held.push(w);
      up.push(w);
    }
  return up;
}
