import { describe, expect, test } from '@jest/globals';
import { InvalidInput } from '../calculation/index.ts';
import { seeded } from '../statistics/index.ts';
import { curve } from './curve.ts';
import { offsets } from './offsets.ts';
import { zone } from './zone.ts';

const TRUE = { L: 0, R: 42, Ha: -60 };
const SLOPE = -20;

/** A night that cools from 10 °C, filters in the order given. */
function night(order: (keyof typeof TRUE)[], seed: number, noise = 2) {
  const r = seeded(seed);
  return order.map((filter, i) => {
    const temperatureC = 10 - i * 0.4;
    return { filter, temperatureC, position: 5000 + TRUE[filter] + SLOPE * (temperatureC - 6) + noise * r.normal() };
  });
}
const rolling = Array.from({ length: 30 }, (_, i) => (['L', 'R', 'Ha'] as const)[i % 3]!);
const blocks = [...rolling].sort();

describe('offsets apart from temperature', () => {
  test.each([1, 2, 3, 4, 5])('rolling or in blocks, seed %i: the truth lies within 4 σ, plain means do not', (seed) => {
    for (const order of [rolling, [...blocks, ...blocks.slice(0, 3)]]) {
      const got = offsets({ runs: night(order, seed), reference: 'L', model: 'temperature' });
      for (const f of ['R', 'Ha'] as const)
        expect(Math.abs(got.offsets[f]!.steps - TRUE[f])).toBeLessThan(4 * got.offsets[f]!.error + 1e-9);
      expect(Math.abs(got.temperatureStepsPerC! - SLOPE)).toBeLessThan(1);
    }
    const blocked = offsets({ runs: night([...blocks, 'L'], seed), reference: 'L', model: 'temperature' });
    expect(Math.abs(blocked.naiveOffsets.R! - TRUE.R)).toBeGreaterThan(20);
  });
  test('one wild run is named and does not move the offset', () => {
    const runs = night(rolling, 7);
    const clean = offsets({ runs, reference: 'L', model: 'temperature' });
    runs[4]!.position += 300;
    const got = offsets({ runs, reference: 'L', model: 'temperature' });
    expect(got.outliers).toEqual([4]);
    expect(Math.abs(got.offsets.R!.steps - clean.offsets.R!.steps)).toBeLessThan(1.5);
  });
  test('offsets do not depend on where the focuser counts from', () => {
    const runs = night(rolling, 8);
    const a = offsets({ runs, reference: 'L', model: 'temperature' });
    const b = offsets({
      runs: runs.map((r) => ({ ...r, position: r.position + 12_345 })),
      reference: 'L',
      model: 'temperature',
    });
    expect(b.offsets.Ha!.steps).toBeCloseTo(a.offsets.Ha!.steps, 6);
  });
  test('a night at one temperature cannot tell filter from temperature, and says so', () => {
    const runs = night(rolling, 9).map((r) => ({ ...r, temperatureC: 4 }));
    expect(() => offsets({ runs, reference: 'L', model: 'temperature' })).toThrow(InvalidInput);
    expect(() => offsets({ runs, reference: 'B', model: 'none' })).toThrow(/reference/i);
  });
});

describe('V-curves', () => {
  const points = (noise: number, seed: number, centre = 4000) => {
    const r = seeded(seed);
    return Array.from({ length: 11 }, (_, k) => {
      const position = 3750 + 50 * k;
      return { position, hfd: Math.hypot(2.4, 0.03 * (position - centre)) + noise * r.normal() };
    });
  };
  test('the bottom is found, and a gross outlier loses its say', () => {
    const p = points(0.05, 3);
    p[2]!.hfd = 25;
    const got = curve({ points: p });
    expect(got.usable).toBe(true);
    expect(Math.abs(got.position - 4000)).toBeLessThan(4 * got.positionError + 1);
    expect(got.kept[2]).toBe(false);
  });
  test('a one-sided run is not usable, with the reason', () => {
    const got = curve({ points: points(0.02, 4, 4400) });
    expect(got.usable).toBe(false);
    expect(got.reason).not.toBe('');
  });
  test('pure noise is hardly ever believed', () => {
    let believed = 0;
    for (let seed = 1; seed <= 100; seed++) {
      const r = seeded(seed);
      const p = Array.from({ length: 9 }, (_, k) => ({ position: 100 * k, hfd: 4 + 0.5 * Math.abs(r.normal()) }));
      if (curve({ points: p }).usable) believed++;
    }
    expect(believed).toBeLessThanOrEqual(3);
  });
});

test('the classic zone is 4.88 λ N²: 134 µm at f/7 and 560 nm (textbook formula)', () => {
  expect(zone({ focalRatio: 7, wavelengthNm: 560, tolerancePercent: 10 }).classicUm).toBeCloseTo(133.9, 1);
});
