import { RIGS } from '@keen/demo';
import { describe, expect, test } from '@jest/globals';
import { parseInput } from '../calculation/index.ts';
import {
  drawFaults,
  FAULTS,
  horizontalOf,
  simulatedTruthOf,
  standIns,
  temperatureAt,
  withFaults,
  zoneStepsOf,
  type Observatory,
  type RunPlan,
} from '../observatory/index.ts';
import { viewOf } from '../rig/index.ts';
import { TimelineInput, Watches } from '../sequence/index.ts';
import { seeded } from '../statistics/index.ts';
import { drawnRun } from '../test/drawnRuns.ts';
import { SkyByHand } from '../test/nightChecker.ts';
import { oneLegRun } from '../test/oneLegRun.ts';
import { rounds } from '../test/rounds.ts';
import { drive, ordinaryNight, play, replay, stateText, type Command, type Happened } from './index.ts';

const setup = viewOf(RIGS[0]!.build);
const HOUR = 3_600_000;
const START = Date.parse('2026-11-24T18:00:00Z');

describe('somebody else goes on where the first one ended', () => {
  /** A night in pieces: each piece is driven by another, who knows the events alone and has stand-ins of its own. */
  async function inPieces(plan: RunPlan, o: () => Observatory, cuts: readonly number[]): Promise<Happened[]> {
    let events: Happened[] = [];
    for (const cut of [...cuts, Infinity]) {
      const now = [...events];
      await drive(
        { o: o(), plan, told: (e) => void now.push(e), left: () => now.length >= cut },
        JSON.parse(JSON.stringify(events)) as Happened[],
      );
      events = now;
    }
    return events;
  }
  test('at any event: it is the night that was never broken off, to the last byte', async () => {
    for (let seed = 1; seed <= rounds(3, 100); seed++) {
      const { plan, o } = drawnRun(seed, setup);
      const { events, state } = await play(plan, o());
      const r = seeded(seed);
      const cuts = Array.from({ length: 3 }, () => 1 + Math.floor(r.next() * events.length)).sort((a, b) => a - b);
      const pieced = await inPieces(plan, o, cuts);
      expect(pieced).toEqual(events);
      expect(stateText(replay(pieced).state!)).toBe(stateText(state));
    }
  }, 300_000);
  test('with commands at any fraction of a moment', async () => {
    const plan = ordinaryNight(setup, 5);
    const world = { ...simulatedTruthOf(setup, 5, START, plan.endMs), cloud: [] };
    const o = (pace?: (from: number, to: number) => number) =>
      withFaults(standIns(world, setup.overheads, pace), [], 5).o;
    const r = seeded(3);
    const events: Happened[] = [];
    let called = false;
    // somebody calls now and then, in the middle of what is waited for
    const equipment = o((from, to) => {
      if (r.next() > 0.02) return to;
      called = true;
      return from + (to - from) * r.next();
    });
    const asked = (): Command | null => {
      const code = called ? (['focus', 'centre', 'pause', 'resume'] as const)[Math.floor(4 * r.next())]! : null;
      called = false;
      return code && { code, by: 'x' };
    };
    await drive({ o: equipment, plan, told: (e) => void events.push(e), asked, left: () => events.length > 900 });
    expect(events.some((e) => e.at % 1 !== 0)).toBe(true);
    const again: Happened[] = [];
    await drive({ o: o(), plan, told: (e) => void again.push(e), left: () => true }, events);
    expect(again).toEqual([]);
  }, 60_000);
  test('with faults on the equipment too', async () => {
    const plan = ordinaryNight(setup, 5);
    const world = { ...simulatedTruthOf(setup, 5, START, plan.endMs), cloud: [] };
    for (const fault of FAULTS.slice(0, rounds(2, FAULTS.length))) {
      const o = () => withFaults(standIns(world, setup.overheads), drawFaults([fault], 5, START, plan.endMs), 5).o;
      const { events } = await play(plan, o());
      expect(await inPieces(plan, o, [40, 400, 700])).toEqual(events);
    }
  }, 300_000);
});

