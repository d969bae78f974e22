import { steady, type Steadiness } from '../sequence/index.ts';
import type { FrameMeasure, RunEvent } from '../observatory/index.ts';
import type { Answer, Ask, Happened, Readings, Stepped } from './events.ts';
import type { RunState, Task } from './state.ts';
import { isRoofShut, lowUntilMs } from './shut.ts';
import { PATIENCE_MS } from './work.ts';

/** What is under way, or comes, if nothing goes wrong from now on. */
export interface Coming extends RunEvent {
  /** It comes only once the sky opens, or somebody lets it go on. */
  after: 'sky' | 'pause' | null;
}
/** Events played ahead at most: a whole night of short frames has so many. */
const MOST_STEPS = 6000;
/** A sky, air and interlock as they have to be. */
const OPEN: Partial<Readings> = { clear: true, windMS: 0, humidity: 0, safe: true };
/** A focus run sees at its ends stars so many times as wide as in its middle. */
const ENDS = 3;
const BEST_PX = 2;

/** What a focus run that is under way would go on to see: a bottom in its middle, as steep as it was so far. */
function imagined(s: RunState): number {
  const { position } = s.readings;
  const at = s.tasks.findLast((t) => t.t === 'point');
  const centre = at?.t === 'point' ? at.centre : position;
  const [first] = s.points;
  const steep =
    first && first.position !== centre && first.hfd > BEST_PX
      ? Math.sqrt(first.hfd ** 2 - BEST_PX ** 2) / Math.abs(first.position - centre)
      : (ENDS * BEST_PX) / s.plan.focusReachSteps;
  return Math.hypot(BEST_PX, steep * (position - centre));
}

/** A frame like the good ones before it. */
function goodFrame(s: RunState): FrameMeasure {
  const filter = atNow(s)?.more?.filter ?? '';
  const known = s.legs[s.legIndex]?.standards[filter];
  const hfdPx = known ? Math.min(...known.hfdPx) : Math.min(BEST_PX, s.smallestPx ?? BEST_PX);
  return { hfdPx, stars: known?.stars ?? 100, eccentricity: 0.3, background: 1 };
}
/** What a device answers that does as it is asked, and what is read of it then. */
function obedient(ask: Ask, s: RunState): { value: Answer; readings: Partial<Readings> } {
  switch (ask.do) {
    case 'connect':
      return { value: true, readings: {} };
    // where it is then is not known; the next way is looked at by its end
    case 'centre':
      return { value: 0, readings: { tube: null } };
    case 'field':
    case 'flip':
    case 'park':
      return { value: null, readings: { tube: null } };
    case 'turn':
      return { value: null, readings: { wheel: ask.filter } };
    case 'move':
      return { value: null, readings: { position: Math.round(ask.position) } };
    case 'open':
      return { value: null, readings: { roof: 'open', safe: true } };
    case 'close':
      return { value: null, readings: { roof: 'closed', safe: false } };
    case 'expose':
      return { value: goodFrame(s), readings: {} };
    case 'focus-frame':
      return { value: { hfdPx: imagined(s), stars: 100 }, readings: {} };
    default:
      return { value: null, readings: {} };
  }
}

export type Step = (s: RunState, event: Happened) => Stepped<RunState>;
/** When something is due although nothing happens [ms]: the end of a wait, or of somebody’s patience; null: never. */
export function wakeMs(s: RunState): number | null {
  if (s.finished) return null;
  const low = lowUntilMs(s);
  if (s.waitingFor) return Math.min(s.waitingFor.deadlineMs, low);
  const top = s.tasks.at(-1);
  const due = Math.min(top?.t === 'until' ? top.ms : Infinity, low);
  return Number.isFinite(due) ? due : null;
}

/**
 * What is under way and what comes next, with its times: a run is played on from where it stands, on equipment that does what it
 * is asked in the time that takes.
 */
