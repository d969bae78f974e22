import { phrase } from '../phrases/index.ts';
import type { RunState, ShutBecause, Task } from './state.ts';
import { ask, timed, type Work } from './work.ts';

type Of<T extends Task['t']> = Task & { t: T };
/** How often the sky is looked at while one waits for it [ms]. */
export const LOOK_MS = 60_000;
const MIN_MS = 60_000;
/** Share of a limit below which it is opened again; common practice, no source. */
const AIR_SLACK = 0.85;

/** A roof that is closed before the legs, or after them: the run itself opens and closes it. */
export const isRoofShut = ({ readings: { roof }, working }: RunState): boolean =>
  roof !== undefined && roof !== 'open' && !working;

/** What keeps the sky shut, by the sensors on the roof and the plan’s limits; null where nothing does. */
export function shutBecause({ plan, readings, airShut }: RunState): ShutBecause | null {
  const { wind, damp } = plan.watches;
  if (!readings.safe) return 'interlock';
  if (!readings.clear) return 'cloud';
  // once shut, it opens only when the air is well below its limit again
  const slack = airShut ? AIR_SLACK : 1;
  if (wind && readings.windMS > wind.aboveMS * slack) return 'wind';
  if (damp && 100 * readings.humidity > damp.abovePercent * slack) return 'damp';
  return null;
}

/** A motor that starts draws a supply down for a moment: it is low when it stays so [ms]; common practice, no source. */
const LOW_MS = 60_000;
/** When a supply that is too low ends the night [ms]; infinite where it does not. */
export const lowUntilMs = ({ supplyLowSinceMs, closed }: Pick<RunState, 'supplyLowSinceMs' | 'closed'>): number =>
  supplyLowSinceMs === null || closed ? Infinity : supplyLowSinceMs + LOW_MS;

/** The night is closed from here: what is under way is let go, but for what closes it already. */
export function endNow(w: Work): void {
  w.s.closed = true;
  if (w.s.waitingFor && !w.isClosing) w.letGo();
  w.endNight();
}

/** Waits for the sky, until a moment at most [ms]; whatever was pointed and guided must be so again. */
export const waitShut = (w: Work, because: ShutBecause, untilMs: number): void =>
  w.first(
    ask({ device: 'guider', do: 'stop' }),
    { t: 'shut', because, untilMs },
    {
      t: 'open-again',
      planIndex: w.leg.planIndex,
    },
  );

export function shut(w: Work, { because, untilMs }: Of<'shut'>): void {
  w.pop();
  const { plan, readings, nowMs } = w.s;
  if (because === 'cloud') {
    const longestMin = plan.watches.cloudClosesAfterMin;
    w.s.cloudSinceMs ??= nowMs;
    const givenUpMs = longestMin === null ? Infinity : w.s.cloudSinceMs + longestMin * MIN_MS;
    w.first(timed('cloud', phrase('run.shut-cloud'), [{ t: 'look', because, untilMs, givenUpMs }]), {
      t: 'cloud-over',
      givenUpMs,
    });
    return;
  }
  if (because === 'interlock') {
    w.first(timed('wait', phrase('run.shut-interlock'), [{ t: 'look', because, untilMs, givenUpMs: Infinity }]));
    return;
  }
  const values = { windMS: readings.windMS, humidityPercent: 100 * readings.humidity };
  if (plan.watches[because]!.then === 'close') {
    closeFor(w, because);
    return;
  }
  w.s.airShut = true;
  w.first(
    timed('wait', phrase(`run.shut-${because}`, values), [{ t: 'look', because, untilMs, givenUpMs: Infinity }]),
    {
      t: 'air-over',
    },
  );
}
/** Such an air closes the night. */
export function closeFor(w: Work, because: 'wind' | 'damp'): void {
  const { windMS, humidity } = w.s.readings;
  w.s.closed = true;
  w.note(`run.closed-${because}`, { windMS, humidityPercent: 100 * humidity });
}
/** Looks again and again. */
export function look(w: Work, { because, untilMs, givenUpMs }: Of<'look'>): void {
  const { nowMs, readings } = w.s;
  // while it is shut the other limit may hold it: either of them does, or it would be shut again at once
  const why = shutBecause(w.s);
  const still =
    because === 'cloud' ? !readings.clear : because === 'interlock' ? !readings.safe : why === 'wind' || why === 'damp';
  const latest = Math.min(untilMs, givenUpMs);
  if (!still || nowMs >= latest) return w.pop();
  w.first({ t: 'until', ms: nowMs + Math.min(LOOK_MS, latest - nowMs) });
}
/** So long the interlock is waited for where something has to move [ms]: to the end of the night, and an hour for the closing. */
export const safeBy = ({ plan, nowMs }: RunState): number => Math.max(nowMs, plan.endMs) + 60 * MIN_MS;
export function airOver(w: Work): void {
  w.pop();
  w.s.airShut = false;
}
export function cloudOver(w: Work, { givenUpMs }: Of<'cloud-over'>): void {
  w.pop();
  const { plan, readings, nowMs } = w.s;
  const longestMin = plan.watches.cloudClosesAfterMin;
  if (readings.clear) w.s.cloudSinceMs = null;
  else if (longestMin !== null && nowMs >= givenUpMs) {
    w.s.closed = true;
    w.note('run.closed-cloud', { longestMin });
  }
}
export function openAgain(w: Work, { planIndex }: Of<'open-again'>): void {
  w.pop();
  w.happenedTo((l) => l.planIndex === planIndex || l.follows === true, { what: 'shut' });
}
