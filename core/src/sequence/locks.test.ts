import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parseInput } from '../calculation/index.ts';
import { brokenLocks, changedFields, movedToNight, nightMover, PlanField } from './locks.ts';
import { NightPlan, usualClosing, usualOpening } from './nightPlan.ts';

const plan = parseInput(NightPlan, {
  opening: usualOpening(120),
  legs: ['a', 'b'].map((id) => ({
    id,
    projectId: `p-${id}`,
    from: { by: 'clock', at: '2026-11-19T19:00:00.000Z' },
    until: { by: 'altitude', deg: 30 },
    settings: {
      filters: [
        { name: 'L', exposureS: 120, quota: 30 },
        { name: 'Ha', exposureS: 300, quota: 20 },
      ],
      order: 'rolling',
      dither: { everyFrames: 2, perRound: false },
      focus: { policy: 'offsets', everyMin: 90 },
    },
  })),
  closing: usualClosing(),
});
/** One change to each field, and only to that one. */
const CHANGES: Record<PlanField, (p: NightPlan) => void> = {
  targets: (p) => (p.legs[1]!.projectId = 'p-c'),
  hours: (p) => (p.legs[0]!.until = { by: 'altitude', deg: 35, offsetMin: 0 }),
  filters: (p) => (p.legs[0]!.settings.filters[1]!.quota = 21),
  exposures: (p) => (p.legs[1]!.settings.filters[0]!.exposureS = 60),
  order: (p) => (p.legs[1]!.settings.order = 'block'),
  focus: (p) => (p.legs[0]!.settings.focus.everyMin = 60),
  dither: (p) => (p.legs[0]!.settings.dither.everyFrames = 3),
  following: (p) => (p.legs[0]!.meridian = 'stop'),
  opening: (p) => (p.opening[1]!.minutes = 20),
  closing: (p) => p.closing.pop(),
  watches: (p) => (p.watches.sunStops = 'nautical'),
};

describe('a lock', () => {
  test.each(PlanField.options)('on %s is broken by a change of that and by no other', (field) => {
    for (const changed of PlanField.options) {
      const after = structuredClone(plan);
      CHANGES[changed](after);
      expect(changedFields(plan, after)).toEqual([changed]);
      expect(brokenLocks([{ field, reason: '' }], plan, after)).toHaveLength(field === changed ? 1 : 0);
    }
  });
  test('on the exposures holds in a leg that is added, and taking one out is a matter of the targets', () => {
    const more = structuredClone(plan);
    more.legs.push({ ...structuredClone(plan.legs[1]!), id: 'c' });
    expect(changedFields(plan, more)).toEqual(['targets']);
    more.legs[2]!.settings.filters[0]!.exposureS = 30;
    expect(brokenLocks([{ field: 'exposures', reason: '' }], plan, more)).toHaveLength(1);
    expect(changedFields(plan, { ...plan, legs: plan.legs.slice(0, 1) })).toEqual(['targets']);
  });
  test('holds whatever the order of keys, and what was left out against what is not there', () => {
    fc.assert(
      fc.property(fc.shuffledSubarray(Object.keys(plan.legs[0]!), { minLength: 8 }), (keys) => {
        const after = structuredClone(plan);
        const leg = Object.fromEntries(
          keys.map((k) => [k, plan.legs[0]![k as 'id']]),
        ) as unknown as NightPlan['legs'][number];
        after.legs[0] = leg;
        if (!leg.settings) return true;
        leg.settings.focus.everyC = undefined;
        return keys.length < Object.keys(plan.legs[0]!).length || changedFields(plan, after).length === 0;
      }),
    );
  });
});

test('a filter taken in or left out is a matter of the filters, its length one of the exposures', () => {
  const changed = (of: (filters: NightPlan['legs'][number]['settings']['filters']) => unknown) => {
    const after = structuredClone(plan);
    const s = after.legs[0]!.settings;
    s.filters = of(s.filters) as typeof s.filters;
    return changedFields(plan, after);
  };
  expect(changed((f) => [...f, { name: 'SII', exposureS: 77, quota: 5 }])).toEqual(['filters']);
  expect(changed((f) => f.map((x) => ({ ...x, exposureS: x.exposureS + 1 })))).toEqual(['exposures']);
  expect(
    changed((f) => [...f.map((x) => ({ ...x, exposureS: x.exposureS + 1 })), { name: 'SII', exposureS: 77, quota: 5 }]),
  ).toEqual(['filters', 'exposures']);
});

test('another night moves clocks and nothing else', () => {
  const moved = movedToNight(plan, (ms) => ms + 86_400_000);
  expect(moved.legs[0]!.from).toEqual({ by: 'clock', at: '2026-11-20T19:00:00.000Z' });
  expect(changedFields(plan, moved)).toEqual(['hours']);
  expect(movedToNight(moved, (ms) => ms - 86_400_000)).toEqual(plan);
});

test('a clock keeps its time on the wall, also over the end of summer time', () => {
  const move = nightMover('Europe/Rome', '2026-10-20', '2026-10-30');
  expect(new Date(move(Date.parse('2026-10-20T19:30:00Z'))).toISOString()).toBe('2026-10-30T20:30:00.000Z');
  expect(nightMover('Europe/Rome', '2026-10-20', '2026-10-20')(123_456)).toBe(123_456);
});
