import type { RunEvent } from '../observatory/index.ts';
import type { Answer, Ask, Happened, Readings } from './events.ts';
import type { RunState } from './state.ts';
import { step, wakeMs } from './step.ts';
import { PATIENCE_MS } from './work.ts';

/** What is under way, or comes, if nothing goes wrong from now on. */
export interface Coming extends RunEvent {
  /** It comes only once the sky opens, or somebody lets it go on. */
  after: 'sky' | 'pause' | null;
}
/** Events played ahead at most: what comes after them is not looked at. */
const MOST_STEPS = 600;
/** A sky, air and interlock as they have to be. */
const OPEN: Partial<Readings> = { clear: true, windMS: 0, humidity: 0, safe: true };
const GOOD_FRAME = { hfdPx: 2, stars: 100, eccentricity: 0.3, background: 1 };
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

/** What a device answers that does as it is asked, and what is read of it then. */
function obedient(ask: Ask, s: RunState): { value: Answer; readings: Partial<Readings> } {
  switch (ask.do) {
    case 'connect':
      return { value: true, readings: {} };
    case 'centre':
      return { value: 0, readings: {} };
    case 'turn':
      return { value: null, readings: { wheel: ask.filter } };
    case 'move':
      return { value: null, readings: { position: Math.round(ask.position) } };
    case 'expose':
      return { value: GOOD_FRAME, readings: {} };
    case 'focus-frame':
      return {
        value: { hfdPx: imagined(s), stars: 100 },
        readings: {},
      };
    default:
      return { value: null, readings: {} };
  }
}

/**
 * What is under way and what comes next, with its times: the run is played on from where it stands, on equipment that does what
 * it is asked in the time that takes.
 * @param most  how many
 */
export function outlook(state: RunState, most = 4): Coming[] {
  const coming: Coming[] = [];
  let s = state;
  let after: Coming['after'] = null;
  for (let n = 0; n < MOST_STEPS && coming.length < most && !s.finished; n++) {
    let event: Happened;
    const top = s.tasks.at(-1);
    const { readings } = s;
    const shut = !readings.clear || !readings.safe || s.airShut;
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
      if (wake === null) break;
      if (shut) after ??= 'sky';
      event = { code: 'tick', at: wake, ...opens };
    }
    const stepped = step(s, event);
    s = stepped.state;
    for (const x of stepped.says)
      if (x.said === 'event' && x.kind !== 'note') {
        const { said: _s, ...what } = x;
        coming.push({ ...what, after });
      }
  }
  return coming.slice(0, most);
}

/** What is under way: what it is, and since when; null where nothing is. */
export function underWay(s: RunState): { kind: RunEvent['kind']; phrase: RunEvent['phrase']; startMs: number } | null {
  const at = s.tasks.findLast((t) => t.t === 'took');
  return at?.t === 'took' ? { kind: at.kind, phrase: at.what, startMs: at.startMs } : null;
}
