import { atNow, leadAhead, standsForLeg, type Step } from './ahead.ts';
import type { Follows, Happened, Readings } from './events.ts';
import type { RunState } from './state.ts';
import { PATIENCE_MS, Work, type Lead } from './work.ts';

/** How a run is played: handed over, so that a second camera is played by the same. */
export interface Player {
  step: Step;
  happened: (w: Work, event: Exclude<Happened, { code: 'began' }>) => void;
  advance: (w: Work) => void;
}
type Beside = Follows & { state: RunState };

/** What a second camera goes by at a moment. */
function leadOf(lead: RunState, nowMs: number, step: Step): Lead {
  const leg = lead.at.legIndex === null ? null : lead.legs[lead.at.legIndex]!;
  return {
    planIndex: leg?.planIndex ?? null,
    ahead: () => {
      const { shutUntilMs, shutsAtMs } = leadAhead(lead, leg?.planIndex ?? -1, step);
      // it moves at this moment: it is told when it stands again
      if (shutsAtMs <= nowMs) return { shutUntilMs: Infinity, shutsAtMs };
      return { shutUntilMs: shutUntilMs !== null && shutUntilMs <= nowMs ? null : shutUntilMs, shutsAtMs };
    },
  };
}
/** One roof and one sky over both. */
const overBoth = ({ clear, windMS, humidity, safe }: Readings) => ({ clear, windMS, humidity, safe });

function done(w: Work, play: Player): Beside {
  play.advance(w);
  if (!w.top) w.s.finished = true;
  return { state: w.done(), acts: w.acts, says: w.says };
}
/** What an event of the second camera comes to; null where it has none, or is done. */
export function besideHappened(
  lead: RunState,
  event: Exclude<Happened, { code: 'began' }>,
  play: Player,
): Beside | null {
  const { beside } = lead;
  if (!beside || beside.finished) return null;
  // the time is the run’s, whatever a clock says
  const nowMs = Math.max(beside.nowMs, lead.nowMs, event.at);
  const readings = { ...beside.readings, ...event.readings, ...overBoth(lead.readings) };
  const w = new Work({ ...beside, nowMs, readings }, leadOf(lead, nowMs, play.step));
  play.happened(w, event);
  return done(w, play);
}

/**
 * What a second camera makes of what its lead came to: where the mount moves, or is another’s, what it was at is lost; where it
 * stands again it goes on; where the night is over it ends.
 * @returns null where it makes nothing of it
 */
export function besideLead(before: RunState | null, lead: RunState, play: Player): Beside | null {
  const { beside } = lead;
  if (!beside || beside.finished) return null;
  const [stood, stands] = [before && standsForLeg(before), standsForLeg(lead)];
  const over = lead.closed || lead.finished;
  const air = overBoth(lead.readings);
  const sameAir = (Object.keys(air) as (keyof typeof air)[]).every((k) => air[k] === beside.readings[k]);
  if (stood === stands && sameAir && !over && before) return null;
  const nowMs = Math.max(beside.nowMs, lead.nowMs);
  const w = new Work({ ...beside, nowMs, readings: { ...beside.readings, ...air } }, leadOf(lead, nowMs, play.step));
  if (over) {
    w.s.closed = true;
    if (w.s.waitingFor) w.letGo();
    w.backToNight();
  } else if (stood !== stands) {
    if (stands !== w.leg.planIndex) breakOff(w);
    // whoever waits for the lead looks again
    const { top } = w;
    if (top?.t === 'until' && top.lead) w.pop();
  }
  return done(w, play);
}
/** What is spoilt by a mount that moves, unless it is over at this moment. */
function breakOff(w: Work): void {
  const { waitingFor, nowMs } = w.s;
  const at = atNow(w.s)?.kind;
  const { top } = w;
  const endsMs = waitingFor ? waitingFor.deadlineMs - PATIENCE_MS : top?.t === 'until' ? top.ms : nowMs;
  if ((at !== 'expose' && at !== 'focus') || endsMs <= nowMs) return;
  if (waitingFor) w.letGo();
  w.s.points = [];
  w.backToNight();
  w.note('run.second-broken');
}
