import { RIGS } from '@keen/demo';
import { describe, expect, test } from '@jest/globals';
import { parseInput } from '../calculation/index.ts';
import { TimelineInput, Watches } from '../sequence/index.ts';
import { drawnRun } from '../test/drawnRuns.ts';
import { oneLegRun } from '../test/oneLegRun.ts';
import { rounds } from '../test/rounds.ts';
import { play, replay, resultOf, stateOf, stateText, step, wakeMs, type Happened, type RunState } from './index.ts';

const { setup } = RIGS[0]!;
const START = Date.parse('2026-11-24T18:00:00Z');
const timeline = parseInput(TimelineInput, {
  start: '2026-11-24T18:00:00.000Z',
  end: '2026-11-24T23:00:00.000Z',
  filters: [
    { name: 'L', exposureS: 120, quota: 5 },
    { name: 'R', exposureS: 120, quota: 5 },
  ],
  order: 'block',
  overheads: {
    downloadS: 2,
    ditherS: 10,
    filterChangeS: 5,
    autofocusS: 90,
    slewCentreS: 60,
    guideStartS: 20,
    flipS: 240,
  },
  dither: { everyFrames: 2 },
  focus: { policy: 'every-change-and-time', everyMin: 60 },
});
const frame = { hfdPx: 2.5, stars: 300, eccentricity: 0.3, background: 1 };
/** A run driven by hand: every request is answered at once unless the test says otherwise. */
function driven(plan = oneLegRun(timeline)) {
  const events: Happened[] = [];
  const says: ReturnType<typeof step>['says'][number][] = [];
  let state: RunState | null = null;
  let out: ReturnType<typeof step>['acts'][number] | null = null;
  const happens = (e: Happened) => {
    events.push(e);
    const got = step(state, e);
    state = got.state;
    says.push(...got.says);
    // to stop the mount is not waited for
    const asked = got.acts.find((a) => a.do !== 'abort');
    if (asked) out = asked;
    else if (!state.waitingFor) out = null;
    return got;
  };
  const now = () => state!.nowMs;
  const answer = (at = now() + (out!.do === 'expose' ? 1000 * out!.seconds : 1000)) => {
    const act = out!;
    const position = act.do === 'move' ? { position: act.position } : {};
    const wheel = act.do === 'turn' ? { wheel: act.filter } : {};
    const hfdPx = Math.hypot(2.4, 0.02 * (state!.readings.position - 5000));
    const value =
      act.do === 'expose' ? frame : act.do === 'focus-frame' ? { hfdPx, stars: 200 } : act.do === 'connect' ? true : 0;
    happens({ at, code: 'done', act: act.id, value, readings: { ...position, ...wheel } });
  };
  /** One step of whatever is next. */
  const next = () => {
    if (out && state!.waitingFor) answer();
    else happens({ at: wakeMs(state!)!, code: 'tick' });
  };
  const until = (when: () => boolean) => {
    for (let i = 0; i < 5000 && !when() && !state!.finished; i++) next();
  };
  const readings = {
    temperatureC: 5,
    position: 5000,
    wheel: 'L',
    clear: true,
    windMS: 1,
    humidity: 0.5,
    safe: true,
  };
  happens({ at: START, code: 'began', plan, readings });
  return { events, says, happens, answer, next, until, state: () => state!, out: () => out, now };
}
const codes = (says: ReturnType<typeof driven>['says']) =>
  says.flatMap((s) => (s.said === 'event' && s.phrase ? [s.phrase.code] : []));

