import { describe, expect, test } from '@jest/globals';
import { RIGS } from '@keen/demo';
import {
  drawFaults,
  simulatedTruthOf,
  standIns,
  withFaults,
  type Fault,
  type Observatory,
  type RunPlan,
  type SimulatedTruth,
} from '../observatory/index.ts';
import { viewOf } from '../rig/index.ts';
import { rounds } from '../test/rounds.ts';
import { ordinaryNight, play, replay, type Happened } from './index.ts';

const setup = viewOf(RIGS[0]!.build);
const HOUR = 3_600_000;
const apart = (a: number, b: number): number => Math.abs(((((a - b + 180) % 360) + 360) % 360) - 180);

function night(seed: number, plan: Partial<RunPlan> = {}, world: Partial<SimulatedTruth> = {}, leg: object = {}) {
  const usual = ordinaryNight(setup, seed);
  const startMs = Date.parse(usual.legs[0]!.timeline.start);
  const truth = { ...simulatedTruthOf(setup, seed, startMs, usual.endMs), cloud: [] as [number, number][], ...world };
  return {
    plan: { ...usual, ...plan, legs: usual.legs.map((l) => ({ ...l, ...leg })) },
    startMs,
    o: () => standIns(truth, setup.overheads),
  };
}
const codesOf = (events: readonly Happened[]) =>
  replay(events).says.flatMap((s) => (s.said === 'event' && s.phrase ? [s.phrase.code as string] : []));
const withFault = (o: Observatory, fault: Fault, seed: number, fromMs: number, untilMs: number) =>
  withFaults(o, drawFaults([fault], seed, fromMs, untilMs), seed).o;

describe('a rotator', () => {
  const NORTH = 33;
  const turned = (paDeg: number, afterFlip: 'turn' | 'leave') => ({
    turned: { paDeg, eitherWay: afterFlip === 'leave', afterFlip },
  });
  const rotator = (afterFlip: 'turn' | 'leave', reachDeg = 180) => ({
    rotator: { reachDeg, northDeg: NORTH, afterFlip },
  });
  /** At which angle the top of each picture really stood, worked out from the ring and the side of the pier alone. */
  function framed(o: Observatory) {
    const tops: { paDeg: number; side: string; ringDeg: number }[] = [];
    const camera: Observatory['camera'] = {
      ...o.camera,
      expose: (s) => {
        const [ringDeg, side] = [o.rotator!.angleDeg(), o.mount.state!().side];
        tops.push({ ringDeg, side, paDeg: ringDeg + NORTH + (side === 'east' ? 180 : 0) });
        return o.camera.expose(s);
      },
    };
    return { o: { ...o, camera }, tops };
  }
  test.each([
    ['turn', 0],
    ['turn', 117],
    ['leave', 117],
    ['leave', 250],
  ] as const)('%s: every picture stands at %d°, on both sides of the meridian', async (afterFlip, paDeg) => {
    const { plan, o } = night(3, {}, rotator(afterFlip), turned(paDeg, afterFlip));
    const f = framed(o());
    const { result } = await play(plan, f.o);
    expect(result.frames.length).toBeGreaterThan(60);
    expect(new Set(f.tops.map((t) => t.side))).toEqual(new Set(['west', 'east']));
    const off = f.tops.map((t) => apart(t.paDeg, paDeg));
    if (afterFlip === 'turn') expect(Math.max(...off)).toBeLessThan(2);
    else {
      expect(Math.max(...off.map((x) => Math.min(x, 180 - x)))).toBeLessThan(2);
      // nothing was wound: the ring stays within a degree or two of where it was
      const ring = f.tops.map((t) => t.ringDeg);
      expect(Math.max(...ring) - Math.min(...ring)).toBeLessThan(4);
    }
  });
  test('is never asked beyond its cables; where only the other way up is within them and that will not do, it is said', async () => {
    for (let seed = 1; seed <= rounds(6, 60); seed++) {
      const paDeg = (seed * 77) % 360;
      for (const afterFlip of ['turn', 'leave'] as const) {
        const { plan, o } = night(seed, {}, rotator(afterFlip, 90), turned(paDeg, afterFlip));
        const f = framed(o());
        const { events } = await play(plan, f.o);
        expect(Math.max(...f.tops.map((t) => Math.abs(t.ringDeg)))).toBeLessThan(92);
        const off = f.tops.map((t) =>
          afterFlip === 'turn' ? apart(t.paDeg, paDeg) : apart(2 * t.paDeg, 2 * paDeg) / 2,
        );
        expect(codesOf(events).includes('run.off-angle')).toBe(Math.max(...off) > 1);
      }
    }
  });
  test('that slips is turned again before the next frame', async () => {
    const { plan, o, startMs } = night(5, {}, rotator('leave'), turned(117, 'leave'));
    const { events, result } = await play(plan, withFault(o(), 'rotator-slips', 5, startMs, plan.endMs));
    const codes = codesOf(events);
    expect(codes.filter((c) => c === 'run.turned-off')).toHaveLength(1);
    const at = codes.indexOf('run.turned-off');
    expect(codes.slice(at).find((c) => c === 'run.turned-to' || c === 'run.exposed')).toBe('run.turned-to');
    expect(result.frames.filter((f) => f.accepted).length).toBeGreaterThan(60);
  });
  test('stops when the interlock opens, and is not begun while it is open', async () => {
    for (let seed = 1; seed <= rounds(5, 40); seed++) {
      const { plan, o, startMs } = night(seed, {}, rotator('turn'), turned(117, 'turn'));
      // every moment of the first pointing in turn
      const fault = { fault: 'interlock' as const, atMs: startMs + 3 * 60_000 + seed * 9000, forMs: 600_000 };
      const { o: faulty, truth } = withFaults(o(), [fault], seed);
      const { result } = await play(plan, faulty);
      expect(truth.unsafe).toEqual([]);
      expect(result.frames.length).toBeGreaterThan(50);
    }
  });
  test('that is not there although the rig says so: the night is not begun, and that is said', async () => {
    const { plan, o } = night(2, {}, {}, turned(10, 'turn'));
    const { events, result } = await play(plan, o());
    expect(codesOf(events)).toContain('run.device-fault');
    expect(result.frames).toEqual([]);
  });
});

