import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { InvalidInput, parseInput } from '../calculation/index.ts';
import { assess } from './assess.ts';
import { infer } from './infer.ts';
import { AssessInput, SolveInput, STANDARD_GRAVITY } from './schemas.ts';
import { solve } from './solve.ts';
import { attitudeTorqueNm, commonMarks } from './states.ts';
import { torqueAt } from './torque.ts';

const mm = fc.double({ min: -400, max: 400, noNaN: true });
const kg = fc.double({ min: 0.05, max: 12, noNaN: true });
const moment = fc.record({ x: mm, y: mm, z: mm });
const sky = fc.record({
  latitude: fc.double({ min: -89, max: 89, noNaN: true }),
  hour: fc.double({ min: -180, max: 180, noNaN: true }),
  dec: fc.double({ min: -85, max: 85, noNaN: true }),
});

describe('torque over the sky', () => {
  test('turns its sign with the moment, for both sides and everywhere', () => {
    fc.assert(
      fc.property(moment, sky, fc.constantFrom('east' as const, 'west' as const), (m, s, side) => {
        const a = torqueAt(m, s.latitude, s.hour, s.dec, side);
        const b = torqueAt({ x: -m.x, y: -m.y, z: -m.z }, s.latitude, s.hour, s.dec, side);
        expect(a.raNm).toBeCloseTo(-b.raNm, 9);
        expect(a.decNm).toBeCloseTo(-b.decNm, 9);
      }),
      { seed: 11 },
    );
  });
  test('never exceeds the worst case that assess names', () => {
    fc.assert(
      fc.property(moment, sky, (m, s) => {
        const t = torqueAt(m, s.latitude, s.hour, s.dec, 'east');
        const worst = (STANDARD_GRAVITY * Math.cos((s.latitude * Math.PI) / 180) * Math.hypot(m.x, m.y, m.z)) / 1000;
        expect(Math.abs(t.raNm)).toBeLessThanOrEqual(worst + 1e-9);
        expect(Math.abs(t.decNm)).toBeLessThanOrEqual((STANDARD_GRAVITY * Math.hypot(m.y, m.z)) / 1000 + 1e-9);
      }),
      { seed: 12 },
    );
  });
  test('with the shaft level a heavy tube on the east side falls eastward: positive, g·cos φ·x', () => {
    const t = torqueAt({ x: 100, y: 0, z: 0 }, 47, 0, 0, 'east');
    expect(t.raNm).toBeCloseTo((STANDARD_GRAVITY * Math.cos((47 * Math.PI) / 180) * 100) / 1000, 9);
  });
});

const rig = fc.record({
  masses: fc.array(fc.record({ massKg: kg, xMm: fc.double({ min: 50, max: 300, noNaN: true }), yMm: mm, zMm: mm }), {
    minLength: 1,
    maxLength: 5,
  }),
  weight: fc.double({ min: 2, max: 20, noNaN: true }),
  trims: fc.array(fc.record({ xMm: mm, yMm: mm, zMm: mm }), { maxLength: 3 }),
  any: fc.boolean(),
});

