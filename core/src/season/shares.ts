import type { SeasonField } from './nights.ts';
import type { Given } from './schemas.ts';

/** Halvings until a level is known to a part in a thousand million. */
const HALVINGS = 60;

/**
 * Most minutes of each member, so that all come to the same level of hours received and hours to come, as far as each can use
 * theirs: who had less gets more, and what somebody cannot use raises the others. Slots are whole, so each may end one above it.
 * What is locked is theirs in any case.
 * @param received  by member, in the days that count [min]
 */
export function fairMaxima(
  { slots, projects }: SeasonField,
  received: Record<string, number>,
  locked: readonly Given[],
): Record<string, number> {
  const minutes = new Map(slots.map((s) => [s.id, s.minutes]));
  const sum = (ids: Iterable<string>) => [...ids].reduce((s, id) => s + (minutes.get(id) ?? 0), 0);
  const members = [...new Set(projects.map((p) => p.member))].map((member) => {
    const own = projects.filter((p) => p.member === member);
    const usable = sum(new Set(own.flatMap((p) => p.eligible.map((e) => e.slot))));
    const ids = new Set(own.map((p) => p.id));
    return {
      member,
      had: received[member] ?? 0,
      can: Math.min(
        usable,
        own.reduce((s, p) => s + p.needMinutes, 0),
      ),
      locked: sum(locked.filter((l) => ids.has(l.project)).map((l) => l.slot)),
    };
  });
  const total = sum(new Set(projects.flatMap((p) => p.eligible.map((e) => e.slot))));
  const gets = (level: number, m: (typeof members)[number]) => Math.max(0, Math.min(m.can, level - m.had));
  let [low, high] = [0, total + Math.max(0, ...members.map((m) => m.had)) + 1];
  for (let k = 0; k < HALVINGS; k++) {
    const level = (low + high) / 2;
    if (members.reduce((s, m) => s + gets(level, m), 0) < total) low = level;
    else high = level;
  }
  const slot = Math.max(0, ...slots.map((s) => s.minutes));
  return Object.fromEntries(
    members.map((m) => {
      const fair = gets(high, m);
      return [m.member, Math.max(m.locked, fair > 0 ? fair + slot : 0)];
    }),
  );
}
