/**
 * The server's one clock. Given an instant it starts there and runs on at the usual rate: tests say what time it is.
 * @param start ISO instant; none: the machine's own time
 * @throws Error when the instant cannot be read
 */
export function makeClock(start: string | undefined, machine: () => number = Date.now): () => Date {
  if (!start) return () => new Date(machine());
  const begin = Date.parse(start);
  if (Number.isNaN(begin)) throw new Error(`KEEN_CLOCK: “${start}” is no instant such as 2026-11-19T15:00:00Z`);
  const offset = begin - machine();
  return () => new Date(machine() + offset);
}
