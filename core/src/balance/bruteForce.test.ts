import { describe, expect, test } from '@jest/globals';
import { Matrix, solve as solveLinear, SingularValueDecomposition } from 'ml-matrix';
import { parseInput } from '../calculation/index.ts';
import { seeded } from '../statistics/index.ts';
import { SolveInput, STANDARD_GRAVITY, type TrimPoint } from './schemas.ts';
import { solve, type SolveOutput } from './solve.ts';
import { rounds } from '../test/rounds.ts';

/**
 * The solver against plain enumeration: every move, turn, set of weights and set of trim points one by one. Masses on the
 * points are found at the corners of what the constraints allow, by solving every square system of them, without a
 * linear program.
 */
const LIMIT_NM = 0.05;
type Rig = SolveInput;

interface Choice {
  m: number;
  x: number;
  y: number;
  z: number;
  interventions: number;
  weightKg: number;
}

function* powerSet(n: number): Generator<number[]> {
  for (let bits = 0; bits < 1 << n; bits++) yield Array.from({ length: n }, (_, i) => i).filter((i) => bits & (1 << i));
}

/** Everything that can be chosen, without the trims. */
function choices(r: Rig): Choice[] {
  let sets: { masses: Map<string, { x: number; y: number; z: number }>; moved: number }[] = [
    { masses: new Map(), moved: 0 },
  ];
  for (const relocation of r.relocations)
    sets = sets.flatMap((s) => [
      s,
      ...relocation.to.map((p) => ({
        masses: new Map(s.masses).set(relocation.mass, { x: p.xMm, y: p.yMm, z: p.zMm }),
        moved: s.moved + 1,
      })),
    ]);
  const turns = [0];
  if (r.ringTurn)
    for (let a = r.ringTurn.minDeg + r.ringTurn.stepDeg; a <= r.ringTurn.maxDeg; a += r.ringTurn.stepDeg)
      if (a !== 0) turns.push(a);
  const owned = r.counterweightStock.length
    ? r.counterweightStock
    : [...new Set(r.counterweights.map((w) => w.massKg))].map((massKg) => ({ massKg, count: -1 }));
  const now = (kg: number) => r.counterweights.filter((w) => Math.abs(w.massKg - kg) < 1e-9).length;
  let weights = [{ kg: 0, changes: 0 }];
  for (const { massKg, count } of owned) {
    const numbers = count < 0 ? [now(massKg)] : Array.from({ length: Math.max(count, now(massKg)) + 1 }, (_, n) => n);
    weights = weights.flatMap((w) =>
      numbers.map((n) => ({ kg: w.kg + n * massKg, changes: w.changes + Math.abs(n - now(massKg)) })),
    );
  }
  const all: Choice[] = [];
  for (const s of sets)
    for (const turn of turns) {
      let [m, x, y, z] = [0, 0, 0, 0];
      for (const mass of r.masses) {
        const at = s.masses.get(mass.name) ?? { x: mass.xMm, y: mass.yMm, z: mass.zMm };
        let [px, py] = [at.x, at.y];
        if (turn !== 0 && r.ringTurn!.masses.includes(mass.name)) {
          const a = (turn * Math.PI) / 180;
          const [u, v] = [px - r.ringTurn!.axisXMm, py - r.ringTurn!.axisYMm];
          [px, py] = [
            r.ringTurn!.axisXMm + u * Math.cos(a) - v * Math.sin(a),
            r.ringTurn!.axisYMm + u * Math.sin(a) + v * Math.cos(a),
          ];
        }
        [m, x, y, z] = [m + mass.massKg, x + mass.massKg * px, y + mass.massKg * py, z + mass.massKg * at.z];
      }
      for (const w of weights)
        all.push({ m, x, y, z, interventions: s.moved + (turn ? 1 : 0) + w.changes, weightKg: w.kg });
    }
  return all;
}

const raPerMoment = (r: Rig) => (STANDARD_GRAVITY * Math.cos((Math.abs(r.latitudeDeg) * Math.PI) / 180)) / 1000;

