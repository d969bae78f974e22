import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parseInput } from '../calculation/index.ts';
import { night as nightOf, target as targetOf, type Site } from '../sky/index.ts';
import { SkyByHand, type CheckedLeg } from '../test/nightChecker.ts';
import { scheduleNight, type NightSchedule } from './scheduleNight.ts';
import { prepareLeg } from './legTimeline.ts';
import { NightPlan, usualClosing, usualOpening } from './nightPlan.ts';
import type { Overheads } from './schemas.ts';
import { rounds } from '../test/rounds.ts';

const MIN = 60_000;
const overheads: Overheads = {
  downloadS: 3,
  filterChangeS: 5,
  autofocusS: 90,
  ditherS: 9,
  slewCentreS: 45,
  flipS: 80,
  guideStartS: 15,
};
const WALLS = [
  [],
  [],
  [
    [0, 10],
    [140, 12],
    [141, 55],
    [190, 55],
    [191, 8],
    [330, 15],
  ],
  [
    [20, 30],
    [90, 5],
    [200, 40],
    [280, 5],
  ],
].map((w) => w.map(([azimuthDeg, altitudeDeg]) => ({ azimuthDeg: azimuthDeg!, altitudeDeg: altitudeDeg! })));

const deg = fc.integer({ min: 15, max: 60 });
const bound = (clock: fc.Arbitrary<string>) =>
  fc.oneof(
    fc.constant({ by: 'free' }),
    clock.map((at) => ({ by: 'clock', at })),
    fc.constantFrom('nautical', 'astronomical', 'civil').map((which) => ({ by: 'darkness', which })),
    deg.map((d) => ({ by: 'altitude', deg: d })),
    fc.constant({ by: 'moon' }),
  );
const anyNight = fc
  .record({
    latitudeDeg: fc.double({ min: -58, max: 62, noNaN: true }),
    longitudeDeg: fc.double({ min: -175, max: 175, noNaN: true }),
    wall: fc.constantFrom(...WALLS),
    day: fc.integer({ min: 0, max: 700 }),
    framed: fc.boolean(),
  })
  .chain((at) => {
    const date = new Date(Date.UTC(2026, 5, 1) + at.day * 86_400_000).toISOString().slice(0, 10);
    // local midnight by the Sun, hours on either side
    const midnight = Date.parse(`${date}T24:00:00Z`) - (at.longitudeDeg / 15) * 3_600_000;
    const clock = fc
      .double({ min: -7, max: 7, noNaN: true })
      .map((h) => new Date(Math.round(midnight + h * 3_600_000)).toISOString());
    const leg = fc.record({
      raDeg: fc.double({ min: 0, max: 359.9, noNaN: true }),
      decDeg: fc.double({ min: -60, max: 75, noNaN: true }),
      minimumAltitudeDeg: fc.constantFrom(20, 25, 30),
      role: fc.constantFrom('main', 'main', 'main', 'backup', 'fixed'),
      turnMin: fc.constantFrom(null, null, 10, 30),
      from: bound(clock),
      until: bound(clock),
      darkness: fc.constantFrom(undefined, undefined, undefined, 'nautical'),
      meridian: fc.constantFrom('flip', 'flip', 'stop'),
      moon: fc.constantFrom({ by: 'any' }, { by: 'any' }, { by: 'down' }, { by: 'apart', deg: 50 }),
      order: fc.constantFrom('rolling', 'block', 'lagging'),
      filters: fc.array(
        fc.record({ exposureS: fc.constantFrom(60, 180, 300, 600), quota: fc.integer({ min: 1, max: 60 }) }),
        { minLength: 1, maxLength: 3 },
      ),
    });
    return fc.record({ at: fc.constant({ ...at, date }), legs: fc.array(leg, { minLength: 1, maxLength: 4 }) });
  });

