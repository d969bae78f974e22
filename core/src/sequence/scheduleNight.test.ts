import { describe, expect, test } from '@jest/globals';
import { parseInput } from '../calculation/index.ts';
import { target as targetOf } from '../sky/index.ts';
import {
  clock,
  date,
  dawn,
  dusk,
  lay,
  legOf,
  MIN,
  night,
  overheads,
  settings,
  site,
  skies,
  there,
  whole,
} from '../test/nightLaid.ts';
import { scheduleNight, type NightSchedule } from './scheduleNight.ts';
import { legHours } from './legHours.ts';
import { prepareLeg } from './legTimeline.ts';
import { NightPlan, usualClosing, usualOpening } from './nightPlan.ts';
import { timeline } from './timeline.ts';

describe('a leg’s window', () => {
  const window = (from: object, until: object, more: object = {}, watches: object = {}) => {
    const plan = parseInput(NightPlan, { legs: [legOf('a', 'm31', { from, until, ...more })], watches });
    const { hours, ...rest } = legHours(plan.legs[0]!, skies.m31, plan.watches);
    return { ...rest, hours, startMs: hours[0]?.[0] ?? null, endMs: hours.at(-1)?.[1] ?? null };
  };
  test('follows darkness, altitude, Moon and clock, with an offset', () => {
    const dark = window(
      { by: 'darkness', which: 'nautical', offsetMin: -20 },
      { by: 'darkness', which: 'astronomical' },
    );
    expect(dark.startMs).toBe(Date.parse(night.nauticalDusk!) - 20 * MIN);
    expect(dark.endMs).toBe(Math.min(dawn, Date.parse(skies.m31.target.up.at(-1)!.end)));
    const high = window({ by: 'free' }, { by: 'altitude', deg: 55 });
    // against the ephemeris itself: the object stands at 55° within the stated 0.004°
    const near = targetOf({
      site,
      date,
      raDeg: 10.685,
      decDeg: 41.269,
      minimumAltitudeDeg: 55,
      darkness: 'civil',
      stepMin: 5,
    });
    expect(Math.abs(high.endMs! - Date.parse(near.windows.at(-1)!.end))).toBeLessThan(3000);
    expect(window({ by: 'free' }, clock(dusk + 90 * MIN)).endMs).toBe(dusk + 90 * MIN);
    expect(window({ by: 'moon', offsetMin: 0 }, clock(dawn)).startMs).toBe(Date.parse(night.moon.set!));
  });
  test('ends at the meridian where that is wished, and with the Sun’s watch', () => {
    const transit = Date.parse(skies.m31.target.transit);
    expect(window(clock(dusk), clock(dawn), { meridian: 'stop' })).toMatchObject({ endMs: transit, flipAtMs: null });
    expect(window(clock(dusk), clock(dawn))).toMatchObject({ flipAtMs: transit });
    // an object that stands high until the day: the Sun’s watch ends it
    const plan = parseInput(NightPlan, {
      legs: [legOf('a', 'm42', { until: clock(dawn + 200 * MIN), darkness: 'civil' })],
      watches: { sunStops: 'nautical' },
    });
    const high = {
      night,
      target: targetOf({
        site,
        date,
        raDeg: 150,
        decDeg: 50,
        minimumAltitudeDeg: 30,
        darkness: 'astronomical',
        stepMin: 5,
      }),
    };
    expect(legHours(plan.legs[0]!, high, plan.watches).hours.at(-1)![1]).toBe(Date.parse(night.nauticalDawn!));
  });
  test('where a roof parts the hours it works before and after it, and not behind it', () => {
    // a wall south-east to south: M 42 stands free before it hardly, after it for long
    const walled = {
      ...site,
      horizon: [
        [0, 0],
        [150, 0],
        [151, 60],
        [185, 60],
        [186, 0],
      ].map(([azimuthDeg, altitudeDeg]) => ({ azimuthDeg: azimuthDeg!, altitudeDeg: altitudeDeg! })),
    };
    const hidden = targetOf({
      site: walled,
      date,
      raDeg: 83.822,
      decDeg: -5.391,
      minimumAltitudeDeg: 25,
      darkness: 'astronomical',
      stepMin: 5,
    });
    const sides = hidden.windows.map((w) => [Date.parse(w.start), Date.parse(w.end)]);
    expect(sides.length).toBeGreaterThan(1);
    const plan = parseInput(NightPlan, { legs: [legOf('a', 'm42')] });
    expect(legHours(plan.legs[0]!, { night, target: hidden }, plan.watches).hours).toEqual(sides);
    const prepared = [
      prepareLeg(plan.legs[0]!, { night, target: hidden }, { watches: plan.watches, overheads, done: [] }),
    ];
    const exposed = scheduleNight(plan, prepared, night)!.legs[0]!.schedule!.events.filter((e) => e.kind === 'expose');
    const within = sides.map(
      ([a, b]) => exposed.filter((e) => Date.parse(e.start) >= a! && Date.parse(e.end) <= b!).length,
    );
    expect([within.every((n) => n > 0), within.reduce((s, n) => s + n, 0)]).toEqual([true, exposed.length]);
  });
  test('begins now where it is late, and is over where it has passed', () => {
    const free = parseInput(NightPlan, { legs: [legOf('a', 'm31')] });
    const at = (nowMs: number) => legHours(free.legs[0]!, skies.m31, free.watches, nowMs);
    const now = dusk + 100 * MIN;
    expect(at(now).hours[0]![0]).toBe(now);
    expect(at(dawn + MIN).trouble!.code).toBe('plan.leg-is-over');
    const late = scheduleNight(
      { ...free, opening: usualOpening(120).map((s) => ({ ...s, notBefore: null })) },
      free.legs.map((l) => prepareLeg(l, skies.m31, { watches: free.watches, overheads, done: [], nowMs: now })),
      night,
      now,
    )!;
    expect(late.startMs).toBe(now);
    const opened = late.pieces.filter((p) => p.part === 'opening').at(-1)!.endMs;
    expect(opened).toBeGreaterThan(now + 20 * MIN);
    expect(Date.parse(late.legs[0]!.schedule!.events[0]!.start)).toBe(opened);
  });
  test('that never comes says why', () => {
    expect(window({ by: 'altitude', deg: 89 }, clock(dawn)).trouble!.code).toBe('plan.leg-never-so-high');
    expect(window(clock(dawn), clock(dusk)).trouble!.code).toBe('plan.leg-ends-before');
  });
});

