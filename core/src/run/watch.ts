import { phrase } from '../phrases/index.ts';
import { isMotion } from './events.ts';
import type { RunState } from './state.ts';
import { hazardNow, isLeaving } from './motion.ts';
import { closeFor, endNow, lowUntilMs, shutBecause } from './shut.ts';
import { ask, timed, type Work } from './work.ts';

type Failed = (w: Work, device: 'mount', what: 'stands', reason: string) => void;
/**
 * What is looked at all the time, whatever is under way: the interlock, where the tube is, wind and damp, the guide star. What
 * must not go on is stopped at once; what comes next is asked anew of the night as it stands.
 */
export function watch(w: Work, before: Pick<RunState, 'readings'>, failed: Failed): void {
  const { readings, waitingFor } = w.s;
  const moving = waitingFor?.device === 'mount' && waitingFor.do !== 'connect';
  const exposing = waitingFor?.do === 'expose';
  // a dither of a few pixels ends by itself
  const stops = waitingFor !== null && isMotion(waitingFor) && waitingFor.do !== 'dither';
  if (!readings.safe && before.readings.safe && stops) return stop(w);
  if (supplyLow(w)) return;
  if (moving && readings.tube?.moves) {
    const hazard = hazardNow(w.s);
    if (hazard && !isLeaving(hazard, before.readings.tube, w.s)) {
      const { code, ...values } = hazard;
      stop(w);
      // a mount that goes where it must not is asked for nothing more; parking is looked at by itself
      return w.giveUp(`run.stopped-${code}`, values);
    }
  }
  if (!moving && readings.tube?.follows && readings.safe) followedInto(w);
  const why = shutBecause(w.s);
  if (why === 'wind' || why === 'damp') {
    // what is prepared meanwhile takes a minute or two, and the air is looked at before the exposure anyway
    if (exposing) return stop(w);
    // nobody goes on, and the night is to be closed in such an air
    if (w.s.paused && w.s.plan.watches[why]?.then === 'close') {
      closeFor(w, why);
      return void w.backToNight();
    }
  }
  // at its limit, or by a hand on its buttons
  if (exposing && !moving && readings.tube && !readings.tube.follows && !readings.tube.moves && readings.safe) {
    w.letGo();
    return failed(w, 'mount', 'stands', 'it does not follow the sky');
  }
  if (!exposing || !w.s.working || !w.leg.guiding) return;
  if (readings.guider === 'lost') starLost(w);
  else plateAtEnd(w);
}

/** While there is still enough to park with, the night is closed. @returns whether it was */
function supplyLow(w: Work): boolean {
  const below = w.s.plan.supply?.closesBelowV ?? null;
  const { supply } = w.s.readings;
  const isLow = below !== null && supply !== undefined && supply.on && supply.volts < below;
  w.s.supplyLowSinceMs = isLow ? (w.s.supplyLowSinceMs ?? w.s.nowMs) : null;
  if (w.s.nowMs < lowUntilMs(w.s)) return false;
  w.note('run.supply-low', { volts: supply!.volts, wanted: below! });
  endNow(w);
  return true;
}
/** A plate that is tilted this far of what it can has nothing left to give; if it stays there so long the frame is lost anyway [ms]. */
const AT_END = 0.94;
const AT_END_MS = 60_000;
function plateAtEnd(w: Work): void {
  const tilt = w.s.readings.tilt ?? [0, 0];
  const atEnd = Math.max(...tilt.map(Math.abs)) > AT_END;
  w.s.plateAtEndSinceMs = atEnd ? (w.s.plateAtEndSinceMs ?? w.s.nowMs) : null;
  if (w.s.plateAtEndSinceMs === null || w.s.nowMs < w.s.plateAtEndSinceMs + AT_END_MS) return;
  w.s.plateAtEndSinceMs = null;
  stop(w);
  w.note('run.plate-at-end');
  w.happenedTo(() => true, { what: 'shut' });
  w.first(ask({ device: 'guider', do: 'stop' }));
}

/** The sky has turned the tube to where it must not be: its leg has no more hours in this spell, and the mount is parked meanwhile. */
function followedInto(w: Work): void {
  const hazard = hazardNow(w.s);
  const parks = w.has((t) => (t.t === 'timed' || t.t === 'took') && t.kind === 'park');
  if (!hazard || parks || !w.isAtLegs) return;
  const { code, ...values } = hazard;
  if (w.s.waitingFor) w.letGo();
  w.backToNight();
  w.note(`run.followed-${code}`, values);
  w.endSpell();
  w.happenedTo(() => true, { what: 'shut' });
  w.first(
    ask({ device: 'guider', do: 'stop' }),
    timed('park', phrase('run.park-meanwhile'), [ask({ device: 'mount', do: 'park' })]),
  );
}
/** What is under way is stopped; in the night it is decided anew. */
function stop(w: Work): void {
  const { device } = w.s.waitingFor!;
  w.letGo();
  if (w.backToNight()) {
    if (device === 'mount') w.happenedTo(() => true, { what: 'shut' });
  } else if (w.top?.t === 'ask') w.replace({ ...w.top, id: null });
}
/** So long an exposure goes on without its star before it is lost anyway [ms]; common practice, no source. */
const WITHOUT_MS = 20_000;
function starLost(w: Work): void {
  const { lostSinceMs, nowMs } = w.s;
  if (lostSinceMs === null) {
    w.s.lostSinceMs = nowMs;
    return;
  }
  if (nowMs - lostSinceMs < WITHOUT_MS) return;
  w.s.lostSinceMs = null;
  stop(w);
  w.note('run.star-lost');
  w.happenedTo(() => true, { what: 'shut' });
  w.first(timed('wait', phrase('run.wait-star'), [{ t: 'pause', ms: WITHOUT_MS }]));
}