interface Laid {
  plan: NightPlan;
  schedule: NightSchedule;
  legs: CheckedLeg[];
  sky: SkyByHand;
}
function layOut({ at, legs }: typeof anyNight extends fc.Arbitrary<infer N> ? N : never): Laid | null {
  const site: Site = {
    latitudeDeg: at.latitudeDeg,
    longitudeDeg: at.longitudeDeg,
    elevationM: 0,
    timeZone: zoneNear(at.longitudeDeg),
    horizon: at.wall,
  };
  const night = nightOf({ site, date: at.date });
  const plan = parseInput(NightPlan, {
    ...(at.framed
      ? { opening: usualOpening(90).map((s) => ({ ...s, notBefore: null })), closing: usualClosing() }
      : {}),
    legs: legs.map((l, i) => ({
      id: `l${i}`,
      projectId: `p${i}`,
      role: l.role,
      turnMin: l.turnMin,
      from: l.from,
      until: l.until,
      ...(l.darkness ? { darkness: l.darkness } : {}),
      meridian: l.meridian,
      settings: {
        filters: l.filters.map((f, k) => ({ ...f, name: ['L', 'R', 'Ha'][k], moon: l.moon })),
        order: l.order,
        dither: { everyFrames: 2, perRound: false },
        focus: { policy: 'offsets' },
      },
    })),
  });
  const prepared = plan.legs.map((leg, i) => {
    const { raDeg, decDeg, minimumAltitudeDeg } = legs[i]!;
    const target = targetOf({
      site,
      date: at.date,
      raDeg,
      decDeg,
      minimumAltitudeDeg,
      darkness: 'astronomical',
      stepMin: 5,
    });
    return prepareLeg(leg, { night, target }, { watches: plan.watches, overheads, done: [] });
  });
  const schedule = scheduleNight(plan, prepared, night);
  return (
    schedule && {
      plan,
      schedule,
      legs: plan.legs.map((leg, i) => ({ ...legs[i]!, leg })),
      sky: new SkyByHand({ ...at, horizon: at.wall }),
    }
  );
}
/** A zone whose midnight is near the place’s own. */
const zoneNear = (longitudeDeg: number) => {
  const hours = Math.round(longitudeDeg / 15);
  return hours === 0 ? 'UTC' : `Etc/GMT${hours > 0 ? '-' : '+'}${Math.abs(hours)}`;
};

/** Nothing exposes where its leg may not: a fifth of a degree, or 48 s, is the checker’s own coarseness. */
const SLACK = 0.2;
function misplaced({ schedule, legs, sky }: Laid): string[] {
  return schedule.legs.flatMap((l, i) =>
    (l.schedule?.events ?? [])
      .filter((e) => e.kind === 'expose')
      .flatMap((e) => {
        const [from, until] = [Date.parse(e.start), Date.parse(e.end)];
        const whys = [from, (from + until) / 2, until].map((ms) => sky.forbids(legs[i]!, ms, SLACK));
        const rule = legs[i]!.leg.settings.filters.find((f) => f.name === e.filter)!.moon;
        if (rule && rule.by !== 'any') {
          const moon = sky.moon(legs[i]!.raDeg, legs[i]!.decDeg, (from + until) / 2);
          if (moon.limbDeg > 0.4 && !(rule.by === 'apart' && moon.apartDeg > rule.deg - 1)) whys.push('Moon rule');
        }
        return whys.flatMap((w) => (w ? [`leg ${i} ${e.start}: ${w}`] : []));
      }),
  );
}