describe('a night', () => {
  test('of one leg and nothing around it is that leg’s timeline', () => {
    const { schedule, prepared } = lay({ legs: [legOf('a', 'm31')] });
    expect(schedule.legs[0]!.schedule).toEqual(timeline(prepared[0]!.input!, true));
    expect(schedule.verdict).toEqual(schedule.legs[0]!.schedule!.verdict);
    whole(schedule);
  });
  test('opens before the first leg and closes after the last; the focus of the opening is not done twice', () => {
    const plain = lay({ legs: [legOf('a', 'm31'), legOf('b', 'm42')] }).schedule;
    const { schedule } = lay({
      opening: usualOpening(120),
      closing: usualClosing(),
      legs: [legOf('a', 'm31'), legOf('b', 'm42')],
    });
    whole(schedule);
    expect(schedule.pieces.map((p) => (p.part === 'opening' || p.part === 'closing' ? p.step : p.part))).toEqual([
      'connect',
      'cool',
      'home',
      'focus',
      'solve',
      'leg',
      'leg',
      'park',
      'warm',
      'disconnect',
    ]);
    const opened = schedule.pieces.filter((p) => p.part === 'opening').at(-1)!.endMs;
    expect(opened).toBe(Date.parse(skies.m31.target.windows[0]!.start));
    const focusS = (n: NightSchedule) => n.legs[0]!.schedule!.overheadS.focus;
    expect(focusS(plain)).toBeGreaterThanOrEqual(focusS(schedule));
    expect(schedule.legs[0]!.schedule!.events.find((e) => e.kind === 'focus' || e.kind === 'expose')!.kind).toBe(
      'expose',
    );
  });
  test('waits for the dusk before focusing, and for the dawn before its flats', () => {
    const { schedule } = lay({
      opening: [{ step: 'focus', minutes: 5, notBefore: 'astronomical' }],
      closing: [{ step: 'flats', minutes: 15, notBefore: 'civil', filters: ['L'] }],
      legs: [legOf('a', 'm31', { from: clock(dusk - 30 * MIN) })],
    });
    whole(schedule);
    expect(schedule.pieces.find((p) => p.part === 'opening')!.startMs).toBe(dusk);
    expect(schedule.pieces.find((p) => p.part === 'leg')!.startMs).toBe(dusk + 5 * MIN);
    expect(schedule.pieces.find((p) => p.part === 'closing')!.startMs).toBe(Date.parse(night.civilDawn!));
  });
  test('a fixed leg takes its hours from the main one, which goes on afterwards', () => {
    const [a, b] = [dusk + 100 * MIN, dusk + 160 * MIN];
    const { schedule } = lay({
      legs: [
        legOf('a', 'm31', { until: clock(dusk + 300 * MIN) }),
        legOf('t', 'm31', { panel: 1, role: 'fixed', from: clock(a), until: clock(b) }),
      ],
    });
    whole(schedule);
    const until = Math.min(dusk + 300 * MIN, Date.parse(skies.m31.target.windows[0]!.end));
    expect(schedule.pieces.filter((p) => p.part === 'leg').map((p) => [p.legIndex, p.startMs])).toEqual([
      [0, Date.parse(skies.m31.target.windows[0]!.start)],
      [1, a],
      // what is left of the fixed leg’s hours when no whole frame of it fits is the other’s again
      [0, expect.any(Number)],
    ]);
    const [, fixed, again] = schedule.pieces.filter((p) => p.part === 'leg');
    expect([again!.startMs, again!.startMs > b - 4 * MIN && again!.startMs <= b, again!.endMs]).toEqual([
      fixed!.endMs,
      true,
      until,
    ]);
    // after the transit it is pointed and guided anew: from whichever side is right by then, so it is not flipped
    const kinds = schedule.legs[0]!.schedule!.events.filter((e) => e.kind === 'slew' || e.kind === 'flip').map(
      (e) => e.kind,
    );
    expect(kinds).toEqual(['slew', 'slew']);
  });
  test('a backup takes what the others leave, whole frames of it, and they come before it again', () => {
    const { schedule } = lay({
      legs: [
        legOf('a', 'm31', { until: clock(dusk + 60 * MIN) }),
        legOf('b', 'm31', { panel: 1, from: clock(dusk + 100 * MIN), until: clock(dusk + 200 * MIN) }),
        legOf('r', 'm31', { panel: 2, role: 'backup', from: clock(dusk), until: clock(dawn) }),
      ],
    });
    whole(schedule);
    const turns = schedule.pieces.filter((p) => p.part === 'leg').map((p) => p.legIndex);
    expect(turns.slice(0, 3)).toEqual([0, 2, 1]);
    const [first, filled, second] = schedule.pieces.filter((p) => p.part === 'leg');
    expect(filled!.startMs).toBe(first!.endMs);
    // its last frame may reach into the next leg’s hours, by less than itself
    expect(second!.startMs).toBe(filled!.endMs);
    expect(second!.startMs - (dusk + 100 * MIN)).toBeLessThan(6 * MIN);
  });
  test('the Moon shuts the only filter of a leg: the backup has the rig, and gives it back at moonset', () => {
    const shut = settings({ filters: [{ name: 'L', exposureS: 120, quota: 500, moon: { by: 'down' } }] });
    const set = Date.parse(night.moon.set!);
    const { schedule } = lay({
      legs: [
        legOf('a', 'm31', { from: clock(set - 200 * MIN), settings: shut }),
        legOf('r', 'm31', { panel: 1, role: 'backup' }),
      ],
    });
    const firstOf = (i: number) =>
      Date.parse(schedule.legs[i]!.schedule!.events.find((e) => e.kind === 'expose')!.start);
    expect(firstOf(1)).toBeLessThan(set - 100 * MIN);
    expect(firstOf(0)).toBeGreaterThanOrEqual(set);
    expect(schedule.pieces.filter((p) => p.part === 'wait' && p.why === 'leg')).toEqual([]);
  });
  test('a leg that is listed first and opens late holds nobody up', () => {
    const { schedule } = lay({ legs: [legOf('late', 'm42'), legOf('all-night', 'm31')] });
    const firstOf = (i: number) =>
      Date.parse(schedule.legs[i]!.schedule!.events.find((e) => e.kind === 'expose')!.start);
    expect(firstOf(1)).toBeLessThan(dusk + 10 * MIN);
    expect(firstOf(0) - Date.parse(skies.m42.target.windows[0]!.start)).toBeLessThan(10 * MIN);
  });
  test('a leg whose goals are met ends, and one whose turn never comes says so', () => {
    const { schedule } = lay({
      legs: [legOf('a', 'm31', { until: clock(dawn) }), legOf('b', 'm31', { until: clock(dawn) })],
    });
    expect(schedule.legs[1]!.trouble!.code).toBe('plan.leg-crowded-out');
    const few = lay(
      { legs: [legOf('a', 'm31', { until: clock(dawn) }), legOf('b', 'm31', { until: clock(dawn) })] },
      { m31: there({ L: 298, R: 299 }) },
    );
    expect(few.schedule.legs[0]!.schedule!.frames).toEqual({ L: 2, R: 1 });
    // both legs work for the same goals: what the first took is there for the second
    expect(few.schedule.legs[1]!.schedule?.frames ?? { L: 0, R: 0 }).toEqual({ L: 0, R: 0 });
    const other = lay(
      { legs: [legOf('a', 'm31', { until: clock(dusk + 60 * MIN) }), legOf('b', 'm31', { until: clock(dawn) })] },
      { m31: there({ L: 270, R: 270 }) },
    ).schedule;
    const both = (f: string) => other.legs.reduce((s, l) => s + l.schedule!.frames[f]!, 0);
    expect([both('L'), both('R')]).toEqual([30, 30]);
  });
  test('panels of a mosaic take turns: all are begun in the first round, and none waits for its turn to run out', () => {
    const hours = { from: clock(dusk), until: clock(dusk + 240 * MIN), turnMin: 30 };
    const { schedule } = lay({ legs: [0, 1, 2].map((panel) => legOf(`p${panel}`, 'm31', { ...hours, panel })) });
    whole(schedule);
    const turns = schedule.pieces.filter((p) => p.part === 'leg');
    expect(turns.slice(0, 6).map((p) => p.legIndex)).toEqual([0, 1, 2, 0, 1, 2]);
    // a turn ends with the frame it was at
    for (const p of turns.slice(0, 6)) expect(p.endMs - p.startMs).toBeLessThanOrEqual(36 * MIN);
    expect(schedule.pieces.filter((p) => p.part === 'wait')).toEqual([]);
    // the quota is each panel’s own
    const frames = schedule.legs.map((l) => Object.values(l.schedule!.frames).reduce((s, n) => s + n, 0));
    expect(Math.max(...frames) - Math.min(...frames)).toBeLessThanOrEqual(12);
    // one after the other, the first takes it all
    const after = lay({
      legs: [0, 1, 2].map((panel) => legOf(`p${panel}`, 'm31', { ...hours, turnMin: null, panel })),
    }).schedule;
    expect(after.legs.map((l) => l.schedule !== null)).toEqual([true, false, false]);
  });
  test('a panel that is done leaves its turns to the others; the same panel twice shares one quota', () => {
    const hours = { from: clock(dusk), until: clock(dusk + 240 * MIN), turnMin: 30 };
    const few = settings({ filters: [{ name: 'L', exposureS: 120, quota: 20 }] });
    const { schedule } = lay({
      legs: [0, 1, 1].map((panel, i) => legOf(`p${i}`, 'm31', { ...hours, panel, settings: few })),
    });
    const [a, b, c] = schedule.legs.map((l) => l.schedule?.frames.L ?? 0) as [number, number, number];
    expect([a, b + c]).toEqual([20, 20]);
    whole(schedule);
  });
  test('turns no longer than a frame give each leg its frame, one after the other', () => {
    const long = settings({ filters: [{ name: 'L', exposureS: 900, quota: 20 }] });
    const { schedule } = lay({
      legs: [
        legOf('a', 'm31', { turnMin: 10, settings: long }),
        legOf('b', 'm31', { panel: 1, turnMin: 10, settings: long }),
      ],
    });
    whole(schedule);
    const [a, b] = schedule.legs.map((l) => l.schedule!.frames.L!) as [number, number];
    expect([a > 5, Math.abs(a - b) <= 1]).toEqual([true, true]);
  });
  test('without a guider nothing is guided or dithered', () => {
    const { schedule } = lay({ legs: [legOf('a', 'm31', { guiding: false })] });
    expect(schedule.legs[0]!.schedule!.overheadS).toMatchObject({ guide: 0, dither: 0 });
  });
});

