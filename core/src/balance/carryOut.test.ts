import { describe, expect, test } from '@jest/globals';
import { RIGS } from '../../../demo/src/rigs.ts';
import { parseInput } from '../calculation/index.ts';
import { ridesOf, viewOf, type RigSetup } from '../rig/index.ts';
import { assess, tubeSide } from './assess.ts';
import { carryOut, slideTube } from './carryOut.ts';
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
  test('slid by hand it goes as far as its ends let it, and back again', () => {
    const setup = structuredClone(RIGS[0]!.setup);
    const [before, { minMm, maxMm }] = [structuredClone(setup), setup.slide];
    slideTube(setup, 1e6);
    expect(setup.slide.maxMm).toBe(0);
    setup.placed.forEach((p, i) => expect(p.zMm - before.placed[i]!.zMm).toBeCloseTo(maxMm, 6));
    slideTube(setup, -1e6);
    setup.placed.forEach((p, i) => expect(p.zMm - before.placed[i]!.zMm).toBeCloseTo(minMm, 6));
    slideTube(setup, -minMm);
    expect(setup).toEqual(before);
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

describe('the tube turned in its rings', () => {
  /** A tube whose focuser and camera stand to one side, with too little weight for any other cure. */
  const side = (): RigSetup => {
    const setup = structuredClone(viewOf(RIGS.find((r) => r.key === 'newtonian')!.build));
    const tube = setup.placed.find((p) => p.kind === 'tube')!;
    for (const p of setup.placed) if (ridesOf(p) === 'bar') p.yMm = 0;
    for (const p of setup.placed) if (ridesOf(p) === 'tube') [p.xMm, p.yMm] = [tube.xMm, p === tube ? 0 : 150];
    return { ...setup, trimPoints: [], trimStockKg: [], relocations: [], saddle: undefined } as RigSetup;
  };
  test('is proposed where it balances, carried out, and then nothing is left to do', () => {
    const setup = side();
    const first = solve(
      parseInput(SolveInput, {
        ...solveInputOf(setup, 47),
        shaftRangeMm: { min: 20, max: 600 },
        slide: { minMm: -400, maxMm: 400 },
      }),
    );
    expect([first.feasible, Math.abs(first.turnDeg)]).toEqual([true, 90]);
    expect(first.steps.map((s) => s.action)).toContain('turn');
    expect(first.steps.find((s) => s.action === 'turn')!.text).toMatch(
      /Turn the tube in its rings by \S*90\s?° until .* is (above|below)/,
    );
    const after = carryOut(setup, first);
    expect(Math.abs(tubeSide(after.placed).y)).toBeLessThan(5);
    // what rides on the bar stayed, and nothing changed its distance from the tube's line
    const tube = (s: RigSetup) => s.placed.find((p) => p.kind === 'tube')!;
    const away = (s: RigSetup) => s.placed.map((p) => Math.hypot(p.xMm - tube(s).xMm, p.yMm - tube(s).yMm));
    away(after).forEach((d, i) => expect(d).toBeCloseTo(away(setup)[i]!, 1));
    for (const [i, p] of after.placed.entries())
      if (ridesOf(p) === 'bar') expect([p.xMm, p.yMm]).toEqual([setup.placed[i]!.xMm, setup.placed[i]!.yMm]);
  });
  test('is not thought of where nothing stands aside, or no rings hold the tube', () => {
    const setup = side();
    expect(solveInputOf(setup, 47).ringTurn).toBeDefined();
    expect(
      solveInputOf({ ...setup, placed: setup.placed.filter((p) => p.kind !== 'rings') }, 47).ringTurn,
    ).toBeUndefined();
    for (const p of setup.placed) [p.xMm, p.yMm] = [setup.placed.find((q) => q.kind === 'tube')!.xMm, 0];
    expect(solveInputOf(setup, 47).ringTurn).toBeUndefined();
    expect(ridesOf({ kind: 'camera', rides: 'bar' })).toBe('bar');
  });
});