test('a run played again from its events stands where it stood, to the last byte; it is plain data, and small', async () => {
  let [faults, seconds] = [0, 0];
  for (let seed = 1; seed <= rounds(10, 500); seed++) {
    const { plan, o } = drawnRun(seed, setup);
    const { result, events, state } = await play(plan, o());
    const again = replay(JSON.parse(JSON.stringify(events)) as Happened[]);
    expect(stateText(again.state!)).toBe(stateText(state));
    expect(stateText(stateOf(stateText(state)))).toBe(stateText(state));
    expect(resultOf(again.state!, again)).toEqual(result);
    expect(stateText(state).length).toBeLessThan(200_000);
    expect(JSON.stringify(events).length).toBeLessThan(2_000_000);
    if (result.events.some((e) => e.phrase?.code === 'run.again')) faults++;
    // a second camera keeps nothing during which the mount moved
    const moves = result.events.filter((e) => ['slew', 'flip', 'dither', 'park'].includes(e.kind));
    for (const { start, exposureS } of result.follower?.frames ?? []) {
      const [from, until] = [Date.parse(start), Date.parse(start) + 1000 * exposureS];
      expect(moves.filter((m) => Date.parse(m.start) < until - 2 && Date.parse(m.end) > from + 2)).toEqual([]);
      seconds++;
    }
    // no night stands still: between two moments there is an end of what is done
    const atOnce = new Map<number, number>();
    for (const e of events) atOnce.set(e.at, (atOnce.get(e.at) ?? 0) + 1);
    expect(Math.max(...atOnce.values())).toBeLessThan(60);
  }
  expect(faults).toBeGreaterThan(rounds(0, 20));
  expect(seconds).toBeGreaterThan(50);
}, 300_000);

test('from any moment on, the state at hand as text gives the same night as the one that was never put away', async () => {
  const { plan, o } = drawnRun(12, setup);
  const { events, state } = await play(plan, o());
  for (let cut = 1; cut < events.length; cut += Math.ceil(events.length / rounds(4, 40))) {
    let now = stateOf(stateText(replay(events.slice(0, cut)).state!));
    for (const e of events.slice(cut)) now = step(now, e).state;
    expect(stateText(now)).toBe(stateText(state));
  }
});

test('nothing that is given in is changed', () => {
  const run = driven();
  run.until(() => run.state().frames === 3);
  const before = run.state();
  const text = stateText(before);
  step(before, { at: run.now(), code: 'stop', by: 'x' });
  step(before, { at: run.now() + 1000, code: 'done', act: run.out()!.id, value: 0 });
  expect(stateText(before)).toBe(text);
});

describe('somebody at the controls', () => {
  test('pauses after what is under way, and goes on; meanwhile nothing is begun', () => {
    const run = driven();
    run.until(() => run.out()?.do === 'expose');
    run.happens({ at: run.now(), code: 'pause', by: 'teun' });
    run.until(() => run.out() === null && wakeMs(run.state()) === null);
    expect(run.state().frames).toBe(1);
    expect(run.happens({ at: run.now() + 600_000, code: 'tick' }).acts).toEqual([]);
    run.happens({ at: run.now(), code: 'resume', by: 'teun' });
    run.until(() => false);
    expect([run.state().frames, run.state().finished]).toEqual([10, true]);
  });
  test('stops: what was under way is let go, the mount is parked, no frame is begun', () => {
    const run = driven();
    run.until(() => run.state().frames === 2 && run.out()?.do === 'expose');
    run.happens({ at: run.now() + 5000, code: 'stop', by: 'teun' });
    const asked: string[] = [];
    for (let i = 0; i < 50 && !run.state().finished; i++) {
      if (run.out()) asked.push(run.out()!.do);
      run.next();
    }
    expect(asked).toEqual(['stop', 'park']);
    expect([run.state().frames, run.state().finished]).toEqual([2, true]);
  });
  test('skips a leg: its frame is finished, and nothing more of it is begun', () => {
    const run = driven();
    run.until(() => run.state().frames === 2 && run.out()?.do === 'expose');
    run.happens({ at: run.now(), code: 'skip', by: 'teun' });
    run.until(() => false);
    expect([run.state().frames, run.state().finished]).toEqual([3, true]);
  });
});

