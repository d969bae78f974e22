import { phrase, type Code } from '../phrases/index.ts';
import * as around from './around.ts';
import { besideHappened, besideLead } from './beside.ts';
import { isMotion, type Ask, type Happened, type Stepped } from './events.ts';
import * as focusing from './focusing.ts';
import * as frame from './frame.ts';
import * as shut from './shut.ts';
import type { RunState, Task } from './state.ts';
import { beginRun, NOTHING_READ } from './state.ts';
import { detour, hazardOf, type Hazard } from './motion.ts';
import { watch } from './watch.ts';
import { ask, timed, Work } from './work.ts';

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
    // a second camera rides along: what moves and guides it is the lead’s
    if (w.lead && LEADS.has(task.ask.device)) return w.pop();
    if (task.id === null) {
      if (!w.s.readings.safe && isMotion(task.ask)) {
        // in the night it is decided anew: whoever has the hours when the interlock closes again need not be who has them now
        if (w.backToNight()) return w.happenedTo(() => true, { what: 'shut' });
        w.first(timed('wait', phrase('run.shut-interlock'), [{ t: 'safe', untilMs: shut.safeBy(w.s) }]));
        return;
      }
      const hazard = task.ask.device === 'mount' ? hazardOf(w.s, task.ask) : null;
      if (hazard) return refused(w, task, hazard);
      w.replace({ ...task, id: w.request(task.ask, task.forMs) });
      return 'waits';
    }
    if (w.s.waitingFor) return 'waits';
    w.pop();
  },
  safe: (w, { untilMs }) => {
    if (!w.s.readings.safe && w.s.nowMs < untilMs) {
      w.first({ t: 'until', ms: Math.min(untilMs, w.s.nowMs + shut.LOOK_MS) });
      return;
    }
    w.pop();
    // it was waited for as long as may be: what needs it is given up
    if (!w.s.readings.safe) w.giveUp('run.interlock-stays');
  },
  back,
  'given-up': (w) => {
    w.pop();
    const at = w.top;
    if (at?.t === 'guard') around.guard(w, at, false);
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
  'wheel-stands': (w, task) => focusing.wheelStands(w, task, failed),
  pointed: frame.pointed,
  centre: frame.centre,
  centred: frame.centred,
  rotate: frame.rotate,
  rotated: frame.rotated,
  prepare: frame.prepare,
  expose: frame.expose,
  'keep-measure': frame.keepMeasure,
  judge: (w, task) => frame.judge(w, task, failed),
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

/** A motion that must not be goes over the pole; where that must not be either its leg has no more hours in this spell, and around the legs it is given up. */
function refused(w: Work, task: Task & { t: 'ask' }, { code, ...values }: Hazard): void {
  const { working } = w.s;
  const over = task.over ? null : detour(w.s, task.ask);
  if (over) {
    w.replace({ ...task, over: true });
    const takesMs = 1000 * (w.s.legs[0]?.timeline.overheads.slewCentreS ?? 60);
    return w.first(
      ...over.map((field) =>
        timed('slew', phrase('run.over-pole'), [ask({ device: 'mount', do: 'field', ...field }, takesMs)]),
      ),
    );
  }
  // where it must not even be parked somebody has to look
  if (!working || task.ask.do === 'park') return w.giveUp(`run.refused-${code === 'sun' ? 'sun' : 'ground'}`, values);
  w.note(`run.refused-${code === 'sun' ? 'sun' : 'ground'}`, values);
  w.endSpell();
  w.backToNight();
}
/** What is the lead’s, and a second camera asks for nothing of. */
const LEADS: ReadonlySet<Ask['device']> = new Set(['mount', 'guider', 'rotator', 'tip-tilt', 'power', 'roof']);

/** Does what can be done at this moment. */
function advance(w: Work): void {
  while (!w.s.finished && w.top) {
    const task = w.top;
    if ((DO[task.t] as (w: Work, t: Task) => void | 'waits')(w, task) === 'waits') return;
  }
}

/** So often in a row a device is asked again, after so long [ms]; common practice, no source. */
const AT_ONCE = 3;
const AGAIN_MS = 20_000;
/** Then it is left alone so long, and asked until it answers, so long at most; so often before the night is given up [ms]. */
const REST_MS = 300_000;
const BACK_MS = 1_800_000;
const ROUNDS = 3;

/**
 * A device that did not do what it was asked: what was under way is given up, and what comes next is asked anew of the night
 * as it stands; around the legs the same is asked again. After three times it is left alone for a while, and then waited for. One
 * that fails for good, or never comes back, ends the night, and what can still be closed is closed.
 */
function failed(w: Work, device: Ask['device'], what: Ask['do'] | 'stands', reason: string, final = false): void {
  const task = w.top;
  w.s.waitingFor = null;
  // a camera that gives focus frames may still give no others
  const key = `${device} ${what}`;
  const times = (w.s.failures[key] ?? 0) + 1;
  if (final || times >= AT_ONCE * ROUNDS) return gone(w, device, reason);
  w.s.failures = { ...w.s.failures, [key]: times };
  w.note('run.again', { device, reason });
  if (w.backToNight()) {
    // where the mount stands, and whether the star is still held, is not known any more
    if (device === 'mount' || device === 'guider') w.happenedTo(() => true, { what: 'shut' });
    if (device === 'camera') w.s.measure = null;
  } else if (task?.t === 'ask') w.replace({ ...task, id: null });
  const rests = times % AT_ONCE === 0;
  w.first(
    timed('wait', phrase('run.wait-device', { device }), [
      { t: 'pause', ms: rests ? REST_MS : AGAIN_MS },
      // what is no device that is connected is asked again
      ...(rests && device !== 'roof' && device !== 'power'
        ? [{ t: 'back' as const, device, untilMs: w.s.nowMs + BACK_MS, asked: false }]
        : []),
    ]),
  );
}
const gone = (w: Work, device: Ask['device'], reason: string): void => w.giveUp('run.device-fault', { device, reason });
/** A device that is waited for: asked whether it is there until it is. */
function back(w: Work, { device, untilMs, asked }: Task & { t: 'back' }): void {
  if (!asked) {
    w.replace({ t: 'back', device, untilMs, asked: true });
    w.first({ t: 'ask', ask: { device, do: 'connect' }, forMs: AGAIN_MS, id: null });
  } else if (w.s.answer === true) w.pop();
  else if (w.s.nowMs >= untilMs) gone(w, device, 'it did not come back');
  else {
    w.replace({ t: 'back', device, untilMs, asked: false });
    w.first({ t: 'pause', ms: shut.LOOK_MS });
  }
}

/**
 * What follows from an event: the state after it, what is asked of devices, and what there is to tell. Nothing else goes in:
 * the same events give the same states. An answer nobody waits for any more changes nothing but what was read.
 */
export function step(before: RunState | null, event: Happened): Stepped<RunState> {
  if (event.code === 'began') {
    const w = new Work({ ...beginRun(event.plan, event.at), readings: readingsOf(null, event) });
    advance(w);
    return stepped(w);
  }
  if (!before) throw new Error('a run begins with what it is to do');
  if (before.finished) return { state: before, ...NOTHING, beside: NOTHING };
  if (event.beside) {
    const beside = besideHappened(before, event, PLAYER);
    return beside
      ? { state: { ...before, beside: beside.state }, ...NOTHING, beside }
      : { state: before, ...NOTHING, beside: NOTHING };
  }
  // a clock that was set back does not undo what is over
  const nowMs = Math.max(before.nowMs, event.at);
  const w = new Work({ ...before, nowMs, readings: readingsOf(before, event) });
  if (w.s.readings.guider !== 'lost') w.s.lostSinceMs = null;
  happened(w, event);
  watch(w, before, failed);
  advance(w);
  return stepped(w, before);
}
const NOTHING = { acts: [], says: [] };
const PLAYER = { step, happened, advance };
/** What a lead came to, with what its second camera makes of that. */
function stepped(w: Work, before: RunState | null = null): Stepped<RunState> {
  const lead = w.done();
  const beside = besideLead(before, lead, PLAYER);
  const state = beside && beside.state !== lead.beside ? { ...lead, beside: beside.state } : lead;
  return { state, acts: w.acts, says: w.says, beside: beside ?? NOTHING };
}
const readingsOf = (before: RunState | null, { readings }: Happened): RunState['readings'] => ({
  ...(before?.readings ?? NOTHING_READ),
  ...readings,
});

function happened(w: Work, event: Exclude<Happened, { code: 'began' }>): void {
  const { waitingFor } = w.s;
  switch (event.code) {
    case 'thrown':
      return;
    case 'went-safe':
      w.note('run.went-safe');
      w.s.waitingFor = null;
      w.s.measure = null;
      if (w.backToNight()) w.happenedTo(() => true, { what: 'shut' });
      else if (w.top?.t === 'ask') w.replace({ ...w.top, id: null });
      return;
    case 'tick':
      if (waitingFor && w.s.nowMs >= waitingFor.deadlineMs)
        failed(w, waitingFor.device, waitingFor.do, 'it does not answer');
      return;
    case 'done':
      if (waitingFor?.id !== event.act) return;
      w.s.failures = { ...w.s.failures, [`${waitingFor.device} ${waitingFor.do}`]: 0 };
      w.s.waitingFor = null;
      w.s.answer = event.value;
      return;
    case 'failed':
      if (waitingFor?.id === event.act) failed(w, waitingFor.device, waitingFor.do, event.reason, event.final);
      return;
    case 'pause':
      if (!w.s.paused) w.note('run.paused');
      w.s.paused = true;
      return;
    case 'resume':
      if (w.s.paused) w.note('run.resumed');
      w.s.paused = false;
      // whoever waits for that is woken
      if (w.top?.t === 'until' && w.top.ms === Infinity) w.pop();
      return;
    case 'skip':
      skip(w);
      return;
    case 'focus':
      w.note('run.asked-focus');
      w.s.refocus = true;
      return;
    // from the next frame on, which is pointed and guided anew
    case 'centre':
    case 'guide':
      w.note(`run.asked-${event.code}`);
      w.s.anew = true;
      return;
    case 'no-room':
    case 'stop':
      if (w.s.closed && event.code === 'no-room') return;
      w.note(event.code === 'stop' ? 'run.asked-stop' : 'run.no-room');
      shut.endNow(w);
  }
}
/** The leg at work has no more hours tonight; what it is at is finished first. */
function skip(w: Work): void {
  if (w.s.at.legIndex === null) return;
  w.note('run.asked-skip', { object: w.s.legs[w.s.at.legIndex]!.target.name });
  const { legIndex } = w.s.at;
  w.s.legs = w.s.legs.map((l, i) => (i === legIndex ? { ...l, hours: [] } : l));
}
