import { describe, expect, test } from '@jest/globals';
import { RIGS } from '@keen/demo';
import { parseInput } from '../calculation/index.ts';
import { TimelineInput, Watches } from '../sequence/index.ts';
import {
  DeviceFault,
  simulatedTruthOf,
  standIns,
  zoneStepsOf,
  type Observatory,
  type RunPlan,
  type SimulatedTruth,
} from '../observatory/index.ts';
import { conduct } from './index.ts';
import { SkyByHand } from '../test/nightChecker.ts';
import { oneLegRun } from '../test/oneLegRun.ts';
import { rounds } from '../test/rounds.ts';

const setup = RIGS[0]!.setup;
const start = '2026-11-24T18:00:00.000Z';
const end = '2026-11-25T00:00:00.000Z';

function play(
  seed: number,
  options: {
    policy?: string;
    offsets?: Record<string, number> | null;
    order?: string;
    quota?: number;
    watches?: object;
    world?: Partial<SimulatedTruth>;
    air?: (ms: number) => object;
  } = {},
) {
  const world = { ...simulatedTruthOf(setup, seed, Date.parse(start), Date.parse(end)), ...options.world };
  const timeline = parseInput(TimelineInput, {
    start,
    end,
    filters: ['L', 'R', 'G', 'B'].map((name) => ({ name, exposureS: 180, quota: options.quota ?? 60 })),
    order: options.order ?? 'rolling',
    overheads: setup.overheads,
    dither: { everyFrames: 2 },
    focus: { policy: options.policy ?? 'every-change', everyMin: 60 },
    flipAt: '2026-11-24T21:00:00.000Z',
  });
  const plan = oneLegRun(timeline, {
    offsets: options.offsets ? { steps: options.offsets, temperatureStepsPerC: world.stepsPerC } : null,
    focusReachSteps: 5 * zoneStepsOf(setup),
    watches: parseInput(Watches, options.watches ?? {}),
  });
  const o = standIns(world, setup.overheads);
  const read = o.weather.read;
  if (options.air) o.weather.read = () => ({ ...read(), ...options.air!(o.clock.now()) });
  return { world, result: conduct(plan, o) };
}

