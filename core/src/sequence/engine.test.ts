import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { VirtualClock, type Observatory } from '../observatory/index.ts';
import { conduct } from '../run/index.ts';
import { oneLegRun } from '../test/oneLegRun.ts';
import { rounds } from '../test/rounds.ts';
import {
  initialState,
  applyEvent,
  nextStep,
  partsOf,
  play,
  rulesOf,
  type EngineEvent,
  type EngineState,
  type Rules,
} from './index.ts';
import { TimelineInput } from './schemas.ts';
import { mergedSpells, timeline } from './timeline.ts';

const START = Date.parse('2026-11-19T18:00:00.000Z');
const iso = (ms: number) => new Date(ms).toISOString();
const MIN = 60_000;

/** A plan of any kind that a person could make; `at` places things as shares of the night. */
const anyPlan = fc
  .record({
    hours: fc.double({ min: 0.5, max: 11, noNaN: true }),
    order: fc.constantFrom('rolling' as const, 'block' as const, 'lagging' as const),
    filters: fc.array(
      fc.record({
        exposureS: fc.constantFrom(20, 61.7, 120, 300, 600),
        quota: fc.integer({ min: 1, max: 40 }),
        done: fc.integer({ min: 0, max: 8 }),
      }),
      { minLength: 1, maxLength: 6 },
    ),
    overheads: fc.record({
      downloadS: fc.constantFrom(0, 2.3, 8),
      filterChangeS: fc.constantFrom(0, 7),
      autofocusS: fc.constantFrom(0, 95, 180),
      ditherS: fc.constantFrom(0, 12),
      slewCentreS: fc.constantFrom(0, 60),
      flipS: fc.constantFrom(0, 110),
      guideStartS: fc.constantFrom(0, 20),
    }),
    dither: fc.record({ everyFrames: fc.constantFrom(0, 1, 3), perRound: fc.boolean() }),
    policy: fc.constantFrom('every-change' as const, 'offsets' as const, 'every-change-and-time' as const),
    everyMin: fc.option(fc.integer({ min: 15, max: 120 }), { nil: undefined }),
    atStart: fc.boolean(),
    afterFlip: fc.boolean(),
    flip: fc.option(fc.double({ min: -0.1, max: 1.1, noNaN: true }), { nil: undefined }),
    clouds: fc.array(
      fc.tuple(fc.double({ min: -0.1, max: 1.1, noNaN: true }), fc.double({ min: 0, max: 0.3, noNaN: true })),
      { maxLength: 3 },
    ),
  })
  .map(({ hours, filters, policy, everyMin, atStart, afterFlip, flip, clouds, ...p }) => {
    const span = hours * 60 * MIN;
    const at = (share: number) => iso(Math.round(START + share * span));
    return TimelineInput.parse({
      ...p,
      start: iso(START),
      end: at(1),
      filters: filters.map((f, i) => ({ name: `F${i}`, ...f })),
      focus: { policy, atStart, afterFlip, ...(everyMin === undefined ? {} : { everyMin }) },
      ...(flip === undefined ? {} : { flipAt: at(flip) }),
      blocked: clouds.map(([a, long]) => ({ start: at(a), end: at(a + long) })),
    });
  });

/** Equipment that does what it is told in exactly the time it is said to take, under a sky that never changes. */
function obedient(plan: TimelineInput): Observatory {
  const clock = new VirtualClock(Date.parse(plan.start));
  let wheel = '';
  const spend = (s: number) => clock.sleep(1000 * s);
  const o = plan.overheads;
  return {
    clock,
    mount: {
      slewAndCentre: () => spend(o.slewCentreS),
      slewToField: () => spend(o.slewCentreS),
      flip: () => spend(o.flipS),
      park: async () => undefined,
    },
    guider: { start: () => spend(o.guideStartS), stop: async () => undefined, dither: () => spend(o.ditherS) },
    wheel: {
      filters: plan.filters.map((f) => f.name),
      // it stands at the first frame's filter already
      current: () => wheel || firstOf(plan),
      select: async (name) => (await spend(o.filterChangeS), void (wheel = name)),
    },
    focuser: focuserOf(),
    camera: {
      expose: async (s) => (await spend(s), { hfdPx: 2, stars: 100, eccentricity: 0.2, background: 1 }),
      download: () => spend(o.downloadS),
      focusFrame: async () => ({ hfdPx: Math.hypot(2, 0.03 * (filterIndex - 5000)), stars: 100 }),
    },
    weather: { read: () => ({ clear: true, temperatureC: 5, seeingArcsec: 2 }) },
  };
}
let filterIndex = 5000;
const focuserOf = () => ({
  position: () => filterIndex,
  temperatureC: () => 5,
  moveTo: async (p: number) => void (filterIndex = p),
});
function firstOf(plan: TimelineInput): string {
  const rules = rulesOf(plan);
  const step = nextStep(rules, initialState(rules), { nowMs: rules.startMs, shutUntilMs: null, shutsAtMs: Infinity });
  return step.do === 'frame' ? plan.filters[step.filterIndex]!.name : plan.filters[0]!.name;
}