test('where a second camera is planned and none is there, that is said, and the night goes on', async () => {
  const { plan, o } = drawnRun(2, setup);
  const { beside: _none, ...one } = o();
  const { result, state } = await play(plan, one);
  expect(result.frames.length).toBeGreaterThan(50);
  expect(state.beside!.finished).toBe(true);
  expect(result.follower).toBeNull();
});

describe('what is looked at while something is under way', () => {
  const frames = (night: { events: Happened[] }) => replay(night.events).says.filter((s) => s.said === 'frame');
  const driven = async (
    plan: RunPlan,
    o: Observatory,
    asked: (nowMs: number) => Command['code'] | null = () => null,
  ) => {
    const events: Happened[] = [];
    const commands = () => {
      const code = asked(o.clock.now());
      return code ? { code, by: 'someone' } : null;
    };
    const state = await drive({ o, plan, told: (e) => void events.push(e), asked: commands });
    return { events, state, codes: replay(events).says.flatMap((s) => (s.said === 'event' ? [s.phrase?.code] : [])) };
  };
  const quiet = (more: Partial<RunPlan> = {}) => {
    const plan = { ...ordinaryNight(setup, 3), ...more };
    const world = { ...simulatedTruthOf(setup, 3, START, plan.endMs), cloud: [] };
    return { plan, o: standIns(world, setup.overheads) };
  };
  test('wind above its limit ends an exposure within seconds; what is begun later is begun in still air', async () => {
    const watches = parseInput(Watches, { wind: { aboveMS: 12, then: 'wait' } });
    const { plan, o } = quiet({ watches });
    const [from, until] = [START + 2 * HOUR + 77_000, START + 2 * HOUR + 900_000];
    const { read } = o.weather;
    o.weather.read = () => ({ ...read(), windMS: o.clock.now() >= from && o.clock.now() < until ? 20 : 3 });
    const night = await driven(plan, o);
    const exposing = replay(night.events).says.filter((s) => s.said === 'event' && s.kind === 'expose');
    const spans = exposing.map((s) => (s.said === 'event' ? [Date.parse(s.start), Date.parse(s.end)] : [0, 0]));
    // wind is read once a minute
    expect(spans.filter(([a, b]) => b! > from + 60_000 && a! < until)).toEqual([]);
    expect(frames(night).length).toBeGreaterThan(60);
  });
  test('a star that is lost for long ends its frame, and is sought anew', async () => {
    const { plan, o } = quiet();
    const [from, until] = [START + 2 * HOUR, START + 2 * HOUR + 240_000];
    o.disturb!((ms) => ({ gust: false, lost: ms >= from && ms < until, hot: false, deaf: false }));
    const night = await driven(plan, o);
    expect(night.codes).toEqual(expect.arrayContaining(['run.star-lost', 'run.wait-star']));
    expect(frames(night).filter((f) => f.said === 'frame' && !f.accepted).length).toBeLessThan(4);
  });
  test('somebody who asks for a focus run, to be centred or guided anew has it before the next frame; stopping ends the exposure', async () => {
    const { plan, o } = quiet();
    const wished: [number, Command['code']][] = [
      [START + HOUR, 'focus'],
      [START + 1.5 * HOUR, 'centre'],
      [START + 2 * HOUR, 'pause'],
      [START + 2.5 * HOUR, 'resume'],
      [START + 3.2 * HOUR + 50_000, 'stop'],
    ];
    const night = await driven(plan, o, (nowMs) => {
      if (!wished.length || nowMs < wished[0]![0]) return null;
      return wished.shift()![1];
    });
    const says = replay(night.events).says;
    const after = (kind: string, ms: number) =>
      says.some(
        (s) =>
          s.said === 'event' && s.kind === kind && Date.parse(s.start) - ms >= 0 && Date.parse(s.start) - ms < 300_000,
      );
    expect([after('focus', START + HOUR), after('slew', START + 1.5 * HOUR)]).toEqual([true, true]);
    const taken = frames(night).map((f) => (f.said === 'frame' ? Date.parse(f.start) : 0));
    expect(taken.filter((ms) => ms > START + 2 * HOUR && ms < START + 2.5 * HOUR)).toEqual([]);
    expect(Math.max(...taken)).toBeLessThan(START + 3.2 * HOUR);
    expect(night.state.nowMs).toBeLessThan(START + 3.3 * HOUR);
    expect(night.codes).toContain('run.parked-warming');
  });
  test('guiding, cooler and tube are told as they are', async () => {
    const cool = { step: 'cool' as const, minutes: 15, notBeforeMs: null, field: null };
    const { plan } = quiet({ opening: [cool], coolToC: -10 });
    const cooler = { ratePerMinC: 2, deepestBelowAmbientC: 35 };
    const world = { ...simulatedTruthOf(setup, 3, START, plan.endMs), cloud: [], cooler };
    const o = standIns(world, setup.overheads);
    const night = await driven(plan, o);
    const readings = night.events.flatMap((e) => (e.readings ? [e.readings] : []));
    const rms = readings.flatMap((r) => (r.guideArcsec ? [r.guideArcsec] : []));
    expect(rms.length).toBeGreaterThan(100);
    // by hand: what is measured scatters by the air (0.45″) and by what is corrected too much of it
    for (const [ra, dec] of rms.slice(0, 50)) {
      expect(ra).toBeGreaterThan(0.25);
      expect(Math.max(ra, dec)).toBeLessThan(1.5);
    }
    const cooled = night.events.flatMap((e) => (e.readings?.cooler ? [[e.at, ...e.readings.cooler] as const] : []));
    const at = (ms: number) => cooled.findLast(([t]) => t <= ms)!;
    // two degrees a minute, and then what it was asked for, with what that takes against the air
    const [, sensorC] = at(START + 5 * 60_000);
    expect(Math.abs(sensorC - (world.startC - 10))).toBeLessThan(2.5);
    const [ms, heldC, percent] = at(START + 2 * HOUR);
    expect(heldC).toBeCloseTo(-10, 1);
    expect(Math.abs(percent - (100 * (temperatureAt(world, ms) + 10)) / 35)).toBeLessThan(2);
    expect(new Set(readings.flatMap((r) => (r.tube ? [r.tube.side] : [])))).toEqual(new Set(['west', 'east']));
    expect(night.state.readings.tube).toMatchObject({ decDeg: 90, moves: false, follows: false });
  });
});