describe('solving', () => {
  test('what is left over is what assess says of the rig after the moves', () => {
    fc.assert(
      fc.property(rig, (r) => {
        const given = {
          masses: r.masses.map((m, i) => ({ ...m, name: `part ${i}` })),
          counterweights: [{ massKg: r.weight, distanceMm: 200 }],
          latitudeDeg: 47,
        };
        const trimPoints = r.trims.map((t, i) => ({ ...t, name: `point ${i}`, maxMassKg: 3 }));
        const s = solve(
          parseInput(SolveInput, {
            ...given,
            slide: { minMm: -120, maxMm: 120 },
            shaftRangeMm: { min: 80, max: 350 },
            trimPoints,
            trimStockKg: r.any ? [] : [0.25, 0.5, 1],
          }),
        );
        const place = new Map(trimPoints.map((t) => [t.name, t]));
        const after = assess(
          parseInput(AssessInput, {
            ...given,
            masses: [
              ...given.masses.map((m) => ({ ...m, zMm: m.zMm + s.slideMm })),
              ...s.trim.map((t, i) => {
                const p = place.get(t.point)!;
                return { name: `trim ${i}`, massKg: t.massKg, xMm: p.xMm, yMm: p.yMm, zMm: p.zMm + s.slideMm };
              }),
            ],
            counterweights: s.counterweights,
          }),
        );
        for (const axis of ['x', 'y', 'z'] as const)
          expect(after.momentKgMm[axis]).toBeCloseTo(s.residual.momentKgMm[axis], 5);
        expect(s.slideMm).toBeGreaterThanOrEqual(-120 - 1e-9);
        expect(s.slideMm).toBeLessThanOrEqual(120 + 1e-9);
        for (const t of s.trim) expect(t.massKg).toBeLessThanOrEqual(3 + 1e-9);
        for (const w of s.counterweights) expect(w.distanceMm).toBeLessThanOrEqual(350 + 1e-9);
        if (s.feasible) expect(Math.max(s.residual.decTorqueNm, s.residual.raTorqueNm)).toBeLessThan(0.05);
      }),
      { seed: 13, numRuns: 60 },
    );
  });
  test('a rig that is in balance asks for nothing', () => {
    const s = solve(
      parseInput(SolveInput, {
        masses: [{ name: 'tube', massKg: 5, xMm: 200, yMm: 0, zMm: 0 }],
        counterweights: [{ massKg: 5, distanceMm: 200 }],
        latitudeDeg: 47,
        slide: { minMm: -100, maxMm: 100 },
        shaftRangeMm: { min: 80, max: 350 },
      }),
    );
    expect(s.feasible).toBe(true);
    expect(s.steps).toEqual([]);
  });
  test('weights that cannot reach are said to lack, with how much', () => {
    const s = solve(
      parseInput(SolveInput, {
        masses: [{ name: 'tube', massKg: 10, xMm: 200, yMm: 0, zMm: 0 }],
        counterweights: [{ massKg: 4, distanceMm: 200 }],
        latitudeDeg: 47,
        slide: { minMm: 0, maxMm: 0 },
        shaftRangeMm: { min: 80, max: 300 },
      }),
    );
    expect(s.feasible).toBe(false);
    expect(s.obstacles.join(' ')).toMatch(/kg/);
  });
  test.each([
    ['two parts of one name', { masses: [1, 2].map(() => ({ name: 'a', massKg: 1, xMm: 0, yMm: 0, zMm: 0 })) }],
    ['a slide whose ends are swapped', { slide: { minMm: 5, maxMm: -5 } }],
    ['a relocation of nothing', { relocations: [{ mass: 'ghost', to: [{ name: 'rear', xMm: 0, yMm: 0, zMm: 0 }] }] }],
    ['a negative mass', { masses: [{ name: 'a', massKg: -1, xMm: 0, yMm: 0, zMm: 0 }] }],
  ])('%s is refused', (_, wrong) => {
    const good = {
      masses: [{ name: 'tube', massKg: 5, xMm: 200, yMm: 0, zMm: 0 }],
      counterweights: [],
      latitudeDeg: 47,
      slide: { minMm: -5, maxMm: 5 },
      shaftRangeMm: { min: 0, max: 300 },
    };
    expect(() => parseInput(SolveInput, { ...good, ...wrong })).toThrow(InvalidInput);
  });
});

test('spring-scale readings made from a known moment give it back', () => {
  fc.assert(
    fc.property(moment, fc.double({ min: 0.05, max: 1, noNaN: true }), (m, friction) => {
      const reading = (attitudeDeg: number, tubeSide: 'left' | 'right') => {
        const a = (attitudeDeg * Math.PI) / 180;
        const sigma = tubeSide === 'left' ? 1 : -1;
        const torque = (STANDARD_GRAVITY * (m.z * Math.cos(a) - sigma * m.y * Math.sin(a))) / 1000;
        return {
          axis: 'dec' as const,
          attitudeDeg,
          tubeSide,
          forceTowardN: (friction - torque) / 0.35,
          forceBackN: (friction + torque) / 0.35,
          leverMm: 350,
        };
      };
      const got = infer({ readings: [reading(0, 'left'), reading(60, 'left'), reading(45, 'right')], latitudeDeg: 47 });
      expect(got.momentKgMm.z).toBeCloseTo(m.z, 5);
      expect(got.momentKgMm.y).toBeCloseTo(m.y, 5);
      expect(got.momentKgMm.x).toBeUndefined();
      expect(got.frictionNm.dec).toBeCloseTo(friction, 6);
    }),
    { seed: 14 },
  );
});

describe('one pair of marks for several states', () => {
  const state = (name: string, zMm: number, massKg = 5) => ({
    name,
    input: parseInput(AssessInput, {
      masses: [{ name: 'tube', massKg, xMm: 200, yMm: 0, zMm }],
      counterweights: [{ massKg: 5, distanceMm: 200 }],
      latitudeDeg: 47,
    }),
  });
  const range = [
    { minMm: -100, maxMm: 100 },
    { min: 50, max: 350 },
  ] as const;
  test('two like states are served by one, and each one’s own marks balance it', () => {
    const got = commonMarks([state('a', 10), state('b', 10.2)], ...range);
    expect(got.serves).toBe(true);
    expect(got.slideMm).toBeCloseTo(-10.1, 1);
    expect(got.distanceMm).toBeCloseTo(200, 1);
  });
  test('two unlike states are not, and the common slide lies between their own', () => {
    const got = commonMarks([state('bare', 0), state('with reducer', 30)], ...range);
    expect(got.serves).toBe(false);
    expect(got.states.map((s) => s.slideMm)).toEqual([expect.closeTo(0, 6), expect.closeTo(-30, 6)]);
    expect(got.slideMm).toBeCloseTo(-15, 1);
    expect(got.states[0]!.decNm).toBeCloseTo(got.states[1]!.decNm, 2);
  });
  test('front-heavy sinks level, side-heavy only upright', () => {
    expect(attitudeTorqueNm({ y: 0, z: 100 }, 0)).toBeCloseTo(0.980665, 6);
    expect(attitudeTorqueNm({ y: 100, z: 0 }, 0)).toBe(0);
    expect(attitudeTorqueNm({ y: 100, z: 0 }, 90)).toBeCloseTo(-0.980665, 6);
  });
});
