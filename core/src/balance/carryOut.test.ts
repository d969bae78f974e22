import { describe, expect, test } from '@jest/globals';
import { RIGS } from '../../../demo/src/rigs.ts';
import { parseInput } from '../calculation/index.ts';
import { assess } from './assess.ts';
import { carryOut } from './carryOut.ts';
import { assessInputOf, solveInputOf } from './ofRig.ts';
import { AssessInput, SolveInput } from './schemas.ts';
import { solve } from './solve.ts';

const LATITUDE = 47;
const momentOf = (setup: (typeof RIGS)[number]['setup']) =>
  assess(parseInput(AssessInput, assessInputOf(setup, LATITUDE))).momentKgMm;

describe('a rig after its moves', () => {
  test.each(RIGS.map((r) => [r.name, r.setup] as const))('%s has the moment the solver promised', (_name, setup) => {
    const before = JSON.stringify(setup);
    const s = solve(parseInput(SolveInput, solveInputOf(setup, LATITUDE)));
    const after = carryOut(setup, s);
    expect(JSON.stringify(setup)).toBe(before);
    const moment = momentOf(after);
    // places are kept in hundredths, marks in tenths of a millimetre, weights at whole ones
    const mass = after.placed.reduce((sum, p) => sum + p.massKg, 0);
    const weights = after.counterweights.reduce((sum, w) => sum + w.massKg, 0);
    expect(Math.abs(moment.z - s.residual.momentKgMm.z)).toBeLessThan(0.06 * mass + 0.01);
    // trims are put on in whole grams
    const grams = s.trim.reduce(
      (sum, t) => sum + 5e-4 * Math.abs(setup.trimPoints.find((p) => p.name === t.point)!.yMm),
      0,
    );
    expect(Math.abs(moment.y - s.residual.momentKgMm.y)).toBeLessThanOrEqual(grams + 0.01);
    expect(Math.abs(moment.x - s.residual.momentKgMm.x)).toBeLessThan(0.5 * weights + 0.01);
  });
  test('the slide keeps its ends on the bar: mark and reach move together', () => {
    for (const { setup } of RIGS) {
      const s = solve(parseInput(SolveInput, solveInputOf(setup, LATITUDE)));
      const after = carryOut(setup, s);
      expect(after.slide.markMm - setup.slide.markMm).toBeCloseTo(setup.slide.minMm - after.slide.minMm, 6);
      expect(after.slide.maxMm - after.slide.minMm).toBeCloseTo(setup.slide.maxMm - setup.slide.minMm, 6);
    }
  });
  test('a relocated part leaves its old place free to come back to', () => {
    for (const { setup } of RIGS) {
      const s = solve(parseInput(SolveInput, solveInputOf(setup, LATITUDE)));
      if (!s.moves.length) continue;
      const after = carryOut(setup, s);
      for (const m of s.moves)
        expect(after.relocations.find((r) => r.mass === m.mass)!.to.map((p) => p.name)).toContain('where it was');
    }
  });
});
