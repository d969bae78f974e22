/** What one step takes somebody who has done it before [min]; common practice, no source. */
export const STEP_MINUTES: Readonly<Record<string, number>> = {
  ground: 4,
  north: 2,
  screws: 1,
  seen: 5,
  interlock: 3,
  weights: 2,
  tube: 5,
  home: 3,
  balance: 8,
  mains: 3,
  connect: 4,
  slots: 1,
  cooling: 1,
  sun: 1,
  pole: 8,
  focus: 8,
  centre: 4,
  'guide-align': 6,
  calibrate: 5,
  star: 2,
  frame: 4,
  begin: 1,
  flip: 2,
  warm: 1,
};
/** A club's own step of which nothing is known [min]. */
export const OWN_STEP_MINUTES = 3;

export interface PacedStep {
  key: string;
  done: boolean;
  /** By when it should be done, epoch ms. */
  dueMs?: number;
  /** Before this it cannot be done: the Sun is up, no star is out; epoch ms. */
  notBeforeMs?: number;
}

export interface Paced {
  key: string;
  /** When it comes at the usual pace, epoch ms. */
  startMs: number;
  /** How far past its moment that is; 0 when in time or without one [min]. */
  lateMin: number;
}

/**
 * The open steps at the usual pace, one after the other in the list's own order, which is that of safety: who comes late
 * does the same things in the same order, and every time shifts.
 * @param steps  in the list's order
 * @param nowMs  epoch ms
 */
export function paced(steps: readonly PacedStep[], nowMs: number): Paced[] {
  let at = nowMs;
  return steps
    .filter((s) => !s.done)
    .map((s) => {
      const startMs = Math.max(at, s.notBeforeMs ?? at);
      at = startMs + (STEP_MINUTES[s.key] ?? OWN_STEP_MINUTES) * 60_000;
      const lateMin = s.dueMs === undefined ? 0 : Math.max(0, (startMs - s.dueMs) / 60_000);
      return { key: s.key, startMs, lateMin };
    });
}
