import { phrase } from '../phrases/index.ts';
import { asFound, beginTurn, whoseTurn, type Next } from '../sequence/index.ts';
import { DeviceFault, type Observatory } from './devices.ts';
import { focusAlone } from './focusRoutine.ts';
import { takeFrame } from './frameRoutine.ts';
import { doSteps } from './openingClosing.ts';
import type { RunPlan, RunResult } from './run.ts';
import { RunContext, type WorkedLeg } from './runContext.ts';
import { runSummary } from './runSummary.ts';
import { shutBecause, waitShut } from './weatherWait.ts';

/**
 * Carries a plan out on an observatory: prepares, exposes, judges each frame, waits out cloud, flips, refocuses.
 * Knows only what the devices say; the order of filters counts accepted frames.
 * @param progress  told after each step: share of the night that is over, and the frames there are
 */
export async function conduct(
  plan: RunPlan,
  o: Observatory,
  progress: (share: number, frames: number) => void = () => undefined,
): Promise<RunResult> {
  const c = new RunContext(plan, o);
  const { clock, mount, guider } = o;
  const startMs = clock.now();
  const start = c.iso(startMs);
  await unlessFault(c, async () => {
    await doSteps(c, 'opening', plan.opening);
    const openedMs = clock.now();
    c.legs = c.legs.map((l) => ({
      ...l,
      state: { ...l.state, lastFocusEnd: Math.max(l.rules.startMs, openedMs) },
    }));
    while (!c.closed && (await nextOfNight(c)))
      progress(Math.min(1, (clock.now() - startMs) / Math.max(1, plan.endMs - startMs)), c.frames.length);
  });
  c.working = false;
  // each by itself: a guider that is gone leaves no telescope out in the morning
  await unlessFault(c, () => guider.stop());
  const parked = await unlessFault(c, () => mount.park());
  if (!parked) c.note('run.not-parked');
  // what could not be parked is not said to be
  const closing = plan.closing.filter((s) => parked || s.step !== 'park');
  if (closing.length) await unlessFault(c, () => doSteps(c, 'closing', closing));
  else {
    if (clock.now() < plan.endMs && !c.closed)
      await c.timed('wait', phrase(c.legs.length ? 'run.wait-done' : 'run.wait-none-free'), () =>
        clock.sleep(plan.endMs - clock.now()),
      );
    if (parked) c.note('run.parked-warming');
  }
  const { events, frames, focusRuns } = c;
  const taken = c.legs.map((l) => ({
    projectId: l.projectId,
    object: l.target.name,
    timeline: l.timeline,
    taken: l.state.taken,
  }));
  return runSummary(taken, start, c.iso(clock.now()), { events, frames, focusRuns });
}

/** Does something; a device that fails ends the night, and it is written down. @returns whether it was done */
async function unlessFault(c: RunContext, work: () => Promise<unknown>): Promise<boolean> {
  try {
    await work();
    return true;
  } catch (e) {
    if (!(e instanceof DeviceFault)) throw e;
    c.note('run.device-fault', { device: e.device, reason: e.message });
    c.closed = true;
    return false;
  }
}

/** What is known for a leg at this moment; nobody knows when a cloud will come or go, but a follower what its lead will do. */
function conditions(c: RunContext, leg: WorkedLeg, nowMs: number) {
  const moves = leg.moving?.find(([from, until]) => from <= nowMs && nowMs < until);
  return {
    nowMs,
    shutUntilMs: moves?.[1] ?? null,
    shutsAtMs: c.nextMoveMs(leg),
    focusNow: c.refocus,
    temperatureC: c.o.focuser.temperatureC(),
  };
}

/** What comes next, and does it. @returns whether the night goes on */
async function nextOfNight(c: RunContext): Promise<boolean> {
  const nowMs = c.o.clock.now();
  c.legs = asFound(c.legs, c.at, {
    nowMs,
    wheel: c.frames.length || c.focused ? c.o.wheel.current() : '',
    focused: c.focused !== null,
  });
  const next = whoseTurn(c.legs, c.at, (legIndex) => conditions(c, c.legs[legIndex]!, nowMs));
  if (next.do === 'close') return false;
  if (next.do === 'wait') await waitFor(c, next, nowMs);
  else await work(c, next, nowMs);
  c.working = false;
  return true;
}

async function waitFor(c: RunContext, next: Next & { do: 'wait' }, nowMs: number): Promise<void> {
  c.working = next.legIndex !== null;
  if (next.legIndex !== null && c.at.legIndex === null) c.legIndex = next.legIndex;
  if (next.legIndex !== null && next.companion)
    c.happened({ what: 'second-camera', companion: next.companion }, next.legIndex);
  const because = next.why === 'second-camera' ? { because: next.why } : {};
  await c.timed('wait', phrase(`run.wait-${next.why}`), () => c.o.clock.sleep(next.untilMs - nowMs), because);
  // the lead has moved the mount meanwhile
  if (next.why === 'cloud') c.happenedTo((l) => l.moving !== undefined, { what: 'shut' });
}

async function work(c: RunContext, next: Next & { do: 'frame' }, nowMs: number): Promise<void> {
  c.working = true;
  const shut = shutBecause(c);
  if (shut) {
    c.legIndex = next.legIndex;
    await waitShut(c, shut, c.leg.hours.find(([a, b]) => a <= nowMs && nowMs < b)![1]);
    return;
  }
  // another object: point, guide and, by the leg's rule, focus anew
  if (c.at.legIndex !== null && c.at.legIndex !== next.legIndex) await c.o.guider.stop();
  const begun = beginTurn(c.legs, c.at, next, nowMs);
  c.legs = begun.legs;
  c.at = begun.at;
  c.legIndex = next.legIndex;
  if (next.step.do === 'frame') await takeFrame(c, next.step);
  else await focusAlone(c, next.step);
}