describe('a supply', () => {
  const steps = {
    opening: [{ step: 'connect' as const, minutes: 2, notBeforeMs: null, field: null }],
    closing: (['park', 'warm', 'disconnect'] as const).map((step) => ({ step, minutes: 2, notBeforeMs: null })),
  };
  test('is switched on before anything is asked whether it is there, and off after the last', async () => {
    const { plan, o } = night(
      4,
      { ...steps, supply: { switched: true, closesBelowV: 11.5 } },
      { supply: { switched: true, battery: null } },
    );
    const it = o();
    const asked: string[] = [];
    const connect = it.connect!;
    it.connect = async (device) => (
      asked.push(it.power!.state().on ? 'on' : `${device} without power`),
      connect(device)
    );
    const { result, events } = await play(plan, it);
    expect(new Set(asked)).toEqual(new Set(['on']));
    expect(it.power!.state().on).toBe(false);
    expect(it.mount.state!().follows).toBe(false);
    expect(result.frames.filter((f) => f.accepted).length).toBeGreaterThan(60);
    // a supply that is off is no low one
    expect(codesOf(events)).not.toContain('run.supply-low');
  });
  test('is switched on first where nothing is connected by a step of its own', async () => {
    const { plan, o } = night(
      4,
      { opening: [], supply: { switched: true, closesBelowV: null } },
      { supply: { switched: true, battery: null } },
    );
    const { events } = await play(plan, o());
    const codes = codesOf(events);
    expect(codes.indexOf('run.power-on')).toBeLessThan(codes.indexOf('run.centred'));
    expect(codes).toContain('run.power-on');
  });
  test('a battery that runs down closes the night while the mount can still be parked; without a limit everything stands still at once', async () => {
    const battery = { capacityWh: 100, drawW: 40 };
    const low = (closesBelowV: number | null) =>
      night(4, { ...steps, supply: { switched: false, closesBelowV } }, { supply: { switched: false, battery } });
    const at = async (closesBelowV: number | null) => {
      const { plan, o, startMs } = low(closesBelowV);
      const it = o();
      const faulty = withFaults(it, [], 4).o;
      const { result, events } = await play(plan, faulty);
      const last = result.frames.at(-1)!;
      return { it, codes: codesOf(events), lastH: (Date.parse(last.start) - startMs) / HOUR, result };
    };
    const watched = await at(11.8);
    // 12.9 V full, 11.4 V empty after two and a half hours: 11.8 V after 1.83 h
    expect(watched.lastH).toBeGreaterThan(1.6);
    expect(watched.lastH).toBeLessThan(1.9);
    expect(watched.codes).toContain('run.supply-low');
    expect(watched.it.mount.state!().follows).toBe(false);
    expect(watched.codes).not.toContain('run.not-parked');
    const unwatched = await at(null);
    expect(unwatched.lastH).toBeGreaterThan(2.3);
    expect(unwatched.codes).toContain('run.not-parked');
  });
  test('that sinks for less than a minute ends nothing', async () => {
    const { plan, o, startMs } = night(
      4,
      { ...steps, supply: { switched: false, closesBelowV: 11.8 } },
      { supply: { switched: false, battery: null } },
    );
    const it = o();
    const state = it.power!.state.bind(it.power!);
    const [from, until] = [startMs + HOUR, startMs + HOUR + 40_000];
    const now = () => it.clock.now();
    const power = {
      ...it.power!,
      state: () => ({ ...state(), ...(now() >= from && now() < until ? { volts: 10 } : {}) }),
    };
    const { events, result } = await play(plan, { ...it, power });
    expect(codesOf(events)).not.toContain('run.supply-low');
    expect(result.frames.filter((f) => f.accepted).length).toBeGreaterThan(60);
  });
});

