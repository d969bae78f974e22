import type { Code } from '../phrases/index.ts';
import * as around from './around.ts';
import type { Happened, Stepped } from './events.ts';
import * as focusing from './focusing.ts';
import * as frame from './frame.ts';
import * as shut from './shut.ts';
import type { RunState, Task } from './state.ts';
import { beginRun } from './state.ts';
import { Work } from './work.ts';

type Do = { [T in Task['t']]: (w: Work, task: Task & { t: T }) => void | 'waits' };

/** What each thing that is to be done does; one that has to wait says so and is asked again at the next event. */
const DO: Do = {
  timed: (w, { kind, what, work, more }) => {
    w.replace({ t: 'took', kind, what, startMs: w.s.nowMs, ...(more ? { more } : {}) });
    w.first(...work);
  },
  took: (w, { kind, what, startMs, more }) => {
    w.pop();
    w.took(kind, what, startMs, more);
  },
  until: (w, { ms }) => {
    if (w.s.nowMs < ms) return 'waits';
    w.pop();
  },
  pause: (w, { ms }) => w.replace({ t: 'until', ms: w.s.nowMs + ms }),
  ask: (w, task) => {
    if (task.id === null) {
      w.replace({ ...task, id: w.request(task.ask, task.forMs) });
      return 'waits';
    }
    if (w.s.waitingFor) return 'waits';
    w.pop();
  },
  say: (w, { code, values }) => {
    w.pop();
    w.note(code as Code, values);
  },
  guard: around.guard,
  stage: around.stage,
  steps: around.steps,
  step: around.step,
  'rest-of-step': around.restOfStep,
  connect: around.connect,
  opened: around.opened,
  night: frame.night,
  turn: frame.turn,
  'after-wait': frame.afterWait,
  wheel: focusing.wheel,
  pointed: frame.pointed,
  centre: frame.centre,
  centred: frame.centred,
  prepare: frame.prepare,
  expose: frame.expose,
  'keep-measure': frame.keepMeasure,
  judge: frame.judge,
  offset: focusing.offset,
  focus: focusing.focus,
  focused: focusing.focused,
  sweep: focusing.sweep,
  point: focusing.point,
  'keep-point': focusing.keepPoint,
  swept: focusing.swept,
  'in-focus': focusing.inFocus,
  'focus-over': focusing.focusOver,
  shut: shut.shut,
  look: shut.look,
  'air-over': shut.airOver,
  'cloud-over': shut.cloudOver,
  'open-again': shut.openAgain,
};

/** Does what can be done at this moment. */
function advance(w: Work): void {
  while (!w.s.finished && w.top) {
    const task = w.top;
    if ((DO[task.t] as (w: Work, t: Task) => void | 'waits')(w, task) === 'waits') return;
  }
}

/** A device that cannot do what it was asked ends the night, and what can still be closed is closed. */
function failed(w: Work, device: string, reason: string): void {
  w.s.waitingFor = null;
  w.note('run.device-fault', { device, reason });
  w.s.closed = true;
  w.unwind();
  const at = w.top;
  if (at?.t === 'guard') around.guard(w, at, false);
}

/**
 * What follows from an event: the state after it, what is asked of devices, and what there is to tell. Nothing else goes in:
 * the same events give the same states. An answer nobody waits for any more changes nothing but what was read.
 */
export function step(before: RunState | null, event: Happened): Stepped<RunState> {
  if (event.code === 'began') {
    const w = new Work({ ...beginRun(event.plan, event.at), readings: readingsOf(null, event) });
    advance(w);
    return { state: w.done(), acts: w.acts, says: w.says };
  }
  if (!before) throw new Error('a run begins with what it is to do');
  if (before.finished) return { state: before, acts: [], says: [] };
  // a clock that was set back does not undo what is over
  const nowMs = Math.max(before.nowMs, event.at);
  const w = new Work({ ...before, nowMs, readings: readingsOf(before, event) });
  happened(w, event);
  advance(w);
  return { state: w.done(), acts: w.acts, says: w.says };
}
const readingsOf = (before: RunState | null, { readings }: Happened): RunState['readings'] => ({
  ...(before?.readings ?? beginReadings),
  ...readings,
});
const beginReadings: RunState['readings'] = {
  temperatureC: 0,
  position: 0,
  wheel: '',
  clear: true,
  windMS: 0,
  humidity: 0,
};

function happened(w: Work, event: Exclude<Happened, { code: 'began' }>): void {
  const { waitingFor } = w.s;
  switch (event.code) {
    case 'tick':
      if (waitingFor && w.s.nowMs >= waitingFor.deadlineMs) failed(w, waitingFor.device, 'it does not answer');
      return;
    case 'done':
      if (waitingFor?.id !== event.act) return;
      w.s.waitingFor = null;
      w.s.answer = event.value;
      return;
    case 'failed':
      if (waitingFor?.id === event.act) failed(w, waitingFor.device, event.reason);
      return;
    case 'pause':
      w.s.paused = true;
      return;
    case 'resume':
      w.s.paused = false;
      // whoever waits for that is woken
      if (w.top?.t === 'until' && w.top.ms === Infinity) w.pop();
      return;
    case 'skip':
      skip(w);
      return;
    case 'stop':
      w.s.closed = true;
      w.s.waitingFor = null;
      w.unwindNight();
  }
}
/** The leg at work has no more hours tonight; what it is at is finished first. */
function skip(w: Work): void {
  if (w.s.at.legIndex === null) return;
  const { legIndex } = w.s.at;
  w.s.legs = w.s.legs.map((l, i) => (i === legIndex ? { ...l, hours: [] } : l));
}

/** When something is due although nothing happens [ms]: the end of a wait, or of somebody’s patience; null: never. */
export function wakeMs(s: RunState): number | null {
  if (s.finished) return null;
  if (s.waitingFor) return s.waitingFor.deadlineMs;
  const top = s.tasks.at(-1);
  return top?.t === 'until' && Number.isFinite(top.ms) ? top.ms : null;
}
