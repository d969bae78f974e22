import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { STOPS, sunPlace } from './sunPlace.ts';

const altitude = fc.double({ min: -90, max: 90, noNaN: true });

describe('the Sun on the day arc', () => {
  test('never hides a stop or its name, and never leaves the arc', () => {
    fc.assert(
      fc.property(altitude, fc.boolean(), (a, afternoon) => {
        const t = sunPlace(a, afternoon);
        expect(t).toBeGreaterThan(0);
        expect(t).toBeLessThan(1);
        for (let i = 0; i < STOPS; i++) expect(Math.abs(t - i / (STOPS - 1))).toBeGreaterThan(0.055);
      }),
      { seed: 91 },
    );
  });
  test('runs down the arc as the afternoon Sun sinks, and on through the morning', () => {
    const day = [
      ...[60, 30, 5, -5, -17, -30, -60].map((a) => sunPlace(a, true)),
      ...[-30, -17, -5, 5, 30, 60].map((a) => sunPlace(a, false)),
    ];
    for (let i = 1; i < day.length; i++) expect(day[i]!).toBeGreaterThanOrEqual(day[i - 1]!);
  });
  test('stands between dusk and night in twilight, between morning and season in the forenoon', () => {
    expect(sunPlace(-9, true)).toBeGreaterThan(0.25);
    expect(sunPlace(-9, true)).toBeLessThan(0.5);
    expect(sunPlace(20, false)).toBeGreaterThan(0.75);
  });
});
