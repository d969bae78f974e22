import { DEVICES, type Device, type RunPlan } from '../observatory/index.ts';
import { phrase, type Code } from '../phrases/index.ts';
import { stillWanted } from '../sequence/index.ts';
import type { RunState, Task } from './state.ts';
import { ask, say, timed, type Work } from './work.ts';

type Of<T extends Task['t']> = Task & { t: T };
/** How often a device is asked, and how long between [ms]; common practice, no source. */
const CONNECT_ATTEMPTS = 4;
const CONNECT_AGAIN_MS = 15_000;
const MIN_MS = 60_000;
/** What was switched on answers after so long [ms]; common practice, no source. */
const WAKES_MS = 15_000;
/** Longest a roof takes [ms]; common practice, no source. */
const ROOF_MS = 120_000;

/** The stages of a night, one after the other, each by itself: a guider that is gone leaves no telescope out in the morning. */
export function stage(w: Work, { stage: now }: Of<'stage'>): void {
  const { plan, closed, nowMs, held } = w.s;
  w.pop();
  switch (now) {
    case 'night':
      w.first({ t: 'guard', stage: 'night' });
      // above the guard: what fails ends there
      w.first({ t: 'steps', kind: 'opening', i: 0, parked: true }, { t: 'opened' }, { t: 'night' });
      // where nothing is connected by a step of its own it has to be on all the same
      if (!plan.opening.some((s) => s.step === 'connect')) switchOn(w);
      return;
    case 'guider':
      w.first({ t: 'guard', stage: 'guider' });
      w.first(ask({ device: 'guider', do: 'stop' }));
      return;
    case 'park':
      w.first({ t: 'guard', stage: 'park' });
      w.first(ask({ device: 'mount', do: 'park' }));
      return;
    case 'closing': {
      const parked = held;
      if (!parked) w.note('run.not-parked');
      // no roof is closed over a tube that may stand in its way
      if (!parked && plan.closing.some((s) => s.step === 'roof')) w.note('run.roof-left-open');
      if (stepsOf(plan, 'closing', parked).length) {
        w.first({ t: 'guard', stage: 'closing' });
        w.first({ t: 'steps', kind: 'closing', i: 0, parked });
        return;
      }
      w.first({ t: 'stage', stage: 'end' });
      if (parked) w.first(say('run.parked-warming'));
      if (nowMs < plan.endMs && !closed) w.first(timed('wait', phrase(restOf(w.s)), [{ t: 'until', ms: plan.endMs }]));
      return;
    }
    case 'end':
      w.s.finished = true;
  }
}
/** Why nothing is done until the end. */
function restOf({ legs }: RunState): Code {
  if (legs.length === 0) return 'run.wait-none-free';
  const wanted = legs.some((l) => l.rules.filters.some((f, i) => stillWanted(f, l.state.taken[i]!) > 0));
  return wanted ? 'run.wait-rest' : 'run.wait-done';
}
const AFTER = { night: 'guider', guider: 'park', park: 'closing', closing: 'end' } as const;
/** A stage is over, as it should be or by a fault. */
export function guard(w: Work, { stage: over }: Of<'guard'>, held = true): void {
  w.pop();
  w.s.held = held;
  if (over === 'night') w.s.working = false;
  w.first({ t: 'stage', stage: AFTER[over] });
}

/** What could not be parked is not said to be. */
const stepsOf = (plan: RunPlan, kind: 'opening' | 'closing', parked: boolean) =>
  kind === 'opening' ? plan.opening : plan.closing.filter((s) => parked || (s.step !== 'park' && s.step !== 'roof'));

