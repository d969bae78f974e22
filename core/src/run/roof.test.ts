import { describe, expect, test } from '@jest/globals';
import { RIGS } from '@keen/demo';
import { parseInput } from '../calculation/index.ts';
import {
  DeviceFault,
  simulatedTruthOf,
  standIns,
  withFaults,
  drawFaults,
  type Observatory,
} from '../observatory/index.ts';
import { viewOf } from '../rig/index.ts';
import { Closing, Opening } from '../sequence/index.ts';
import { isLoud, ordinaryNight, outlook, play, replay, standing, step, type RunState, type Said } from './index.ts';

const setup = viewOf(RIGS[0]!.build);
const plain = { notBeforeMs: null, field: null };
const night = (seed: number) => ({
  ...ordinaryNight(setup, seed),
  opening: [
    { step: 'connect' as const, minutes: 2, ...plain },
    { step: 'roof' as const, minutes: 2, ...plain },
    { step: 'home' as const, minutes: 2, ...plain },
  ],
  closing: [
    { step: 'roof' as const, minutes: 2, notBeforeMs: null },
    { step: 'park' as const, minutes: 1, notBeforeMs: null },
  ],
});
const standing0 = (seed: number) => {
  const plan = night(seed);
  const startMs = Date.parse(plan.legs[0]!.timeline.start);
  const world = { ...simulatedTruthOf(setup, seed, startMs, plan.endMs), cloud: [], roof: 'closed' as const };
  return { plan, startMs, o: () => standIns(world, setup.overheads) };
};
/** Every moment at which the roof is not open, held against where the tube is. */
function watched(o: Observatory): { o: Observatory; wrong: string[]; closed: () => number } {
  const wrong: string[] = [];
  let closed = 0;
  const { close } = o.roof!;
  const roof = {
    ...o.roof!,
    close: async () => {
      closed++;
      const tube = o.mount.state!();
      if (tube.moves || tube.follows) wrong.push('it closes over a tube that moves');
      if (Math.abs(tube.decDeg) < 89) wrong.push(`it closes over a tube at ${tube.decDeg}`);
      return close();
    },
  };
  const mount = {
    ...o.mount,
    slewAndCentre: (...of: Parameters<Observatory['mount']['slewAndCentre']>) => {
      if (o.roof!.state() !== 'open') wrong.push('a slew under a roof that is not open');
      return o.mount.slewAndCentre(...of);
    },
  };
  return { o: { ...o, roof, mount }, wrong, closed: () => closed };
}

describe('a roof', () => {
  test('is opened before anything moves, closed over the parked mount, and no alarm while it is closed by the plan', async () => {
    const { plan, o } = standing0(2);
    const w = watched(o());
    const { events, result } = await play(plan, w.o);
    expect([w.wrong, w.closed()]).toEqual([[], 1]);
    expect(result.frames.filter((f) => f.accepted).length).toBeGreaterThan(80);
    expect(replay(events).state!.readings.roof).toBe('closed');
    let state: RunState | null = null;
    const says: Said[] = [];
    const loud: string[] = [];
    for (const e of events) {
      const next = step(state, e);
      state = next.state;
      says.push(...next.says);
      const v = standing(state, says);
      if (isLoud(v)) loud.push(v.text);
    }
    expect(loud).toEqual([]);
  });
  test('what comes next waits for no sky while the run itself opens it', async () => {
    const { plan, o } = standing0(2);
    const { events } = await play(plan, o());
    const { state } = replay(events.slice(0, 2));
    const coming = outlook(state!, 6);
    expect(coming.map((c) => c.after)).toEqual(Array(6).fill(null));
    expect(coming.map((c) => c.phrase?.code)).toContain('run.roof-opens');
  });
  test('over a mount that could not be parked it is left open, and that is said aloud', async () => {
    const { plan, o } = standing0(3);
    const it = o();
    const stuck: Observatory = {
      ...it,
      mount: {
        ...it.mount,
        park: async () => {
          throw new DeviceFault('mount', 'it does not move', true);
        },
      },
    };
    const w = watched(stuck);
    const { events, result } = await play(plan, w.o);
    expect([w.wrong, w.closed()]).toEqual([[], 0]);
    expect(result.events.map((e) => e.phrase?.code)).toContain('run.roof-left-open');
    const { state, says } = replay(events);
    expect(isLoud(standing(state!, says))).toBe(true);
  });
  test('that does not open at once is asked again, and the rest of the opening follows', async () => {
    const { plan, o } = standing0(2);
    const it = o();
    let tries = 0;
    const { open } = it.roof!;
    const roof = {
      ...it.roof!,
      open: async () => {
        if (++tries < 3) throw new DeviceFault('roof', 'a switch did not close');
        return open();
      },
    };
    const { result } = await play(plan, { ...it, roof });
    expect(tries).toBe(3);
    expect(result.frames.filter((f) => f.accepted).length).toBeGreaterThan(80);
    const codes = result.events.map((e) => e.phrase?.code);
    expect(codes.indexOf('run.step-home')).toBeGreaterThan(codes.lastIndexOf('run.again'));
  });
  test('where there is none the night does not begin', async () => {
    const { plan, o } = standing0(2);
    const { roof: _none, interlock: _open, ...without } = o();
    const { result } = await play(plan, without);
    expect(result.frames).toEqual([]);
    expect(result.events.map((e) => e.text)).toContainEqual(expect.stringContaining('there is none'));
  });
  test('with faults in the night it closes over no tube that is out', async () => {
    for (const fault of ['roof-closes', 'power-dip', 'interlock', 'device-silent'] as const) {
      const { plan, o, startMs } = standing0(4);
      const w = watched(o());
      const { o: faulty, truth } = withFaults(w.o, drawFaults([fault], 4, startMs, plan.endMs), 4);
      const { state } = await play(plan, faulty);
      expect([fault, w.wrong, truth.unsafe, state.finished]).toEqual([fault, [], [], true]);
    }
  });
  test('a plan that would move the mount under a closed roof is refused, with why', () => {
    const steps = (...of: string[]) => of.map((s) => ({ step: s, minutes: 2 }));
    expect(parseInput(Opening, steps('connect', 'roof', 'home')).map((s) => s.step)).toEqual([
      'connect',
      'roof',
      'home',
    ]);
    expect(() => parseInput(Opening, steps('home', 'roof'))).toThrow('before anything moves');
    expect(parseInput(Closing, steps('park', 'roof', 'warm'))).toHaveLength(3);
  });
});