describe('a rehearsal', () => {
  test('the same seed gives the same night, another seed another', async () => {
    const [a, b, c] = await Promise.all([play(5).result, play(5).result, play(6).result]);
    expect(a).toEqual(b);
    expect(a.frames.map((f) => f.hfdPx)).not.toEqual(c.frames.map((f) => f.hfdPx));
  });
  test('events follow each other without overlap, and nothing is exposed while the weather says cloud', async () => {
    const r = await play(7).result;
    let at = 0;
    for (const e of r.events) {
      expect(Date.parse(e.start)).toBeGreaterThanOrEqual(at);
      at = Date.parse(e.end);
    }
    const clouds = r.events.filter((e) => e.kind === 'cloud');
    expect(clouds.length).toBeGreaterThan(0);
    expect(r.events.filter((e) => e.kind === 'flip')).toHaveLength(1);
    for (const f of r.frames) if (f.accepted) expect(f.background).toBeLessThanOrEqual(1.5);
  });
  test('accepted plus refused is every frame taken', async () => {
    const r = await play(8).result;
    const accepted = Object.values(r.accepted).reduce((s, n) => s + n, 0);
    expect(accepted + r.rejected).toBe(r.frames.length);
    expect(r.frames.filter((f) => !f.accepted).every((f) => f.reason !== '')).toBe(true);
  });
  test('focus runs find the hidden focus of their filter, whatever the temperature', async () => {
    const { world, result } = play(9);
    for (const f of (await result).focusRuns.filter((x) => x.usable)) {
      const truth =
        world.focusAt + (world.offsetSteps[f.filter] ?? 0) + world.stepsPerC * (f.temperatureC - world.referenceC);
      expect(Math.abs(f.position - truth)).toBeLessThan(zoneStepsOf(setup));
    }
  });
  test('with the true offsets the night brings more, and no filter out of focus', async () => {
    const { world, result } = play(10);
    const [every, with0] = [await result, await play(10, { policy: 'offsets', offsets: world.offsetSteps }).result];
    const good = (r: { accepted: Record<string, number> }) => Object.values(r.accepted).reduce((s, n) => s + n, 0);
    expect(good(with0)).toBeGreaterThan(1.2 * good(every));
    expect(with0.frames.filter((f) => f.reason.includes('wide')).length).toBeLessThan(0.1 * with0.frames.length);
  });
  test('moving without offsets is found out: wide frames are refused and call for focus', async () => {
    const r = await play(11, { policy: 'offsets', offsets: null }).result;
    expect(r.frames.some((f) => f.reason.includes('wide'))).toBe(true);
  });
  test('a quota that is reached ends the work, and the mount parks', async () => {
    const r = await play(12, { quota: 3 }).result;
    expect(r.accepted).toEqual({ L: 3, R: 3, G: 3, B: 3 });
    expect(r.verdict.text).toContain('Every quota is reached');
    expect(r.events.at(-1)!.text).toContain('parked');
  });
  test('a night in which no leg has any hours reaches no quota, and says why nothing was taken', async () => {
    const world = simulatedTruthOf(setup, 3, Date.parse(start), Date.parse(end));
    const timeline = parseInput(TimelineInput, {
      start,
      end,
      filters: [{ name: 'L', exposureS: 180, quota: 60 }],
      order: 'rolling',
      overheads: setup.overheads,
      dither: { everyFrames: 2 },
      focus: { policy: 'every-change' },
    });
    const plan = { ...oneLegRun(timeline, { focusReachSteps: 200 }), legs: [] };
    const told: number[] = [];
    const r = await conduct(plan, standIns(world, setup.overheads), (share) => told.push(share));
    expect([r.verdict.level, r.frames, told.at(-1)]).toEqual(['bad', [], 1]);
    expect(r.verdict.text).toContain('no object of the plan stands free in the dark');
    expect(r.verdict.text).not.toContain('quota');
    expect(r.events.map((e) => e.phrase?.code)).toContain('run.wait-none-free');
  });
  test('says how far the night is, in order and up to its end', async () => {
    const world = simulatedTruthOf(setup, 5, Date.parse(start), Date.parse(end));
    const timeline = parseInput(TimelineInput, {
      start,
      end,
      filters: [{ name: 'L', exposureS: 180, quota: 400 }],
      order: 'rolling',
      overheads: setup.overheads,
      dither: { everyFrames: 2 },
      focus: { policy: 'every-change' },
    });
    const told: [number, number][] = [];
    const o = standIns(world, setup.overheads);
    const r = await conduct(oneLegRun(timeline, { focusReachSteps: 200 }), o, (share, n) => told.push([share, n]));
    const rises = (of: 0 | 1) => told.every((t, i) => i === 0 || t[of] >= told[i - 1]![of]);
    expect([rises(0), rises(1)]).toEqual([true, true]);
    expect(told.at(-1)).toEqual([1, r.frames.length]);
  });
});