describe('a tip-tilt plate', () => {
  const plate = { tipTilt: { reachArcsec: 18 } };
  const scatter = async (world: Partial<SimulatedTruth>, plan: Partial<RunPlan>) => {
    const n = night(6, plan, world);
    const { events, result } = await play(n.plan, n.o());
    const ra = events.flatMap((e) => (e.readings?.guideArcsec ? [e.readings.guideArcsec[0]] : []));
    const long = result.frames.filter((f) => f.accepted).map((f) => f.eccentricity);
    const tilts = events.flatMap((e) => (e.readings?.tilt ? [Math.max(...e.readings.tilt.map(Math.abs))] : []));
    const mean = (v: number[]) => v.reduce((s, x) => s + x, 0) / v.length;
    return { ra: mean(ra), long: mean(long), tilts };
  };
  test('takes its share: rounder stars than the mount alone, and it is never at its end while the mount follows', async () => {
    const [alone, tilted] = [await scatter({}, {}), await scatter(plate, { tipTilt: true })];
    expect(alone.tilts).toEqual([]);
    expect(tilted.ra).toBeLessThan(alone.ra);
    expect(tilted.long).toBeLessThan(alone.long);
    expect(Math.max(...tilted.tilts)).toBeGreaterThan(0.1);
    expect(Math.max(...tilted.tilts)).toBeLessThan(0.6);
  });
  test('whose mount does not follow comes to its end: pointed and guided anew, with the plate in its middle', async () => {
    let ends = 0;
    for (let seed = 1; seed <= rounds(4, 30); seed++) {
      const { plan, o, startMs } = night(seed, { tipTilt: true }, plate);
      const it = withFaults(o(), [{ fault: 'deaf-mount', atMs: startMs + HOUR, forMs: 2 * HOUR }], seed).o;
      const centred: number[] = [];
      const tipTilt = {
        ...it.tipTilt!,
        centre: async () => {
          await it.tipTilt!.centre();
          centred.push(it.tipTilt!.tilt().ra);
        },
      };
      const { events, result } = await play(plan, { ...it, tipTilt });
      const codes = codesOf(events);
      ends += codes.filter((c) => c === 'run.plate-at-end').length;
      expect(codes.filter((c) => c === 'run.plate-at-end' || c === 'run.guide-anew').length).toBeGreaterThan(0);
      expect(centred.length).toBeGreaterThan(1);
      expect(Math.max(...centred.map(Math.abs))).toBe(0);
      // the four hours in which it hears are not lost
      expect(result.frames.filter((f) => f.accepted).length).toBeGreaterThan(40);
    }
    expect(ends).toBeGreaterThan(0);
  });
});