/** Torques that masses on points leave, slide and shaft at their best. */
function torques(
  r: Rig,
  c: Choice,
  points: readonly TrimPoint[],
  masses: readonly number[],
): { dec: number; ra: number } {
  const sum = (of: (p: TrimPoint) => number) => points.reduce((s, p, i) => s + masses[i]! * of(p), 0);
  const [m, x, y, z] = [c.m + sum(() => 1), c.x + sum((p) => p.xMm), c.y + sum((p) => p.yMm), c.z + sum((p) => p.zMm)];
  const slide = Math.min(r.slide.maxMm, Math.max(r.slide.minMm, -z / m));
  const held = c.weightKg > 0 ? Math.min(r.shaftRangeMm.max, Math.max(r.shaftRangeMm.min, x / c.weightKg)) : 0;
  return {
    dec: (STANDARD_GRAVITY * Math.hypot(y, z + m * slide)) / 1000,
    ra: raPerMoment(r) * Math.abs(x - c.weightKg * held),
  };
}

/** Least trim that leaves nothing on either axis, at the corners of the allowed masses; null when there is none. */
function leastExactKg(r: Rig, c: Choice, points: readonly TrimPoint[]): number | null {
  const n = points.length;
  // rows a·m ≤ b, and the one equality y = 0
  const rows: { a: number[]; b: number }[] = [];
  points.forEach((p, i) => {
    const unit = points.map((_, k) => (k === i ? 1 : 0));
    rows.push({ a: unit, b: p.maxMassKg }, { a: unit.map((v) => -v), b: 0 });
  });
  rows.push({ a: points.map((p) => p.zMm + r.slide.minMm), b: -(c.z + c.m * r.slide.minMm) });
  rows.push({ a: points.map((p) => -(p.zMm + r.slide.maxMm)), b: c.z + c.m * r.slide.maxMm });
  rows.push({ a: points.map((p) => p.xMm), b: c.weightKg * r.shaftRangeMm.max - c.x });
  rows.push({ a: points.map((p) => -p.xMm), b: c.x - c.weightKg * r.shaftRangeMm.min });
  const equal = { a: points.map((p) => p.yMm), b: -c.y };
  const holds = (m: readonly number[]) =>
    Math.abs(equal.a.reduce((s, v, i) => s + v * m[i]!, 0) - equal.b) < 1e-6 &&
    rows.every((row) => row.a.reduce((s, v, i) => s + v * m[i]!, 0) <= row.b + 1e-6);
  if (n === 0) return holds([]) ? 0 : null;
  let least: number | null = null;
  const corner = (active: number[]) => {
    const a = new Matrix([equal.a, ...active.map((i) => rows[i]!.a)]);
    if (new SingularValueDecomposition(a).condition > 1e10) return;
    const got = solveLinear(a, Matrix.columnVector([equal.b, ...active.map((i) => rows[i]!.b)])).to1DArray();
    if (holds(got))
      least = Math.min(
        least ?? Infinity,
        got.reduce((s, v) => s + v, 0),
      );
  };
  const choose = (from: number, active: number[]) => {
    if (active.length === n - 1) return corner(active);
    for (let i = from; i < rows.length; i++) choose(i + 1, [...active, i]);
  };
  choose(0, []);
  return least;
}

interface Least {
  interventions: number;
  addedKg: number;
}
/** Fewest interventions, then least mass, of everything that leaves nothing. */
function reference(r: Rig): Least | null {
  const before = r.counterweights.reduce((s, w) => s + w.massKg, 0);
  let best: Least | null = null;
  for (const c of choices(r))
    for (const set of powerSet(r.trimPoints.length)) {
      const interventions = c.interventions + set.length;
      if (best && interventions > best.interventions) continue;
      const kg = leastExactKg(
        r,
        c,
        set.map((i) => r.trimPoints[i]!),
      );
      if (kg === null) continue;
      const addedKg = kg + c.weightKg - before;
      if (!best || interventions < best.interventions || addedKg < best.addedKg) best = { interventions, addedKg };
    }
  return best;
}