export function* playedOn(state: RunState, step: Step): Generator<Coming> {
  let s = state;
  let after: Coming['after'] = null;
  for (let n = 0; n < MOST_STEPS && !s.finished; n++) {
    let event: Happened;
    const top = s.tasks.at(-1);
    const { readings } = s;
    const shut = !readings.clear || (!readings.safe && !isRoofShut(s)) || s.airShut;
    const opens = shut ? { readings: OPEN } : {};
    if (s.waitingFor && top?.t === 'ask') {
      const { value, readings: read } = obedient(top.ask, s);
      const at = Math.max(s.nowMs, s.waitingFor.deadlineMs - PATIENCE_MS);
      event = { code: 'done', at, act: s.waitingFor.id, value, readings: read };
    } else if (s.paused && wakeMs(s) === null) {
      after = 'pause';
      event = { code: 'resume', at: s.nowMs, by: '' };
    } else {
      const wake = wakeMs(s);
      if (wake === null) return;
      if (shut) after ??= 'sky';
      event = { code: 'tick', at: wake, ...opens };
    }
    const stepped = step(s, event);
    s = stepped.state;
    for (const x of stepped.says)
      if (x.said === 'event' && x.kind !== 'note') {
        const { said: _s, ...what } = x;
        yield { ...what, after };
      }
  }
}

/** What a run is at: the innermost thing that takes time. */
export const atNow = (s: RunState): (Task & { t: 'took' }) | undefined =>
  s.tasks.findLast((t): t is Task & { t: 'took' } => t.t === 'took');
/** The leg whose frames can be taken beside, as the mount stands and is guided now; null: it moves, waits or is unguided. */
export function standsForLeg(s: RunState): number | null {
  // while it is paused the mount follows the sky, and is guided
  if (s.paused && s.at.legIndex !== null && s.tasks.at(-1)?.t === 'until' && s.readings.guider === 'guiding')
    return s.legs[s.at.legIndex]!.planIndex;
  if (!s.working) return null;
  const now = atNow(s);
  const device = s.waitingFor?.device ?? 'mount';
  const stands = now
    ? steady({ kind: now.kind, because: now.more?.because })
    : // what is asked between two things takes no time
      device !== 'mount' && device !== 'guider' && device !== 'rotator' && device !== 'tip-tilt';
  return stands ? s.legs[s.legIndex]!.planIndex : null;
}

/** By what a lead is to do: a new list whenever it came to something. */
const known = new WeakMap<RunState['tasks'], Map<number, Steadiness>>();
/**
 * When the lead’s mount stands still for one of its legs next, and when it moves after that, if nothing goes wrong: what a second
 * camera goes by.
 */
export function leadAhead(lead: RunState, planIndex: number, step: Step): Steadiness {
  const of = known.get(lead.tasks) ?? new Map<number, Steadiness>();
  known.set(lead.tasks, of);
  const before = of.get(planIndex);
  if (before) return before;
  const ahead = steadiness(lead, planIndex, step);
  of.set(planIndex, ahead);
  return ahead;
}
function steadiness(lead: RunState, planIndex: number, step: Step): Steadiness {
  let shutUntilMs: number | null = null;
  let steadyUntilMs: number | null = null;
  for (const e of playedOn({ ...lead, beside: null }, step)) {
    const stands = e.leg === planIndex && steady(e);
    const [from, until] = [Date.parse(e.start), Date.parse(e.end)];
    if (steadyUntilMs === null) {
      if (!stands) continue;
      if (from > lead.nowMs) shutUntilMs = from;
      steadyUntilMs = until;
    } else if (stands && from <= steadyUntilMs) steadyUntilMs = until;
    else break;
  }
  // never as far as can be seen: it is told when it does
  if (steadyUntilMs === null) return { shutUntilMs: Infinity, shutsAtMs: lead.nowMs };
  return { shutUntilMs, shutsAtMs: steadyUntilMs };
}