describe('one engine', () => {
  test('plans in perfect weather: the timeline and the rehearsal give the same night, to the millisecond', async () => {
    for (const plan of fc.sample(anyPlan, { numRuns: rounds(30, 100), seed: 11 }).map((p) => ({ ...p, blocked: [] }))) {
      filterIndex = 5000;
      // a wheel that turns in no time shows no turning
      const played = await conduct(oneLegRun(plan), obedient(plan));
      const shape = (e: { kind: string; start: string; end: string; filter?: string; frame?: number }) => [
        e.kind,
        Date.parse(e.start),
        Date.parse(e.end),
        e.filter,
        e.frame,
      ];
      const schedule = timeline(plan, true).events;
      const done = played.events.filter((e) => e.kind !== 'note');
      // fractions of a millisecond are summed in another order; a written time may fall on either side of one
      expect(done.length).toBe(schedule.length);
      // gathered first: a matcher for each of many thousand events takes most of the time
      const apart = done.map(shape).filter((d, i) => {
        const l = shape(schedule[i]!);
        const near = (k: 1 | 2) => Math.abs((d[k] as number) - (l[k] as number)) <= 1;
        return d[0] !== l[0] || d[3] !== l[3] || d[4] !== l[4] || !near(1) || !near(2);
      });
      expect(apart).toEqual([]);
      expect(played.accepted).toEqual(timeline(plan, true).frames);
    }
  });
  test('a night played with a listener is whole: every millisecond is a part or a wait, in order', () => {
    fc.assert(
      fc.property(anyPlan, (plan) => {
        const rules = rulesOf(plan);
        let at = rules.startMs;
        const broken: [number, number][] = [];
        const follow = (from: number, to: number) => {
          if (!(Math.abs(from - at) < 1e-3 && to >= from)) broken.push([from, to]);
          at = to;
        };
        play(rules, mergedSpells(plan, rules.startMs, rules.endMs), {
          frame: (f, from) => partsOf(rules, f).reduce((t, p) => (follow(t, t + p.ms), t + p.ms), from),
          wait: follow,
        });
        expect(broken).toEqual([]);
        expect(Math.abs(at - rules.endMs)).toBeLessThan(1e-3);
      }),
      { seed: 5, numRuns: rounds(60, 150) },
    );
  });
  test('no frame stands across the meridian or in a cloud, and no quota is passed', () => {
    fc.assert(
      fc.property(anyPlan, (plan) => {
        const rules = rulesOf(plan);
        const shut = mergedSpells(plan, rules.startMs, rules.endMs);
        const crosses = (t: number, from: number, to: number) => from < t - 1e-3 && to > t + 1e-3;
        const wrong: [number, number][] = [];
        const state = play(rules, shut, {
          frame: (f, from) => {
            const to = from + partsOf(rules, f).reduce((s, p) => s + p.ms, 0);
            const inCloud = shut.some(([a, b]) => from < b - 1e-3 && to > a + 1e-3);
            if (inCloud || (rules.flipAtMs !== null && crosses(rules.flipAtMs, from, to))) wrong.push([from, to]);
          },
          wait: () => undefined,
        });
        expect(wrong).toEqual([]);
        plan.filters.forEach((f, i) =>
          expect(state.taken[i]! + f.done).toBeLessThanOrEqual(Math.max(f.quota!, f.done)),
        );
      }),
      { seed: 6, numRuns: rounds(60, 150) },
    );
  });
  test('rolling with offsets takes no fewer frames than rolling with a focus run on each change', () => {
    fc.assert(
      fc.property(anyPlan, (plan) => {
        const total = (policy: 'offsets' | 'every-change') => {
          const { everyMin: _e, ...focus } = plan.focus;
          const p = { ...plan, order: 'rolling' as const, focus: { ...focus, policy }, blocked: [], flipAt: null };
          return Object.values(timeline(p).frames).reduce((s, n) => s + n, 0);
        };
        expect(total('offsets')).toBeGreaterThanOrEqual(total('every-change'));
      }),
      { seed: 7, numRuns: rounds(60, 150) },
    );
  });
});