const sumOf = (t: { dec: number; ra: number }) => t.dec + t.ra;
/** Least torque over one choice, by golden section within golden section: the torque is convex in the masses. */
function leastNm(r: Rig, c: Choice): number {
  const points = r.trimPoints;
  const inner = (fixed: number[]): number => {
    if (fixed.length === points.length) return sumOf(torques(r, c, points, fixed));
    let [a, b] = [0, points[fixed.length]!.maxMassKg];
    const k = (Math.sqrt(5) - 1) / 2;
    for (let i = 0; i < 36; i++) {
      const [l, h] = [b - k * (b - a), a + k * (b - a)];
      if (inner([...fixed, l]) < inner([...fixed, h])) b = h;
      else a = l;
    }
    return Math.min(inner([...fixed, (a + b) / 2]));
  };
  return inner([]);
}

function randomRig(seed: number, short: boolean): Rig {
  const random = seeded(seed);
  const u = (low: number, high: number) => low + (high - low) * random.next();
  const whole = (n: number) => Math.floor(random.next() * n);
  const at = () => ({ xMm: Math.round(u(60, 260)), yMm: Math.round(u(-110, 110)), zMm: Math.round(u(-200, 200)) });
  const masses = [
    { name: 'tube', massKg: u(3, 9), xMm: Math.round(u(120, 220)), yMm: 0, zMm: Math.round(u(-40, 40)) },
    ...Array.from({ length: 1 + whole(2) }, (_, i) => ({ name: `part ${i}`, massKg: u(0.2, 1.4), ...at() })),
  ];
  const points = Array.from({ length: whole(short ? 3 : 4) }, (_, i) => ({
    name: `point ${i}`,
    maxMassKg: u(0.2, short ? 0.4 : 2),
    ...at(),
  }));
  const heavy = masses.reduce((s, m) => s + m.massKg * m.xMm, 0);
  const kg = Math.round((heavy / 220) * (short ? u(0.3, 1.6) : u(0.8, 1.2)) * 4) / 4;
  return parseInput(SolveInput, {
    masses,
    counterweights: [{ massKg: Math.max(0.25, kg), distanceMm: 200 }],
    latitudeDeg: u(-60, 60),
    slide: { minMm: -u(2, 40), maxMm: u(2, 40) },
    shaftRangeMm: { min: Math.round(u(60, 180)), max: Math.round(u(200, 340)) },
    trimPoints: points,
    ...(random.next() < 0.5
      ? {
          counterweightStock: [
            { massKg: Math.max(0.25, kg), count: 1 },
            { massKg: 0.5, count: 2 },
          ],
        }
      : {}),
    ...(random.next() < 0.5
      ? {
          relocations: [
            {
              mass: 'part 0',
              to: [
                { name: 'here', ...at() },
                { name: 'there', ...at() },
              ],
            },
          ],
        }
      : {}),
    ...(random.next() < 0.4 ? { ringTurn: { axisXMm: 180, masses: masses.map((m) => m.name), stepDeg: 60 } } : {}),
  });
}

/** What the answer says of itself, worked out again from what it moves. */
function again(r: Rig, o: SolveOutput): { dec: number; ra: number; interventions: number; addedKg: number } {
  const kg = o.counterweights.reduce((s, w) => s + w.massKg, 0);
  let [m, x, y, z] = [0, 0, 0, 0];
  const add = (massKg: number, px: number, py: number, pz: number) =>
    ([m, x, y, z] = [m + massKg, x + massKg * px, y + massKg * py, z + massKg * pz]);
  for (const mass of r.masses) {
    const to = o.moves.find((v) => v.mass === mass.name);
    const p = to ? r.relocations.find((v) => v.mass === mass.name)!.to.find((q) => q.name === to.to)! : mass;
    let [px, py] = [p.xMm, p.yMm];
    if (o.turnDeg && r.ringTurn!.masses.includes(mass.name)) {
      const a = (o.turnDeg * Math.PI) / 180;
      const [u, v] = [px - r.ringTurn!.axisXMm, py - r.ringTurn!.axisYMm];
      [px, py] = [
        r.ringTurn!.axisXMm + u * Math.cos(a) - v * Math.sin(a),
        r.ringTurn!.axisYMm + u * Math.sin(a) + v * Math.cos(a),
      ];
    }
    add(mass.massKg, px, py, p.zMm);
  }
  for (const t of o.trim) {
    const p = r.trimPoints.find((q) => q.name === t.point)!;
    add(t.massKg, p.xMm, p.yMm, p.zMm);
  }
  const weights = o.counterweights.reduce((s, w) => s + w.massKg * w.distanceMm, 0);
  const [before, after] = [r.counterweights.map((w) => w.massKg), o.counterweights.map((w) => w.massKg)];
  const kept = before.filter((w) => after.some((v, i) => Math.abs(v - w) < 1e-6 && after.splice(i, 1))).length;
  return {
    dec: (STANDARD_GRAVITY * Math.hypot(y, z + m * o.slideMm)) / 1000,
    ra: raPerMoment(r) * Math.abs(x - weights),
    interventions: o.moves.length + o.trim.length + (o.turnDeg ? 1 : 0) + (before.length - kept) + after.length,
    addedKg: o.trim.reduce((s, t) => s + t.massKg, 0) + kg - before.reduce((s, w) => s + w, 0),
  };
}

