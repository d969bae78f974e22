import type { Pace } from '@keen/core/observatory';

/** Time that was lost is not run after, beyond so much [ms]. */
const BEHIND_MS = 1000;

export interface Pacing {
  speed: () => number;
  /** Done while one waits, again and again; true: whoever waits is called. */
  meanwhile: () => Promise<boolean>;
  /** How long at most between two of them [ms]. */
  everyMs: number;
}

/** Lets time pass so many times as fast as the world’s; while something is caught up with, at once. */
export function pacer({ speed, meanwhile, everyMs }: Pacing): { pace: Pace; begin: () => void; wake: () => void } {
  let realMs: number | null = null;
  let woken: (() => void) | null = null;
  const wait = (ms: number) =>
    new Promise<void>((done) => {
      const timer = setTimeout(end, ms);
      function end() {
        clearTimeout(timer);
        woken = null;
        done();
      }
      woken = end;
    });
  async function slow(fromMs: number, towardsMs: number): Promise<number> {
    let at = fromMs;
    for (;;) {
      if (await meanwhile()) return at;
      // by the speed of now: it may have been changed meanwhile
      const now = performance.now();
      at = Math.min(towardsMs, at + (now - realMs!) * speed());
      realMs = now;
      if (at >= towardsMs) return towardsMs;
      await wait(Math.min(everyMs, (towardsMs - at) / speed()));
    }
  }
  return {
    begin: () => (realMs = performance.now()),
    wake: () => woken?.(),
    pace: (fromMs, towardsMs) => {
      if (realMs === null) return towardsMs;
      const due = realMs + (towardsMs - fromMs) / speed();
      const now = performance.now();
      if (due > now) return slow(fromMs, towardsMs);
      realMs = Math.max(due, now - BEHIND_MS);
      return towardsMs;
    },
  };
}
