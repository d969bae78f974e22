import { DeviceFault, type Observatory, type RunPlan, type RunResult } from '../observatory/index.ts';
import type { Act, Answer, Happened, Readings, Said } from './events.ts';
import { resultOf } from './project.ts';
import type { RunState } from './state.ts';
import { step, wakeMs } from './step.ts';

/** What the devices of an observatory read now. */
function read(o: Observatory): Readings {
  const { wheel, focuser, weather } = o;
  const { clear, windMS = 0, humidity = 0 } = weather.read();
  return {
    // a reading of minus nothing is nothing
    temperatureC: focuser.temperatureC() + 0,
    position: focuser.position(),
    wheel: wheel.current(),
    clear,
    windMS,
    humidity,
    safe: o.interlock?.isSafe() ?? true,
  };
}
/** What is another than before. */
function changes(now: Readings, before: Readings | null): Partial<Readings> {
  if (!before) return now;
  return Object.fromEntries(
    Object.entries(now).filter(([k, v]) => before[k as keyof Readings] !== v),
  ) as Partial<Readings>;
}

/** Asks a device of an observatory. @throws DeviceFault */
async function perform(o: Observatory, act: Act): Promise<Answer> {
  switch (act.do) {
    case 'connect':
      return o.connect ? o.connect(act.device) : true;
    case 'centre':
      return (await o.mount.slewAndCentre({ raDeg: act.raDeg, decDeg: act.decDeg }, act.withinArcmin)) ?? 0;
    case 'field':
      await o.mount.slewToField({ altitudeDeg: act.altitudeDeg, azimuthDeg: act.azimuthDeg });
      return null;
    case 'flip':
      await o.mount.flip();
      return null;
    case 'park':
      await o.mount.park();
      return null;
    case 'start':
      await o.guider.start();
      return null;
    case 'stop':
      await o.guider.stop();
      return null;
    case 'dither':
      await o.guider.dither();
      return null;
    case 'turn':
      await o.wheel.select(act.filter);
      return null;
    case 'move':
      await o.focuser.moveTo(act.position);
      return null;
    case 'expose':
      return o.camera.expose(act.seconds);
    case 'read-out':
      await o.camera.download();
      return null;
    case 'focus-frame':
      return o.camera.focusFrame();
    case 'abort':
      // here a motion is over before anything else happens
      return null;
  }
}

export interface Played {
  result: RunResult;
  events: Happened[];
  state: RunState;
}
/**
 * Plays a run on an observatory with a clock of its own, event by event, as fast as it answers.
 * @param progress  told after each event: share of the night that is over, and the frames there are
 */
export async function play(
  plan: RunPlan,
  o: Observatory,
  progress: (share: number, frames: number) => void = () => undefined,
): Promise<Played> {
  const { clock } = o;
  const events: Happened[] = [];
  const says: Said[] = [];
  let state: RunState | null = null;
  let known: Readings | null = null;
  let acts: readonly Act[] = [];
  const happens = (event: Happened): RunState => {
    const readings = changes(read(o), known);
    known = { ...(known as Readings), ...readings };
    const whole = Object.keys(readings).length ? { ...event, readings } : event;
    events.push(whole);
    const stepped = step(state, whole);
    says.push(...stepped.says);
    acts = stepped.acts;
    return (state = stepped.state);
  };
  const startMs = clock.now();
  let now = happens({ at: startMs, code: 'began', plan });
  while (!now.finished) {
    const frames = now.frames;
    const [act] = acts;
    if (act) {
      const answer = await perform(o, act).then(
        (value) => ({ code: 'done' as const, act: act.id, value }),
        (e: unknown) => {
          if (!(e instanceof DeviceFault)) throw e;
          return { code: 'failed' as const, act: act.id, reason: e.message, ...(e.final ? { final: true } : {}) };
        },
      );
      now = happens({ at: clock.now(), ...answer });
    } else {
      const wake = wakeMs(now);
      if (wake === null) throw new Error('a run waits for nothing');
      // by the run’s own time: a clock that was set back makes no wait longer
      await clock.sleep(wake - Math.max(clock.now(), now.nowMs));
      now = happens({ at: clock.now(), code: 'tick' });
    }
    if (now.frames !== frames || !act)
      progress(Math.min(1, (clock.now() - startMs) / Math.max(1, plan.endMs - startMs)), now.frames);
  }
  return { result: resultOf(now, says), events, state: now };
}