describe('a mount that stops by itself past the meridian', () => {
  /** On the meridian of Greenwich at nine in the evening. */
  const target = { name: 'x', raDeg: 18.5, decDeg: 30 };
  const limits = { pastMeridianDeg: 8 };
  const site = { latitudeDeg: 45, longitudeDeg: 0, elevationM: 0, timeZone: 'UTC', horizon: [] };
  const legs = (seed: number) =>
    ordinaryNight(setup, seed).legs.map((l) => ({ ...l, target, timeline: { ...l.timeline, flipAt: null } }));
  /** How the tube stood at the beginning and the end of each exposure. */
  function seen(o: Observatory) {
    const at: { pastDeg: number; follows: boolean }[] = [];
    const look = () => {
      const { haDeg, side, follows } = o.mount.state!();
      at.push({ pastDeg: side === 'west' ? haDeg : haDeg < 0 ? -haDeg : 0, follows });
    };
    const camera = {
      ...o.camera,
      expose: async (s: number) => {
        look();
        const m = await o.camera.expose(s);
        look();
        return m;
      },
    };
    return { o: { ...o, camera }, at };
  }
  const played = async (known: boolean) => {
    const n = night(7, { site, ...(known ? limits : {}) }, limits, legs(7)[0]);
    const f = seen(n.o());
    return { ...(await play(n.plan, f.o)), at: f.at };
  };
  test('whose limit is known is pointed from the other side before it comes to it', async () => {
    const { at, events, result } = await played(true);
    expect(at.every((x) => x.follows)).toBe(true);
    expect(Math.max(...at.map((x) => x.pastDeg))).toBeLessThanOrEqual(8);
    // it is used up to a frame’s length of it
    expect(Math.max(...at.map((x) => x.pastDeg))).toBeGreaterThan(6.5);
    expect(codesOf(events).filter((c) => c === 'run.at-limit')).toHaveLength(1);
    expect(codesOf(events)).not.toContain('run.again');
    expect(result.frames.filter((f) => f.accepted).length).toBeGreaterThan(80);
  });
  test('whose limit is not known costs one frame, and is pointed anew', async () => {
    const { at, events, result } = await played(false);
    expect(at.filter((x) => !x.follows).length).toBeLessThanOrEqual(1);
    expect(codesOf(events).filter((c) => c === 'run.again')).toHaveLength(1);
    expect(result.frames.filter((f) => f.accepted).length).toBeGreaterThan(78);
  });
  test('that never follows is given up, not asked for ever', async () => {
    const n = night(7, { site }, { pastMeridianDeg: -400 }, legs(7)[0]);
    const { events, result, state } = await play(n.plan, n.o());
    expect(state.finished).toBe(true);
    expect(codesOf(events)).toContain('run.device-fault');
    expect(result.frames.filter((f) => f.accepted)).toEqual([]);
  });
});

describe('a focuser with play in its gears', () => {
  test('is come to from below each time: as sharp as one without, and sharper than one that is not', async () => {
    const widths = async (backlashSteps: number, straight = false) => {
      const { plan, o } = night(8, {}, { backlashSteps });
      const it = o();
      // one that goes straight to where it is wanted: what leads below it is left out
      let left = false;
      const focuser = {
        ...it.focuser,
        moveTo: async (p: number) => {
          left = straight && !left && p < it.focuser.position();
          if (!left) await it.focuser.moveTo(p);
        },
      };
      const { result } = await play(plan, { ...it, focuser });
      const good = result.frames.filter((f) => f.accepted).map((f) => f.hfdPx);
      return good.reduce((s, x) => s + x, 0) / good.length;
    };
    const [none, much] = [await widths(0), await widths(60)];
    expect(much / none).toBeLessThan(1.03);
    expect((await widths(60, true)) / none).toBeGreaterThan(1.08);
  });
});