/** Minutes in which nobody works though a leg could have taken a whole frame, with all that can come before one. */
function idle({ schedule, legs, sky }: Laid): string[] {
  const prepS =
    overheads.slewCentreS +
    overheads.flipS +
    overheads.filterChangeS +
    overheads.autofocusS +
    overheads.guideStartS +
    overheads.ditherS;
  const busy = schedule.legs
    .flatMap((l) =>
      (l.schedule?.events ?? [])
        .filter((e) => e.kind !== 'wait')
        .map((e) => [Date.parse(e.start), Date.parse(e.end)] as const),
    )
    .concat(schedule.pieces.filter((p) => p.part === 'opening').map((p) => [p.startMs, p.endMs] as const))
    .sort((a, b) => a[0] - b[0]);
  const openedMs = schedule.pieces.findLast((p) => p.part === 'opening')?.endMs ?? schedule.startMs;
  const lastMs = Math.max(openedMs, ...schedule.legs.flatMap((l) => l.endMs ?? []));
  const gaps: [number, number][] = [];
  let now = openedMs;
  for (const [a, b] of busy) {
    // under a minute it is the checker’s own coarseness
    if (a > now + MIN) gaps.push([now, a]);
    now = Math.max(now, b);
  }
  if (lastMs > now + MIN) gaps.push([now, lastMs]);
  const takenBefore = (i: number, filter: string, ms: number) =>
    (schedule.legs[i]!.schedule?.events ?? []).filter(
      (e) => e.kind === 'expose' && e.filter === filter && Date.parse(e.start) < ms,
    ).length;
  const found: string[] = [];
  for (const [a, b] of gaps)
    for (let t = a + 1000; t < b && found.length === 0; t += 4 * MIN)
      legs.forEach((l, i) => {
        for (const f of l.leg.settings.filters) {
          const until = t + 1000 * (prepS + f.exposureS + overheads.downloadS);
          if (takenBefore(i, f.name, t) >= f.quota) continue;
          if (overLimits(l, f, t, until) || reachesFixed(i, t, until)) continue;
          found.push(
            `leg ${i} ${f.name} could have worked at ${new Date(t).toISOString()}, gap until ${new Date(b).toISOString()}`,
          );
        }
      });
  return found;
  function overLimits(
    l: CheckedLeg,
    f: Laid['plan']['legs'][number]['settings']['filters'][number],
    from: number,
    until: number,
  ): boolean {
    for (const ms of [from, (from + until) / 2, until]) {
      if (sky.forbids(l, ms, -SLACK)) return true;
      if (f.moon && f.moon.by !== 'any') {
        const moon = sky.moon(l.raDeg, l.decDeg, ms);
        if (moon.limbDeg > -0.4 && !(f.moon.by === 'apart' && moon.apartDeg > f.moon.deg + 1)) return true;
      }
      // between two altitudes of which the first is the higher one it begins only once it has risen to that
      const { from: rise, until: sink } = l.leg;
      if (
        rise.by === 'altitude' &&
        sink.by === 'altitude' &&
        sky.star(l.raDeg, l.decDeg, ms).altitudeDeg < Math.max(rise.deg, sink.deg) + SLACK
      )
        return true;
    }
    // nothing is exposed across the meridian, and after it only where the leg flips
    const side = (ms: number) => Math.sign(hourAngle(l, ms));
    return side(from) !== side(until) || (l.leg.meridian === 'stop' && side(from) > 0);
  }
  function hourAngle(l: CheckedLeg, ms: number): number {
    const { azimuthDeg } = sky.star(l.raDeg, l.decDeg, ms);
    return Math.sin((azimuthDeg * Math.PI) / 180) < 0 ? 1 : -1;
  }
  function reachesFixed(i: number, from: number, until: number): boolean {
    return legs.some(
      (l, k) => k !== i && l.leg.role === 'fixed' && schedule.legs[k]!.hours.some(([a, b]) => a < until && b > from),
    );
  }
}

/** A thousand take a minute. KEEN_NIGHTS says how many, if it should be others. */
const NIGHTS = Number(process.env.KEEN_NIGHTS ?? rounds(60, 1000));

test('random nights under random skies: no frame where its leg may not, no minute idle in which one could be taken', () => {
  let [scheduled, frames] = [0, 0];
  const wrong: string[] = [];
  fc.sample(anyNight, { numRuns: NIGHTS, seed: 8 }).forEach((n, k) => {
    const l = layOut(n);
    if (!l) return;
    scheduled++;
    frames += l.schedule.legs.reduce(
      (s, x) => s + Object.values(x.schedule?.frames ?? {}).reduce((a, b) => a + b, 0),
      0,
    );
    wrong.push(...[...misplaced(l), ...idle(l)].slice(0, 3).map((w) => `night ${k}: ${w}`));
  });
  expect(wrong).toEqual([]);
  expect([scheduled > NIGHTS / 2, frames > 10 * NIGHTS]).toEqual([true, true]);
});