describe('what does not come as it should', () => {
  test('a device that does not answer is asked again after its time, and without an end the night is closed', () => {
    const run = driven();
    run.until(() => run.out()?.do === 'expose');
    const { deadlineMs } = run.out()!;
    expect(deadlineMs).toBeGreaterThan(run.now() + 120_000);
    run.happens({ at: deadlineMs - 1, code: 'tick' });
    expect(run.state().closed).toBe(false);
    run.happens({ at: deadlineMs, code: 'tick' });
    expect([run.state().closed, codes(run.says).slice(-2)]).toEqual([false, ['run.again', 'run.interrupted']]);
    let asked = 0;
    for (let i = 0; i < 500 && !run.state().finished; i++) {
      if (run.out()?.do === 'expose') {
        asked++;
        run.happens({ at: run.out()!.deadlineMs, code: 'tick' });
      } else run.next();
    }
    expect([run.state().finished, asked]).toEqual([true, 8]);
    expect(codes(run.says)).toContain('run.device-fault');
    expect(codes(run.says)).toContain('run.parked-warming');
  });
  test('what fails for good is not tried again', () => {
    const run = driven();
    run.until(() => run.out()?.do === 'read-out');
    run.happens({ at: run.now(), code: 'failed', act: run.out()!.id, reason: 'the disk is full', final: true });
    expect([run.state().closed, run.out()!.do]).toEqual([true, 'stop']);
    run.until(() => false);
    expect(run.state().frames).toBe(0);
  });
  test('a wheel that stands elsewhere is turned again, and no frame is taken through the wrong filter', () => {
    const run = driven();
    run.until(() => run.out()?.do === 'turn');
    for (let i = 0; i < 2; i++) {
      const { id } = run.out()!;
      run.happens({ at: run.now() + 5000, code: 'done', act: id, value: null, readings: { wheel: 'B' } });
      expect(run.out()!.do).toBe('turn');
    }
    expect(codes(run.says).filter((c) => c === 'run.wheel-elsewhere')).toHaveLength(2);
    run.until(() => false);
    const taken = run.says.filter((s) => s.said === 'frame').map((s) => s.filter);
    expect(taken).toEqual([...Array(5).fill('L'), ...Array(5).fill('R')]);
  });
  test('two trailed frames in a row have the guide star sought anew', () => {
    const run = driven();
    run.until(() => run.state().frames === 1 && run.out()?.do === 'expose');
    const asked: string[] = [];
    for (let i = 0; i < 40 && run.state().frames < 4; i++) {
      const act = run.out();
      if (act) asked.push(act.do);
      if (act?.do === 'expose' && run.state().frames < 3)
        run.happens({
          at: run.now() + 120_000,
          code: 'done',
          act: act.id,
          value: { ...frame, eccentricity: 0.85 },
        });
      else run.next();
    }
    expect(codes(run.says)).toContain('run.guide-anew');
    expect(asked.filter((a) => ['stop', 'centre', 'start'].includes(a))).toEqual(['stop', 'centre', 'start']);
  });
  test('the interlock opens in a slew: the mount is stopped, and nothing moves or is exposed until it is closed', () => {
    const run = driven();
    expect(run.out()!.do).toBe('centre');
    const { id } = run.out()!;
    const opened = run.happens({ at: START + 5000, code: 'tick', readings: { safe: false } });
    // the guider is let go too: what it held is not where it was
    expect(opened.acts.map((a) => a.do)).toEqual(['abort', 'stop']);
    run.happens({ at: START + 6000, code: 'failed', act: id, reason: 'stopped' });
    const forbidden = ['centre', 'field', 'flip', 'park', 'expose', 'dither'];
    const asked: string[] = [];
    for (let i = 0; i < 30; i++) {
      if (run.out()) asked.push(run.out()!.do);
      run.next();
    }
    expect(asked.filter((a) => forbidden.includes(a))).toEqual([]);
    run.happens({ at: run.now() + 1000, code: 'tick', readings: { safe: true } });
    run.until(() => false);
    expect([run.state().frames, run.state().finished]).toEqual([10, true]);
  });
  test('one that opens while a frame is prepared, and closes after its leg’s hours: nothing is exposed beyond them', () => {
    const run = driven();
    // it ends beside the object and would be centred again
    const { id } = run.out()!;
    run.happens({ at: START + 60_000, code: 'done', act: id, value: 5, readings: { safe: false } });
    const end = Date.parse(timeline.end);
    run.until(() => run.now() > end + 600_000);
    expect(run.state().finished).toBe(false);
    run.happens({ at: run.now(), code: 'tick', readings: { safe: true } });
    const asked: string[] = [];
    for (let i = 0; i < 60 && !run.state().finished; i++) {
      if (run.out()) asked.push(run.out()!.do);
      run.next();
    }
    expect([run.state().frames, asked.includes('expose'), asked.includes('park')]).toEqual([0, false, true]);
  });
  test('an interlock that stays open leaves the mount where it stands, and says so', () => {
    const run = driven();
    run.until(() => run.state().frames === 2);
    run.happens({ at: run.now(), code: 'tick', readings: { safe: false } });
    run.until(() => false);
    expect(run.state().finished).toBe(true);
    expect(codes(run.says)).toEqual(expect.arrayContaining(['run.interlock-stays', 'run.not-parked']));
    expect(codes(run.says)).not.toContain('run.parked-warming');
  });
  test('an answer that comes late, or twice, changes nothing', () => {
    const run = driven();
    run.until(() => run.out()?.do === 'expose');
    const { id, deadlineMs } = run.out()!;
    run.happens({ at: deadlineMs, code: 'tick' });
    const before = stateText(run.state());
    run.happens({ at: deadlineMs, code: 'done', act: id, value: frame });
    run.happens({ at: deadlineMs, code: 'failed', act: id, reason: 'late' });
    expect(stateText(run.state())).toBe(before);
  });
  test('a clock that is set back stands still until it has come round again', () => {
    const run = driven();
    run.until(() => run.state().frames === 2);
    const { nowMs } = run.state();
    run.happens({ at: nowMs - 3_600_000, code: 'tick' });
    expect(run.state().nowMs).toBe(nowMs);
  });
  test('a run that is over hears nothing', () => {
    const run = driven();
    run.until(() => false);
    const text = stateText(run.state());
    for (const code of ['stop', 'resume', 'skip', 'pause'] as const)
      expect(run.happens({ at: run.now() + 1, code, by: 'x' }).acts).toEqual([]);
    expect(stateText(run.state())).toBe(text);
  });
  test('an event before the run began is none', () =>
    expect(() => step(null, { at: 0, code: 'tick' })).toThrow('begins with'));
});

test('shut by one limit of the air and held by the other: time passes, and it opens when both are well below', () => {
  const watches = parseInput(Watches, {
    wind: { aboveMS: 10, then: 'wait' },
    damp: { abovePercent: 90, then: 'wait' },
  });
  const run = driven(oneLegRun(timeline, { watches }));
  run.until(() => run.state().frames === 2);
  // damp above its limit, wind above its limit with slack alone
  run.happens({ at: run.now(), code: 'tick', readings: { humidity: 0.95, windMS: 9 } });
  run.until(() => wakeMs(run.state()) !== null && run.out() === null);
  const shut = run.now();
  for (let i = 0; i < 20; i++) run.next();
  expect(run.now()).toBeGreaterThanOrEqual(shut + 15 * 60_000);
  run.happens({ at: run.now(), code: 'tick', readings: { humidity: 0.5 } });
  run.next();
  expect(run.state().airShut).toBe(true);
  run.happens({ at: run.now() + 60_000, code: 'tick', readings: { windMS: 2 } });
  run.until(() => run.state().frames === 4);
  expect(run.state().frames).toBe(4);
});