describe('the Moon’s rule', () => {
  const [set, end] = [Date.parse(night.moon.set!), dawn];
  const luminance = (by: object) =>
    lay({
      legs: [
        legOf('a', 'm42', {
          from: clock(set - 90 * MIN),
          until: clock(end),
          settings: settings({
            filters: [
              { name: 'L', exposureS: 300, quota: 999, moon: by },
              { name: 'Ha', exposureS: 300, quota: 999 },
            ],
          }),
        }),
      ],
    });
  const exposed = (schedule: NightSchedule, filter: string) =>
    schedule.legs[0]!.schedule!.events.filter((e) => e.kind === 'expose' && e.filter === filter);
  test('keeps a filter shut while the Moon is up; the others go on', () => {
    const { schedule } = luminance({ by: 'down' });
    const l = exposed(schedule, 'L');
    expect(l.length).toBeGreaterThan(3);
    for (const e of l) expect(Date.parse(e.start)).toBeGreaterThanOrEqual(set);
    expect(exposed(schedule, 'Ha').filter((e) => Date.parse(e.start) < set).length).toBeGreaterThan(8);
  });
  test('lets it open where the Moon is far enough, and says where it never is', () => {
    const all = exposed(luminance({ by: 'any' }).schedule, 'L').length;
    expect(exposed(luminance({ by: 'apart', deg: 5 }).schedule, 'L')).toHaveLength(all);
    const separation = skies.m42.target.moonSeparationDeg;
    const far = luminance({ by: 'apart', deg: Math.min(180, separation + 40) }).schedule;
    for (const e of exposed(far, 'L')) expect(Date.parse(e.start)).toBeGreaterThanOrEqual(set);
    const shut = lay({
      legs: [
        legOf('a', 'm42', {
          from: clock(set - 60 * MIN),
          until: clock(set - 5 * MIN),
          settings: settings({ filters: [{ name: 'L', exposureS: 60, quota: 9, moon: { by: 'down' } }] }),
        }),
      ],
    });
    expect(shut.prepared[0]!.trouble!.code).toBe('plan.leg-moon-shuts');
    expect(shut.schedule.verdict.level).toBe('bad');
  });
});