/** The ordered steps around the legs, each not before its moment. */
export function steps(w: Work, { kind, i, parked }: Of<'steps'>): void {
  const next = stepsOf(w.s.plan, kind, parked)[i];
  if (!next || (kind === 'opening' && w.s.closed)) return w.pop();
  w.replace({ t: 'steps', kind, i: i + 1, parked });
  w.first({ t: 'step', kind, i, parked });
  const notBefore = next.notBeforeMs ?? 0;
  if (notBefore > w.s.nowMs)
    w.first(
      timed('wait', phrase(kind === 'opening' ? 'run.wait-dusk' : 'run.wait-dawn'), [{ t: 'until', ms: notBefore }]),
    );
}
export function step(w: Work, { kind, i, parked }: Of<'step'>): void {
  const { plan, nowMs } = w.s;
  const now = stepsOf(plan, kind, parked)[i]!;
  w.replace({ t: 'rest-of-step', kind, i, parked, untilMs: nowMs + now.minutes * MIN_MS });
  if (now.step === 'connect') {
    w.first({ t: 'connect', device: 0, attempts: 1, asked: false });
    switchOn(w);
  }
  // in its own time: the step lasts as long as the plan says
  if (plan.coolToC !== undefined && (now.step === 'cool' || now.step === 'warm'))
    w.first(ask({ device: 'camera', do: 'cool', toC: now.step === 'cool' ? plan.coolToC : null }));
  if (now.step === 'roof')
    w.first(
      timed(kind, phrase(kind === 'opening' ? 'run.roof-opens' : 'run.roof-closes'), [
        ask({ device: 'roof', do: kind === 'opening' ? 'open' : 'close' }, ROOF_MS),
      ]),
    );
  if (now.step !== 'focus') return;
  // through the first filter of the first leg, in the focus field where there is one
  const filter = w.leg.timeline.filters[0]!.name;
  const field = 'field' in now ? now.field : null;
  w.first({ t: 'wheel', filter, first: false }, { t: 'focus', filter, filterIndex: null });
  if (field)
    w.first(
      timed('slew', phrase('run.focus-field', { ...field }), [
        ask({ device: 'mount', do: 'field', ...field }, 1000 * w.leg.timeline.overheads.slewCentreS),
      ]),
    );
}
export function restOfStep(w: Work, { kind, i, parked, untilMs }: Of<'rest-of-step'>): void {
  const { plan, nowMs, closed } = w.s;
  const now = stepsOf(plan, kind, parked)[i]!;
  w.pop();
  if (kind === 'opening' && closed) return;
  if (now.step === 'disconnect' && plan.supply?.switched) switchOff(w, parked);
  if (untilMs > nowMs) w.first(timed(kind, phrase(`run.step-${now.step}`), [{ t: 'until', ms: untilMs }]));
}

function switchOn(w: Work): void {
  if (!w.s.plan.supply?.switched) return;
  w.first(
    timed('opening', phrase('run.power-on'), [ask({ device: 'power', do: 'switch-on' }), { t: 'pause', ms: WAKES_MS }]),
  );
}
/** What needs power to be parked, or to warm up, is not left without. */
const switchOff = (w: Work, parked: boolean): void =>
  w.first(parked ? ask({ device: 'power', do: 'switch-off' }) : say('run.power-left-on'));

/** What a plan needs, in the order in which it is connected. */
const devicesOf = ({ legs, tipTilt }: RunPlan): Device[] => [
  ...DEVICES,
  ...(legs.some((l) => l.turned) ? ['rotator' as const] : []),
  ...(tipTilt ? ['tip-tilt' as const] : []),
];
/** Connects in order; a device that does not answer is asked again, and without it the night does not begin. */
export function connect(w: Work, { device: nth, attempts, asked }: Of<'connect'>): void {
  const device = devicesOf(w.s.plan)[nth];
  if (!device) return w.pop();
  if (!asked) {
    w.replace({ t: 'connect', device: nth, attempts, asked: true });
    w.first(ask({ device, do: 'connect' }, CONNECT_AGAIN_MS));
  } else if (w.s.answer) w.replace({ t: 'connect', device: nth + 1, attempts: 1, asked: false });
  else if (attempts === CONNECT_ATTEMPTS) {
    w.note('run.device-absent', { device, attempts });
    w.s.closed = true;
    w.pop();
  } else {
    w.replace({ t: 'connect', device: nth, attempts: attempts + 1, asked: false });
    w.first(timed('wait', phrase('run.device-silent', { device }), [{ t: 'pause', ms: CONNECT_AGAIN_MS }]));
  }
}
/** The legs begin from here. */
export function opened(w: Work): void {
  w.pop();
  const { nowMs } = w.s;
  w.s.legs = w.s.legs.map((l) => ({
    ...l,
    state: { ...l.state, lastFocusEnd: Math.max(l.rules.startMs, nowMs) },
  }));
}