describe('on random rigs the solver is not beaten by enumeration', () => {
  test('it finds what balances, with no more interventions and no more mass, and its residuals are true', () => {
    let [balanced, beyond] = [0, 0];
    for (let seed = 1; seed <= rounds(30, 90); seed++) {
      const r = randomRig(seed, false);
      const o = solve(r);
      expect(o.cutShort).toBe(false);
      const own = again(r, o);
      expect(Math.abs(own.dec - o.residual.decTorqueNm)).toBeLessThan(1e-6);
      expect(Math.abs(own.ra - o.residual.raTorqueNm)).toBeLessThan(1e-6);
      expect(o.feasible).toBe(own.dec < LIMIT_NM && own.ra < LIMIT_NM);
      const exact = reference(r);
      if (!exact) {
        beyond++;
        continue;
      }
      balanced++;
      expect([seed, o.feasible]).toEqual([seed, true]);
      expect(own.interventions).toBeLessThanOrEqual(exact.interventions);
      // fewer interventions, or the same and no heavier
      if (own.interventions === exact.interventions) expect(own.addedKg).toBeLessThanOrEqual(exact.addedKg + 1e-5);
    }
    expect([balanced > rounds(8, 20), beyond > rounds(2, 8)]).toEqual([true, true]);
  }, 120_000);
  test('where nothing balances it leaves the least torque there is', () => {
    let none = 0;
    for (let seed = 1000; seed <= 1000 + rounds(16, 40); seed++) {
      const r = randomRig(seed, true);
      const o = solve(r);
      if (o.feasible) continue;
      none++;
      const least = Math.min(...choices(r).map((c) => leastNm(r, c)));
      const own = o.residual.decTorqueNm + o.residual.raTorqueNm;
      expect([seed, own]).toEqual([seed, expect.closeTo(least, 4)]);
    }
    expect(none).toBeGreaterThan(rounds(3, 12));
  }, 120_000);
  test('the pair left and right of the tube, the saddle alone, and three points', () => {
    const base = {
      masses: [{ name: 'tube', massKg: 4, xMm: 200, yMm: 0, zMm: 0 }],
      counterweights: [{ massKg: 5, distanceMm: 200 }],
      latitudeDeg: 47,
      slide: { minMm: -50, maxMm: 50 },
      shaftRangeMm: { min: 170, max: 300 },
    };
    const point = (name: string, yMm: number, zMm = 0) => ({ name, xMm: 200, yMm, zMm, maxMassKg: 1 });
    const saddle = solve(parseInput(SolveInput, { ...base, trimPoints: [point('saddle', 0)] }));
    expect([saddle.feasible, saddle.trim[0]!.massKg]).toEqual([true, expect.closeTo(0.25, 6)]);
    const pair = solve(parseInput(SolveInput, { ...base, trimPoints: [point('left', 80), point('right', -80)] }));
    expect(pair.trim.map((t) => t.massKg)).toEqual([expect.closeTo(0.125, 6), expect.closeTo(0.125, 6)]);
  });
});
