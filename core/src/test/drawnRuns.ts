import { parseInput } from '../calculation/index.ts';
import {
  DeviceFault,
  simulatedTruthOf,
  standIns,
  zoneStepsOf,
  type Observatory,
  type RunPlan,
} from '../observatory/index.ts';
import type { RigSetup } from '../rig/index.ts';
import { followingOverheads, TimelineInput, Watches } from '../sequence/index.ts';
import { seeded } from '../statistics/index.ts';
import { oneLegRun } from './oneLegRun.ts';

const start = '2026-11-24T18:00:00.000Z';
const end = '2026-11-25T00:00:00.000Z';
const site = { latitudeDeg: 47, longitudeDeg: 8, elevationM: 0, timeZone: 'UTC', horizon: [] };

/** A night with one to three legs of every sort, around them what there may be, and now and then a device that goes. */
export function drawnRun(seed: number, setup: RigSetup): { plan: RunPlan; o: () => Observatory } {
  const r = seeded(seed).fork('plan');
  const pick = <T>(...of: T[]): T => of[Math.floor(r.next() * of.length)]!;
  const world = simulatedTruthOf(setup, seed, Date.parse(start), Date.parse(end));
  const leg = (i: number) => {
    const timeline = parseInput(TimelineInput, {
      start,
      end,
      filters: ['L', 'R', 'G', 'B']
        .slice(0, 1 + Math.floor(4 * r.next()))
        .map((name) => ({ name, exposureS: pick(60, 180, 300), quota: pick(3, 20, 60) })),
      order: pick('rolling', 'block', 'lagging'),
      overheads: setup.overheads,
      dither: { everyFrames: pick(1, 2, 3) },
      focus: { policy: pick('every-change', 'offsets', 'every-change-and-time'), everyMin: 60 },
      ...(r.next() < 0.6 ? { flipAt: '2026-11-24T21:00:00.000Z' } : {}),
    });
    return {
      ...oneLegRun(timeline).legs[0]!,
      planIndex: i,
      projectId: `p${i}`,
      goal: pick('p', `p${i}`),
      role: pick('main' as const, 'main' as const, 'backup' as const, 'fixed' as const),
      turnMin: pick(null, 30),
      guiding: r.next() < 0.8,
      centreWithinArcmin: pick(0.05, 0.5, 3),
      target: { name: `x${i}`, raDeg: 360 * r.next(), decDeg: -20 + 80 * r.next() },
      hours:
        r.next() < 0.5
          ? [[Date.parse(start), Date.parse(end)] as const]
          : [[Date.parse(start) + 3.6e6 * r.next(), Date.parse(end) - 7.2e6 * r.next()] as const],
      ...(r.next() < 0.5 ? { limits: { minimumAltitudeDeg: 25, darkness: 'astronomical' as const } } : {}),
    };
  };
  const n = 1 + Math.floor(3 * r.next());
  const legs = Array.from({ length: n }, (_, i) => leg(i));
  const offsets = r.next() < 0.5 ? { steps: world.offsetSteps, temperatureStepsPerC: world.stepsPerC } : null;
  const step = (s: string, minutes: number) => ({
    step: s,
    minutes,
    notBeforeMs: r.next() < 0.3 ? Date.parse(start) + 600_000 : null,
    field: s === 'focus' && r.next() < 0.5 ? { altitudeDeg: 60, azimuthDeg: 180 } : null,
  });
  const plan = {
    ...oneLegRun(legs[0]!.timeline),
    legs,
    opening: r.next() < 0.6 ? ['connect', 'cool', 'home', 'focus'].map((s) => step(s, pick(1, 5))) : [],
    closing: r.next() < 0.6 ? ['park', 'warm'].map((s) => ({ step: s, minutes: 4, notBeforeMs: null })) : [],
    watches: parseInput(Watches, {
      recentreAboveArcmin: pick(null, 1),
      wind: pick(null, { aboveMS: 4, then: pick('wait', 'close') }),
      damp: pick(null, { abovePercent: 80, then: pick('wait', 'close') }),
      cloudClosesAfterMin: pick(null, 20),
    }),
    ...(r.next() < 0.7 ? { site } : {}),
    offsets,
    focusReachSteps: pick(1, 5) * zoneStepsOf(setup),
  } as RunPlan;
  const s = seeded(seed).fork('second');
  const besides = (s.next() < 0.5 ? legs : []).flatMap((l) => {
    if (s.next() < 0.3) return [];
    const [from, until] = l.hours[0]!;
    const timeline = parseInput(TimelineInput, {
      start: new Date(from).toISOString(),
      end: new Date(until).toISOString(),
      filters: ['R', 'G'].map((name) => ({ name, exposureS: s.next() < 0.5 ? 45 : 200, quota: 30 })),
      order: 'rolling',
      overheads: followingOverheads(setup.overheads),
      dither: { everyFrames: 0 },
      focus: { policy: 'every-change', everyMin: 60 },
    });
    const { hours: _h, limits: _l, ...own } = l;
    if (s.next() < 0.5) Object.assign(l, { waitsFor: timeline, followerOf: 'q' });
    return [
      {
        ...own,
        projectId: 'q',
        goal: 'q',
        timeline,
        role: 'main' as const,
        turnMin: null,
        guiding: false,
        follows: true,
      },
    ];
  });
  const m = seeded(seed).fork('more');
  const afterFlip = m.next() < 0.5 ? ('turn' as const) : ('leave' as const);
  if (m.next() < 0.4) {
    world.rotator = { reachDeg: m.next() < 0.5 ? 90 : 180, northDeg: 360 * m.next() - 180, afterFlip };
    for (const l of legs)
      Object.assign(l, { turned: { paDeg: 360 * m.next(), eitherWay: afterFlip === 'leave', afterFlip } });
  }
  if (m.next() < 0.3) {
    world.tipTilt = { reachArcsec: 6 + 20 * m.next() };
    plan.tipTilt = true;
  }
  if (m.next() < 0.3) {
    const switched = plan.opening.length > 0 && m.next() < 0.5;
    world.supply = { switched, battery: m.next() < 0.5 ? { capacityWh: 200, drawW: 30 + 40 * m.next() } : null };
    plan.supply = { switched, closesBelowV: m.next() < 0.7 ? 11.8 : null };
  }
  if (m.next() < 0.3) world.pastMeridianDeg = 25 * m.next();
  if (world.pastMeridianDeg !== undefined && m.next() < 0.6) plan.pastMeridianDeg = world.pastMeridianDeg;
  if (besides.length) plan.beside = { legs: besides, offsets, focusReachSteps: plan.focusReachSteps };
  const second = besides.length
    ? {
        world: simulatedTruthOf(setup, seed + 1000, world.startMs, world.endMs),
        overheads: followingOverheads(setup.overheads),
      }
    : null;
  const faulty = r.next() < 0.2 ? 1 + Math.floor(20 * r.next()) : 0;
  const which = pick('camera', 'guider', 'mount');
  const o = () => {
    const it = standIns(world, setup.overheads, undefined, second);
    let k = 0;
    const fail =
      <A extends unknown[], R>(f: (...a: A) => R) =>
      (...a: A): R => {
        if (faulty && ++k === faulty) throw new DeviceFault(which, 'gone');
        return f(...a);
      };
    if (which === 'camera')
      return { ...it, camera: { ...it.camera, expose: async (s: number) => fail(it.camera.expose)(s) } };
    if (which === 'guider')
      return {
        ...it,
        guider: { ...it.guider, start: async () => fail(it.guider.start)(), stop: async () => fail(it.guider.stop)() },
      };
    return {
      ...it,
      mount: {
        ...it.mount,
        park: async () => fail(it.mount.park)(),
        slewAndCentre: async (a: never, b: number) => fail(it.mount.slewAndCentre)(a, b),
      },
    };
  };
  return { plan, o };
}
