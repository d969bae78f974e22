import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { focusHolds, nextFilter, preparation, stillWanted, type SequenceState } from './choice.ts';
import type { FilterPlan, FocusRule, Order } from './schemas.ts';

const plans = fc.array(fc.record({ quota: fc.integer({ min: 0, max: 12 }), done: fc.integer({ min: 0, max: 6 }) }), {
  minLength: 1,
  maxLength: 6,
});
const named = (list: { quota: number; done: number }[]): FilterPlan[] =>
  list.map((f, i) => ({ ...f, name: `f${i}`, exposureS: 60 }));
/** Filters in the order they are taken, until nothing is wanted. */
function played(order: Order, filters: FilterPlan[]): number[] {
  const taken = filters.map(() => 0);
  const sequence: number[] = [];
  for (let last = -1; ;) {
    const next = nextFilter(order, filters, taken, last);
    if (next < 0) return sequence;
    taken[next]!++;
    sequence.push((last = next));
  }
}

describe('which filter comes next', () => {
  test.each(['rolling', 'block', 'lagging'] as const)(
    '%s: every quota is met, none exceeded, then it ends',
    (order) => {
      fc.assert(
        fc.property(plans, (list) => {
          const filters = named(list);
          const sequence = played(order, filters);
          filters.forEach((f, i) =>
            expect(sequence.filter((p) => p === i)).toHaveLength(Math.max(0, f.quota! - f.done)),
          );
        }),
        { seed: 101 },
      );
    },
  );
  test('rolling never gives one filter two frames more than another that still wants them', () => {
    fc.assert(
      fc.property(plans, (list) => {
        const filters = named(list);
        const taken = filters.map(() => 0);
        for (const filterIndex of played('rolling', filters)) {
          taken[filterIndex]!++;
          filters.forEach((f, i) => {
            if (stillWanted(f, taken[i]!) > 0) expect(taken[filterIndex]! - taken[i]!).toBeLessThanOrEqual(1);
          });
        }
      }),
      { seed: 102 },
    );
  });
  test('block changes the filter as rarely as can be; lagging serves whoever is farthest behind', () => {
    fc.assert(
      fc.property(plans, (list) => {
        const filters = named(list);
        const block = played('block', filters);
        expect(block).toEqual([...block].sort((a, b) => a - b));
        const taken = filters.map(() => 0);
        for (const filterIndex of played('lagging', filters)) {
          const share = (i: number) => (filters[i]!.done + taken[i]!) / filters[i]!.quota!;
          filters.forEach((f, i) => {
            if (stillWanted(f, taken[i]!) > 0) expect(share(filterIndex)).toBeLessThanOrEqual(share(i) + 1e-12);
          });
          taken[filterIndex]!++;
        }
      }),
      { seed: 103 },
    );
  });
  test('without a quota a filter is wanted for ever', () => {
    expect(stillWanted({ done: 5 }, 1000)).toBe(Infinity);
    expect(nextFilter('rolling', [{ name: 'L', exposureS: 60, done: 0 }], [99], 0)).toBe(0);
  });
});

const rule = (more: Partial<FocusRule>): FocusRule => ({ policy: 'offsets', atStart: true, afterFlip: true, ...more });
const begun: SequenceState = {
  taken: [3, 3],
  last: 0,
  wheel: 0,
  needsSlew: false,
  started: true,
  lastFocusEnd: 0,
  framesSinceDither: 1,
};
const rules = (focus: FocusRule, dither = { everyFrames: 2, perRound: false }, order: Order = 'rolling') => ({
  focus,
  dither,
  order,
});
const MIN = 60_000;

describe('what comes before a frame', () => {
  test('the very first: slewing, focus, guider, no dither and no filter change', () => {
    const first = {
      ...begun,
      taken: [0, 0],
      last: -1,
      wheel: -1,
      needsSlew: true,
      started: false,
      framesSinceDither: 0,
    };
    expect(preparation(rules(rule({})), first, 1, 0)).toEqual({
      slew: true,
      flip: false,
      filter: false,
      focus: true,
      guide: true,
      dither: false,
    });
    expect(preparation(rules(rule({ atStart: false })), first, 1, 0).focus).toBe(false);
  });
  test('a flip takes the place of a slew, refocuses if told to, and no dither is spent on it', () => {
    const due = { ...begun, needsSlew: true, framesSinceDither: 9 };
    expect(preparation(rules(rule({})), due, 0, MIN, true)).toMatchObject({
      flip: true,
      slew: false,
      focus: true,
      guide: true,
      dither: false,
    });
    expect(preparation(rules(rule({ afterFlip: false })), due, 0, MIN, true).focus).toBe(false);
  });
  test.each<[FocusRule['policy'], boolean]>([
    ['every-change', true],
    ['every-change-and-time', true],
    ['offsets', false],
  ])('a change of filter under “%s” focuses: %s', (policy, focus) => {
    expect(preparation(rules(rule({ policy })), begun, 1, MIN)).toMatchObject({ filter: true, focus });
    expect(preparation(rules(rule({ policy })), begun, 0, MIN)).toMatchObject({ filter: false, focus: false });
  });
  test('focus is renewed by time or by cooling, whichever comes first, never where changes do it', () => {
    expect(focusHolds(rule({ everyMin: 60 }))).toEqual({ byTimeMs: 60 * MIN, byCoolingMs: null });
    expect(focusHolds(rule({ everyMin: 60, everyC: 1, coolingCPerHour: -2 }))).toEqual({
      byTimeMs: 60 * MIN,
      byCoolingMs: 30 * MIN,
    });
    const cooling = rules(rule({ everyMin: 60, everyC: 1, coolingCPerHour: -2 }));
    expect([30 * MIN - 1, 30 * MIN].map((ms) => preparation(cooling, begun, 0, ms).focus)).toEqual([false, true]);
    expect(focusHolds(rule({ everyC: 1 }))).toEqual({ byTimeMs: null, byCoolingMs: null });
    expect(focusHolds(rule({ policy: 'every-change', everyMin: 60 }))).toEqual({ byTimeMs: null, byCoolingMs: null });
    const r = rules(rule({ everyMin: 60 }));
    expect(preparation(r, begun, 0, 60 * MIN - 1).focus).toBe(false);
    expect(preparation(r, begun, 0, 60 * MIN).focus).toBe(true);
  });
  test('dithers come by frames, or when a round begins anew', () => {
    const by = (framesSinceDither: number) =>
      preparation(rules(rule({})), { ...begun, framesSinceDither }, 0, 0).dither;
    expect([by(1), by(2), by(5)]).toEqual([false, true, true]);
    expect(preparation(rules(rule({}), { everyFrames: 0, perRound: false }), begun, 0, 0).dither).toBe(false);
    const round = rules(rule({}), { everyFrames: 0, perRound: true });
    expect(preparation(round, { ...begun, last: 0 }, 1, 0).dither).toBe(false);
    expect(preparation(round, { ...begun, last: 1, wheel: 1 }, 0, 0).dither).toBe(true);
    expect(preparation(round, { ...begun, last: -1 }, 0, 0).dither).toBe(false);
  });
});