describe('the watches of a night', () => {
  const [gustFrom, gustUntil] = ['2026-11-24T20:00:00Z', '2026-11-24T20:40:00Z'].map((t) => Date.parse(t)) as [
    number,
    number,
  ];
  const air = (ms: number) => ({ windMS: ms >= gustFrom && ms < gustUntil ? 12 : 2, humidity: 0.6 });
  const exposedIn = (r: Awaited<ReturnType<typeof play>['result']>, from: number, until: number) =>
    r.frames.filter((f) => Date.parse(f.start) >= from && Date.parse(f.start) < until).length;
  const clear = { cloud: [] as [number, number][] };
  test('wind over its limit closes until it is well below, then the night goes on pointed anew', async () => {
    const r = await play(4, { watches: { wind: { aboveMS: 10, then: 'wait' } }, air, world: clear }).result;
    // a frame may have begun before the gust
    expect(exposedIn(r, gustFrom + 60_000, gustUntil)).toBe(0);
    expect(exposedIn(r, gustUntil, Date.parse(end))).toBeGreaterThan(20);
    expect(r.events.find((e) => e.phrase?.code === 'run.shut-wind')!.kind).toBe('wait');
    const reopened = r.events.find((e) => e.kind === 'slew' && Date.parse(e.start) >= gustUntil)!;
    expect(Date.parse(reopened.start) - gustUntil).toBeLessThan(120_000);
    // without the rule the same wind is not looked at
    expect(exposedIn(await play(4, { air, world: clear }).result, gustFrom, gustUntil)).toBeGreaterThan(3);
  });
  test('whenever the sky shuts around the meridian: one flip at most, and the tube is on the right side at every frame', async () => {
    const flipMs = Date.parse('2026-11-24T21:00:00.000Z');
    const flips: number[] = [];
    let checked = 0;
    for (let k = 0; k < 30; k += rounds(3, 1)) {
      // the sky shuts in the middle of the flip, of focusing after it, of starting the guider
      const from = flipMs - 120_000 + k * 15_000;
      const world = {
        ...simulatedTruthOf(setup, k, Date.parse(start), Date.parse(end)),
        cloud: [[from, from + 600_000]] as [number, number][],
      };
      const timeline = parseInput(TimelineInput, {
        start,
        end,
        filters: [{ name: 'L', exposureS: 60, quota: 400 }],
        order: 'rolling',
        overheads: setup.overheads,
        focus: { policy: 'every-change' },
        flipAt: '2026-11-24T21:00:00.000Z',
      });
      // an object that crosses the meridian then: its right ascension is the sidereal time
      const raDeg = (280.46061837 + 360.98564736629 * (flipMs / 86_400_000 + 2440587.5 - 2451545)) % 360;
      const plan = oneLegRun(timeline, { focusReachSteps: 5 * zoneStepsOf(setup) });
      plan.legs[0]!.target = { name: 'x', raDeg, decDeg: 20 };
      const o = standIns(world, setup.overheads);
      const expose = o.camera.expose.bind(o.camera);
      o.camera.expose = (s) => {
        checked++;
        const past = o.clock.now() >= flipMs;
        expect([new Date(o.clock.now()).toISOString(), o.mount.pierSide!()]).toEqual([
          expect.any(String),
          past ? 'east' : 'west',
        ]);
        return expose(s);
      };
      const r = await conduct(plan, o);
      flips.push(r.events.filter((e) => e.kind === 'flip').length);
    }
    expect(Math.max(...flips)).toBe(1);
    expect(checked).toBeGreaterThan(rounds(1000, 3000));
  });
  test('the sky itself is asked before every frame: what the plan believes of altitude and darkness does not count', async () => {
    const timeline = parseInput(TimelineInput, {
      start: '2026-11-24T15:00:00.000Z',
      end: '2026-11-25T06:00:00.000Z',
      filters: [{ name: 'L', exposureS: 120, quota: 900 }],
      order: 'rolling',
      overheads: setup.overheads,
      focus: { policy: 'every-change' },
    });
    const site = { latitudeDeg: 46.3, longitudeDeg: 9.1, elevationM: 300, timeZone: 'Europe/Rome', horizon: [] };
    const plan = oneLegRun(timeline, { focusReachSteps: 5 * zoneStepsOf(setup), site });
    plan.legs[0]!.target = { name: 'M 31', raDeg: 10.685, decDeg: 41.269 };
    plan.legs[0]!.limits = { minimumAltitudeDeg: 30, darkness: 'astronomical' };
    const world = { ...simulatedTruthOf(setup, 3, Date.parse(timeline.start), Date.parse(timeline.end)), cloud: [] };
    // the plan lets it work by day: it stops at once; in two pieces the second lies in the dark, until the object is low
    expect((await conduct(plan, standIns(world, setup.overheads))).frames).toHaveLength(0);
    const hours = [
      ['2026-11-24T15:00:00Z', '2026-11-24T15:30:00Z'],
      ['2026-11-24T17:45:00Z', '2026-11-25T06:00:00Z'],
    ].map(([a, b]): [number, number] => [Date.parse(a!), Date.parse(b!)]);
    plan.legs[0]!.hours = hours;
    const r = await conduct(plan, standIns(world, setup.overheads));
    expect(r.frames.length).toBeGreaterThan(100);
    const sky = new SkyByHand({ ...site });
    for (const f of r.frames) {
      const ms = Date.parse(f.start);
      expect(sky.star(10.685, 41.269, ms).altitudeDeg).toBeGreaterThan(29.8);
      expect(sky.sunDeg(ms)).toBeLessThan(-17.8);
    }
    expect(r.events.some((e) => e.kind === 'note' && e.phrase?.code === 'run.outside-low')).toBe(true);
  });
  test('damp that is to close the night closes it for good', async () => {
    const damp = (ms: number) => ({ windMS: 1, humidity: ms > gustFrom ? 0.97 : 0.7 });
    const r = await play(4, { watches: { damp: { abovePercent: 95, then: 'close' } }, air: damp, world: clear }).result;
    expect(exposedIn(r, gustFrom + 300_000, Date.parse(end))).toBe(0);
    expect(r.events.some((e) => e.phrase?.code === 'run.closed-damp' && e.phrase.values.humidityPercent === 97)).toBe(
      true,
    );
  });
  test('a telescope that was knocked is centred before the next frame, where that is wished', async () => {
    const knocked = async (watches: object) => {
      const runs = await Promise.all(
        Array.from({ length: rounds(4, 12) }, (_, k) => play(k + 1, { watches, world: clear }).result),
      );
      const notes = runs.flatMap((r) => r.events.filter((e) => e.phrase?.code === 'run.knocked'));
      const slews = runs.map((r) => r.events.filter((e) => e.kind === 'slew').length);
      return { notes, slews: slews.reduce((s, n) => s + n, 0) };
    };
    const [minded, not] = [await knocked({}), await knocked({ recentreAboveArcmin: null })];
    expect(minded.notes.length).toBeGreaterThan(0);
    expect(minded.notes.every((e) => Number(/^[\d.]+/.exec(e.text)![0]) > 1)).toBe(true);
    expect(not.notes).toEqual([]);
    expect(minded.slews).toBe(not.slews + minded.notes.length);
  });
});