describe('a step', () => {
  const plan = (more: object = {}) =>
    rulesOf(
      TimelineInput.parse({
        start: iso(START),
        end: iso(START + 120 * MIN),
        order: 'rolling',
        flipAt: iso(START + 60 * MIN),
        filters: [
          { name: 'Ha', exposureS: 300, quota: 9, done: 2 },
          { name: 'OIII', exposureS: 300, quota: 9 },
        ],
        overheads: { downloadS: 10, slewCentreS: 60, guideStartS: 20, autofocusS: 120, flipS: 90 },
        focus: { policy: 'offsets', atStart: true },
        ...more,
      }),
    );
  const open = (min: number) => ({ nowMs: START + min * MIN, shutUntilMs: null, shutsAtMs: Infinity });
  /** A state as it stands now: each event puts another in its place. */
  interface Box {
    now: EngineState;
  }
  const tell = (at: Box, e: EngineEvent) => void (at.now = applyEvent(at.now, e));
  /** Takes a frame at once, whatever came before it. */
  const take = (rules: Rules, at: Box, min: number, counts = true) => {
    const step = nextStep(rules, at.now, open(min));
    if (step.do !== 'frame') throw new Error(step.do);
    if (step.prepared.slew || step.prepared.flip) tell(at, { what: 'pointed', side: min < 60 ? 'before' : 'after' });
    tell(at, { what: 'exposed', filterIndex: step.filterIndex, prepared: step.prepared, counts });
    return step;
  };
  test('before the first frame everything is done that the rest of the night leans on', () => {
    const rules = plan();
    const step = nextStep(rules, initialState(rules), open(0));
    expect(step).toMatchObject({ do: 'frame', filterIndex: 0, frame: 3 });
    if (step.do === 'frame')
      expect(partsOf(rules, step).map((p) => p.kind)).toEqual(['slew', 'focus', 'guide', 'expose', 'download']);
  });
  test('under cloud it waits, also past the end; after it the target is centred and guided anew', () => {
    const rules = plan();
    const state: Box = { now: initialState(rules) };
    take(rules, state, 0);
    const shut = { nowMs: START + 10 * MIN, shutUntilMs: START + 500 * MIN, shutsAtMs: Infinity };
    expect(nextStep(rules, state.now, shut)).toEqual({ do: 'wait', untilMs: rules.endMs, why: 'cloud' });
    tell(state, { what: 'shut' });
    expect(nextStep(rules, state.now, open(30))).toMatchObject({ prepared: { slew: true, guide: true } });
  });
  test('a frame that was refused is taken again under the next number, and counts for the dithers', () => {
    const rules = plan({ filters: [{ name: 'Ha', exposureS: 60, quota: 1 }], dither: { everyFrames: 2 } });
    const state: Box = { now: initialState(rules) };
    expect(take(rules, state, 0, false).frame).toBe(1);
    expect(take(rules, state, 5, false)).toMatchObject({ frame: 2, prepared: { dither: false } });
    expect(take(rules, state, 10, true)).toMatchObject({ frame: 3, prepared: { dither: true } });
    expect(nextStep(rules, state.now, open(15))).toEqual({ do: 'stop' });
  });
  test('it waits for the meridian, then flips; without a frame before it there is nothing to flip', () => {
    const rules = plan();
    const begun: Box = { now: initialState(rules) };
    take(rules, begun, 0);
    expect(nextStep(rules, begun.now, open(56))).toEqual({ do: 'wait', untilMs: START + 60 * MIN, why: 'meridian' });
    expect(nextStep(rules, begun.now, open(60))).toMatchObject({ prepared: { flip: true, slew: false, guide: true } });
    expect(nextStep(rules, initialState(rules), open(61))).toMatchObject({ prepared: { flip: false, slew: true } });
    // flipped, but the sky shut before the frame: it is centred again, not flipped a second time
    tell(begun, { what: 'pointed', side: 'after' });
    tell(begun, { what: 'shut' });
    expect(nextStep(rules, begun.now, open(80))).toMatchObject({ prepared: { flip: false, slew: true, guide: true } });
    // another object was worked in between: pointed anew from the side that is right by then
    const away: Box = { now: initialState(rules) };
    take(rules, away, 0);
    tell(away, { what: 'elsewhere' });
    expect(nextStep(rules, away.now, open(61))).toMatchObject({ prepared: { flip: false, slew: true } });
  });
  test('it says what it waits for, and takes a frame that ends exactly there', () => {
    const rules = plan({ flipAt: null, overheads: {}, focus: { policy: 'offsets', atStart: false } });
    const state: Box = { now: initialState(rules) };
    expect(nextStep(rules, state.now, open(115))).toMatchObject({ do: 'frame' });
    expect(nextStep(rules, state.now, open(115.001))).toEqual({ do: 'wait', untilMs: rules.endMs, why: 'end' });
    const soon = { ...open(0), shutsAtMs: START + 4 * MIN };
    expect(nextStep(rules, state.now, soon)).toEqual({ do: 'wait', untilMs: START + 4 * MIN, why: 'shut-soon' });
    expect(nextStep(rules, state.now, open(120))).toEqual({ do: 'stop' });
  });
  test('wide frames ask for focus whatever the rule says', () => {
    const rules = plan();
    const state: Box = { now: initialState(rules) };
    take(rules, state, 0);
    tell(state, { what: 'focused', atMs: START });
    expect(nextStep(rules, state.now, open(6))).toMatchObject({ prepared: { focus: false } });
    expect(nextStep(rules, state.now, { ...open(6), focusNow: true })).toMatchObject({ prepared: { focus: true } });
  });
  test('“by so many degrees” goes by what the sensor reads; by an expected cooling only where it reads nothing', () => {
    const rules = plan({ flipAt: null, focus: { policy: 'offsets', atStart: false, everyC: 1, coolingCPerHour: -4 } });
    const state: Box = { now: initialState(rules) };
    take(rules, state, 0);
    tell(state, { what: 'focused', atMs: START + 5 * MIN, temperatureC: 8 });
    const focusAt = (min: number, temperatureC?: number) => {
      const step = nextStep(rules, state.now, { ...open(min), temperatureC });
      return step.do === 'frame' && step.prepared.focus;
    };
    // 15 min were expected to cool a degree; the air stood still
    expect([focusAt(60, 7.4), focusAt(60, 8.9)]).toEqual([false, false]);
    // it fell, or rose, by a degree within minutes
    expect([focusAt(8, 7), focusAt(8, 9)]).toEqual([true, true]);
    // no sensor: the expected cooling decides
    expect([focusAt(19), focusAt(20)]).toEqual([false, true]);
    // focused without a sensor: likewise, whatever it reads now
    tell(state, { what: 'focused', atMs: START + 5 * MIN });
    expect([focusAt(8, -20), focusAt(20, 8)]).toEqual([false, true]);
  });
  test('a step changes nothing: not a frozen state, and a night goes on the same from its state written out as text', () => {
    const freeze = <T>(v: T): T => {
      if (v && typeof v === 'object') Object.values(Object.freeze(v)).forEach(freeze);
      return v;
    };
    fc.assert(
      fc.property(
        fc.array(fc.record({ wait: fc.nat(9), shut: fc.boolean(), counts: fc.boolean() }), { maxLength: 12 }),
        fc.constantFrom('rolling', 'block', 'lagging'),
        (acts, order) => {
          const rules = freeze(plan({ order, dither: { everyFrames: 2 } }));
          const [plain, written]: Box[] = [{ now: freeze(initialState(rules)) }, { now: initialState(rules) }];
          let min = 0;
          for (const act of acts) {
            min += act.wait;
            const steps = [plain!, written!].map((at) => nextStep(rules, at.now, open(min)));
            expect(steps[1]).toEqual(steps[0]);
            if (steps[0]!.do !== 'frame') break;
            for (const at of [plain!, written!]) {
              take(rules, at, min, act.counts);
              if (act.shut) tell(at, { what: 'shut' });
            }
            freeze(plain!.now);
            written!.now = JSON.parse(JSON.stringify(written!.now)) as EngineState;
            min += 6;
          }
          expect(written!.now.taken).toEqual(plain!.now.taken);
        },
      ),
      { seed: 1201, numRuns: rounds(30, 60) },
    );
  });
});
