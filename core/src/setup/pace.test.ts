import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { paced, STEP_MINUTES } from './pace.ts';

const T = Date.parse('2026-11-19T16:00:00Z');
const MIN = 60_000;
const steps = (...keys: string[]) => keys.map((key) => ({ key, done: false }));

describe('the pace of an evening', () => {
  test('open steps follow each other in the order of the list, done ones take no time', () => {
    const got = paced([{ key: 'ground', done: true }, ...steps('weights', 'tube')], T);
    expect(got).toEqual([
      { key: 'weights', startMs: T, lateMin: 0 },
      { key: 'tube', startMs: T + STEP_MINUTES.weights! * MIN, lateMin: 0 },
    ]);
  });
  test('a cooler that was due ten minutes ago does not come before the legs: it shifts', () => {
    const [legs, cooler] = paced([...steps('ground'), { key: 'cooling', done: false, dueMs: T - 10 * MIN }], T);
    expect([legs!.key, cooler!.key]).toEqual(['ground', 'cooling']);
    expect(cooler!.lateMin).toBe(10 + STEP_MINUTES.ground!);
  });
  test('nobody focuses before a star is out', () => {
    const dusk = T + 90 * MIN;
    const got = paced([{ key: 'focus', done: false, notBeforeMs: dusk, dueMs: dusk }, ...steps('centre')], T);
    expect(got.map((g) => [g.startMs - T, g.lateMin])).toEqual([
      [90 * MIN, 0],
      [(90 + STEP_MINUTES.focus!) * MIN, 0],
    ]);
  });
  test('coming later never makes anything earlier', () => {
    const list = fc.array(fc.constantFrom(...Object.keys(STEP_MINUTES), 'own-step'), { minLength: 1, maxLength: 20 });
    fc.assert(
      fc.property(list, fc.integer({ min: 0, max: 600 }), (keys, min) => {
        const [early, late] = [paced(steps(...keys), T), paced(steps(...keys), T + min * MIN)];
        early.forEach((e, i) => expect(late[i]!.startMs - e.startMs).toBe(min * MIN));
      }),
      { seed: 17 },
    );
  });
});