describe('devices that do not obey at once', () => {
  /** A night without a cloud, and so many frames of five minutes. */
  const clearNight = (quota: number) => ({
    world: { ...simulatedTruthOf(setup, 3, Date.parse(start), Date.parse(end)), cloud: [] as [number, number][] },
    timeline: parseInput(TimelineInput, {
      start,
      end,
      filters: [{ name: 'L', exposureS: 300, quota }],
      order: 'block',
      overheads: setup.overheads,
      focus: { policy: 'offsets' },
    }),
  });
  const withOpening = async (connect: (device: string) => Promise<boolean>) => {
    const { world, timeline } = clearNight(4);
    const plan = oneLegRun(timeline, {
      opening: [{ step: 'connect', minutes: 3, notBeforeMs: null, field: null }],
      focusReachSteps: 5 * zoneStepsOf(setup),
    });
    return conduct(plan, { ...standIns(world, setup.overheads), connect });
  };
  test('a device that answers the third time costs half a minute; one that never does ends the night before it moves anything', async () => {
    let asked = 0;
    const late = await withOpening(async (d) => d !== 'wheel' || ++asked > 2);
    expect(
      late.events.filter((e) => e.phrase?.code === 'run.device-silent' && e.phrase.values.device === 'wheel'),
    ).toHaveLength(2);
    expect(late.frames).toHaveLength(4);
    // what was waited for is inside the step’s own minutes
    expect(Date.parse(late.events.find((e) => e.kind === 'slew')!.start) - Date.parse(start)).toBe(180_000);
    const never = await withOpening(async (d) => d !== 'mount');
    expect(never.events.at(-2)?.text ?? never.events.at(-1)!.text).toContain(
      'the mount does not answer after 4 attempts',
    );
    expect(never.frames).toEqual([]);
    expect(never.events.some((e) => e.kind === 'slew')).toBe(false);
  });
  test('a device that fails in the middle of the night ends it: what was taken counts, and the rest is closed', async () => {
    const night = async (spoil: (o: Observatory) => Observatory, closing: RunPlan['closing'] = []) => {
      const { world, timeline } = clearNight(20);
      let parked = false;
      const o = standIns(world, setup.overheads);
      const park = async () => {
        await o.mount.park();
        parked = true;
      };
      const run = await conduct(
        oneLegRun(timeline, { focusReachSteps: 5 * zoneStepsOf(setup), closing }),
        spoil({ ...o, mount: { ...o.mount, park } }),
      );
      return { run, parked, codes: run.events.flatMap((e) => (e.phrase ? [e.phrase.code] : [])) };
    };
    let taken = 0;
    const camera = await night((o) => ({
      ...o,
      camera: {
        ...o.camera,
        expose: async (s) => {
          if (++taken > 3) throw new DeviceFault('camera', 'no answer on its cable');
          return o.camera.expose(s);
        },
      },
    }));
    expect([camera.run.frames.length, camera.parked]).toEqual([3, true]);
    expect(camera.run.events.map((e) => e.text)).toContain(
      'the camera failed (no answer on its cable): the night ends here',
    );
    expect(camera.codes).toContain('run.parked-warming');
    // one failure does not keep the next device from being closed
    const guider = await night((o) => ({
      ...o,
      guider: {
        ...o.guider,
        stop: async () => {
          throw new DeviceFault('guider', 'gone');
        },
      },
    }));
    expect([guider.run.frames.filter((f) => f.accepted).length, guider.parked]).toEqual([20, true]);
    const steps = (['park', 'warm'] as const).map((step) => ({ step, minutes: 2, notBeforeMs: null }));
    const stuck = (o: Observatory): Observatory => ({
      ...o,
      mount: {
        ...o.mount,
        park: async () => {
          throw new DeviceFault('mount', 'a limit switch');
        },
      },
    });
    const mount = await night(stuck, steps);
    expect(mount.codes).toEqual(expect.arrayContaining(['run.device-fault', 'run.not-parked']));
    // the rest of the closing is done, and nobody says that it was parked
    expect(mount.codes).toContain('run.step-warm');
    expect(mount.codes).not.toContain('run.step-park');
    expect((await night(stuck)).codes).not.toContain('run.parked-warming');
    expect((await night((o) => o, steps)).codes).toContain('run.step-park');
    // a fault of the conductor’s own is nobody’s device
    const own = night((o) => ({ ...o, weather: { read: () => undefined as never } }));
    await expect(own).rejects.toThrow(TypeError);
  });
  test('what is not near enough the middle is centred once more, and then said', async () => {
    const o = standIns(simulatedTruthOf(setup, 3, Date.parse(start), Date.parse(end)), setup.overheads);
    const timeline = parseInput(TimelineInput, {
      start,
      end,
      filters: [{ name: 'L', exposureS: 300, quota: 2 }],
      order: 'block',
      overheads: setup.overheads,
      focus: { policy: 'offsets' },
    });
    const offs = [2.4, 0.8];
    const slewAndCentre = async () => (await o.clock.sleep(60_000), offs.shift() ?? 0.1);
    const r = await conduct(oneLegRun(timeline), { ...o, mount: { ...o.mount, slewAndCentre } });
    expect(r.events.filter((e) => e.text.includes('off the middle')).map((e) => e.text)).toEqual([
      'x is 2.4′ off the middle, 0.5′ are wanted',
      'x is 0.8′ off the middle, 0.5′ are wanted',
    ]);
  });
});