describe('no motion below the ground, or near the Sun', () => {
  const RAD = Math.PI / 180;
  /** Distance of two places above the horizon, by their vectors. */
  const apart = (a: { altitudeDeg: number; azimuthDeg: number }, b: { altitudeDeg: number; azimuthDeg: number }) => {
    const v = ({ altitudeDeg: h, azimuthDeg: z }: typeof a) => [
      Math.cos(h * RAD) * Math.cos(z * RAD),
      Math.cos(h * RAD) * Math.sin(z * RAD),
      Math.sin(h * RAD),
    ];
    const [x, y] = [v(a), v(b)];
    return (
      Math.acos(
        Math.max(
          -1,
          Math.min(
            1,
            x.reduce((s, c, i) => s + c * y[i]!, 0),
          ),
        ),
      ) / RAD
    );
  };
  /** A day and a night of a plan that believes everything may be looked at, anywhere; whatever moves is looked at on its way. */
  async function tried(seed: number) {
    const r = seeded(seed);
    const site = {
      latitudeDeg: -60 + 120 * r.next(),
      longitudeDeg: -180 + 360 * r.next(),
      elevationM: 0,
      timeZone: 'UTC',
      horizon: [],
    };
    const startMs = START - 12 * HOUR + Math.floor(24 * HOUR * r.next());
    const endMs = startMs + 10 * HOUR;
    const timeline = parseInput(TimelineInput, {
      start: new Date(startMs).toISOString(),
      end: new Date(endMs).toISOString(),
      filters: [{ name: 'L', exposureS: 300, quota: 400 }],
      order: 'rolling',
      overheads: setup.overheads,
      focus: { policy: 'every-change' },
      ...(r.next() < 0.6 ? { flipAt: new Date(startMs + 5 * HOUR).toISOString() } : {}),
    });
    const leg = (i: number) => ({
      ...oneLegRun(timeline).legs[0]!,
      planIndex: i,
      projectId: `p${i}`,
      goal: `p${i}`,
      turnMin: 30,
      target: { name: `x${i}`, raDeg: 360 * r.next(), decDeg: -80 + 160 * r.next() },
    });
    const plan = oneLegRun(timeline, {
      legs: [leg(0), leg(1), leg(2)],
      site,
      focusReachSteps: 5 * zoneStepsOf(setup),
      opening: [
        {
          step: 'focus',
          minutes: 5,
          notBeforeMs: null,
          field: { altitudeDeg: 10 + 75 * r.next(), azimuthDeg: 360 * r.next() },
        },
      ],
    });
    const sky = new SkyByHand(site);
    const world = { ...simulatedTruthOf(setup, seed, startMs, endMs), ...site };
    let places = 0;
    const unsafe: string[] = [];
    const o = standIns(world, setup.overheads, (_, towardsMs) => {
      const tube = o.mount.state!();
      if (tube.moves) {
        places++;
        const there = horizontalOf(tube.haDeg, tube.decDeg, site.latitudeDeg);
        const sun = sky.sun(o.clock.now());
        const said = `${new Date(o.clock.now()).toISOString()} ${there.altitudeDeg.toFixed(1)}`;
        if (there.altitudeDeg < -1.6) unsafe.push(`ground ${said}`);
        if (sun.altitudeDeg > 0 && apart(there, sun) < 29) unsafe.push(`sun ${said} ${apart(there, sun).toFixed(1)}`);
      }
      return towardsMs;
    });
    const events: Happened[] = [];
    const needless: string[] = [];
    await drive({
      o,
      plan,
      told: (e, { says, state }) => {
        events.push(e);
        if (!says.some((s) => s.said === 'event' && s.phrase?.code === 'run.refused-ground')) return;
        // by night what stands above the ground can be pointed at, from wherever the tube is
        const { raDeg, decDeg } = state.legs[state.legIndex]!.target;
        const { altitudeDeg } = sky.star(raDeg, decDeg, state.nowMs);
        if (sky.sun(state.nowMs).altitudeDeg < -3 && altitudeDeg > 3)
          needless.push(`${site.latitudeDeg.toFixed()} ${decDeg.toFixed()} at ${altitudeDeg.toFixed()}`);
      },
    });
    const codes = replay(events).says.flatMap((s) => (s.said === 'event' ? [s.phrase?.code ?? ''] : []));
    return { unsafe: [...unsafe, ...needless], places, codes };
  }
  test('by day and by night, anywhere on Earth, looked at every second of every motion', async () => {
    const refused = { sun: 0, ground: 0 };
    let over = 0;
    let places = 0;
    // in the last of them the Sun comes near where it looks, and it must not even be parked
    const seeds = [...Array.from({ length: rounds(12, 200) }, (_, i) => i + 1), 24];
    for (const seed of seeds) {
      const got = await tried(seed);
      expect([seed, got.unsafe]).toEqual([seed, []]);
      places += got.places;
      for (const k of ['sun', 'ground'] as const) if (got.codes.includes(`run.refused-${k}`)) refused[k]++;
      if (got.codes.includes('run.over-pole')) over++;
    }
    expect(over).toBeGreaterThan(0);
    expect(places).toBeGreaterThan(rounds(1000, 20_000));
    // the check is one: there was something to refuse
    expect(refused.sun).toBeGreaterThan(0);
    expect(refused.ground).toBeGreaterThan(0);
  }, 300_000);
});
