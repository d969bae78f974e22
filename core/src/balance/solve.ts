import { z } from 'zod';
import { define, explained, InvalidInput, type Verdict, type WorkingStep } from '../calculation/index.ts';
import { shaftSide, tubeSide } from './assess.ts';
import { BalanceSearch, FEASIBLE_NM, type Arrangement, type SearchResult } from './search.ts';
import { Moment, SolveInput, STANDARD_GRAVITY } from './schemas.ts';

const Trim = z.strictObject({ point: z.string(), massKg: z.number() });
const Move = z.strictObject({ mass: z.string(), to: z.string() });
const Weight = z.strictObject({ massKg: z.number(), distanceMm: z.number() });

export const SolveStep = z.strictObject({
  order: z.int(),
  axis: z.enum(['dec', 'lateral', 'ra']),
  action: z.enum(['move', 'trim', 'slide', 'weights', 'shaft', 'check']),
  text: z.string(),
});
export type SolveStep = z.infer<typeof SolveStep>;

export const SolveOutput = z.strictObject({
  feasible: z.boolean(),
  steps: z.array(SolveStep),
  slideMm: z.number(),
  trim: z.array(Trim),
  moves: z.array(Move),
  counterweights: z.array(Weight),
  residual: z.strictObject({ momentKgMm: Moment, decTorqueNm: z.number(), raTorqueNm: z.number() }),
  obstacles: z.array(z.string()),
  alternatives: z.array(
    z.strictObject({
      slideMm: z.number(),
      trim: z.array(Trim),
      moves: z.array(Move),
      counterweights: z.array(Weight),
      decTorqueNm: z.number(),
      raTorqueNm: z.number(),
      price: z.strictObject({ interventions: z.int(), addedKg: z.number() }),
      text: z.string(),
    }),
  ),
  ...explained,
});
export type SolveOutput = z.input<typeof SolveOutput>;

const mm = (v: number) => `${Math.abs(v).toFixed(Math.abs(v) < 10 ? 1 : 0)} mm`;
const kg = (v: number) => `${v.toFixed(2)} kg`;

function weightChanges(before: number[], after: number[]): { on: number[]; off: number[] } {
  const on = [...after];
  const off: number[] = [];
  for (const w of before) {
    const i = on.findIndex((v) => Math.abs(v - w) < 1e-6);
    if (i >= 0) on.splice(i, 1);
    else off.push(w);
  }
  return { on, off };
}

function stepsOf(input: SolveInput, a: Arrangement): SolveStep[] {
  const steps: Omit<SolveStep, 'order'>[] = [];
  for (const m of a.moves) {
    const mass = input.masses.find((p) => p.name === m.mass)!;
    const to = input.relocations.find((r) => r.mass === m.mass)!.to.find((p) => p.name === m.to)!;
    const sideways = Math.abs(to.yMm - mass.yMm) >= Math.abs(to.zMm - mass.zMm);
    steps.push({ axis: sideways ? 'lateral' : 'dec', action: 'move', text: `Move ${m.mass}: ${m.to}.` });
  }
  for (const t of a.trims)
    steps.push({
      axis: 'lateral',
      action: 'trim',
      text: `Hang ${kg(t.massKg)} at “${input.trimPoints[t.point]!.name}”.`,
    });
  if (Math.abs(a.slideMm) >= 0.05)
    steps.push({
      axis: 'dec',
      action: 'slide',
      text: `Right ascension locked: slide the tube ${mm(a.slideMm)} ${a.slideMm > 0 ? 'forward' : 'back'}.`,
    });
  const { on, off } = weightChanges(
    input.counterweights.map((w) => w.massKg),
    a.pieces,
  );
  if (on.length || off.length) {
    const said = [
      off.length ? `take off ${off.map(kg).join(' and ')}` : '',
      on.length ? `put on ${on.map(kg).join(' and ')}` : '',
    ].filter(Boolean);
    steps.push({
      axis: 'ra',
      action: 'weights',
      text: `Weights, with the end-stop back on at once: ${said.join(', ')}.`,
    });
  }
  const same = input.counterweights.every((w) => Math.abs(w.distanceMm - a.distanceMm) < 0.05);
  if (a.pieces.length && (!same || on.length || off.length))
    steps.push({
      axis: 'ra',
      action: 'shaft',
      text: `Declination locked: set the weights’ common centre at ${a.distanceMm.toFixed(0)} mm from the polar axis.`,
    });
  return steps.map((s, i) => ({ order: i + 1, ...s }));
}

function obstaclesOf(input: SolveInput, a: Arrangement, wantedX: number): string[] {
  const said: string[] = [];
  if (a.decTorqueNm >= FEASIBLE_NM) {
    const m = tubeSide(input.masses).m + a.trims.reduce((s, t) => s + t.massKg, 0);
    if (Math.abs(a.left.z) > 1 && m > 0)
      said.push(
        `The slide ends ${mm(a.left.z / m)} too soon: still ${a.left.z > 0 ? 'front' : 'back'}-heavy by ${(Math.abs(a.left.z) / 10).toFixed(1)} kg·cm. ` +
          `A longer bar, or ${a.left.z > 0 ? 'something moved to the tail' : 'something moved to the nose'}, would do.`,
      );
    if (Math.abs(a.left.y) > 1)
      said.push(
        `Sliding cannot cure the side: ${(Math.abs(a.left.y) / 10).toFixed(1)} kg·cm remain toward ${a.left.y > 0 ? '+y' : '−y'}. ` +
          `${(Math.abs(a.left.y) / 100).toFixed(2)} kg hung 100 mm out on the other side would take it away.`,
      );
  }
  if (a.raTorqueNm >= FEASIBLE_NM) {
    const missing = a.left.x - wantedX;
    const { min, max } = input.shaftRangeMm;
    if (missing > 0)
      said.push(
        `The weights reach only ${max.toFixed(0)} mm: ${max > 0 ? `${kg(missing / max)} more there` : 'a longer shaft'}, or a lighter tube side, is needed.`,
      );
    else
      said.push(
        `The weights cannot come nearer than ${min.toFixed(0)} mm: ${min > 0 ? `${kg(-missing / min)} less` : 'less weight'} is needed.`,
      );
  }
  return said;
}

function verdictOf(found: SearchResult, steps: SolveStep[], obstacles: string[]): Verdict {
  const a = found.best;
  if (!found.feasible)
    return { level: 'bad', text: `No arrangement of what you have balances this rig. ${obstacles[0] ?? ''}`.trim() };
  if (steps.length === 0) return { level: 'good', text: 'Nothing to move: the rig is in balance as it stands.' };
  const left = `Left over: ${a.decTorqueNm.toFixed(2)} N·m in declination, ${a.raTorqueNm.toFixed(2)} N·m in right ascension.`;
  return { level: 'good', text: `${steps.map((s) => s.text.replace(/\.$/, '')).join('; ')}. ${left}` };
}

/** The moves that balance a rig with the fewest interventions, in order. */
export function solve(input: SolveInput): SolveOutput {
  const cosLat = Math.cos((Math.abs(input.latitudeDeg) * Math.PI) / 180);
  if (input.biasNm !== 0 && cosLat < 1e-9)
    throw InvalidInput.at('biasNm', 'at a pole gravity gives right ascension no torque, so no bias can be set');
  const wantedX = input.biasNm === 0 ? 0 : (1000 * input.biasNm) / (STANDARD_GRAVITY * cosLat);
  const found = new BalanceSearch(input).run();
  const a = found.best;
  const weightsOf = (s: Arrangement) =>
    [...s.pieces].sort((p, q) => q - p).map((massKg) => ({ massKg, distanceMm: s.distanceMm }));
  const trimOf = (s: Arrangement) => s.trims.map((t) => ({ point: input.trimPoints[t.point]!.name, massKg: t.massKg }));
  const steps = stepsOf(input, a);
  const obstacles = obstaclesOf(input, a, wantedX);
  const tube = tubeSide(input.masses);
  const shaft = shaftSide([], input.shaft ?? { massKg: 0, centreMm: 0 });
  const working: WorkingStep[] = [
    { label: 'Sideways before', formula: 'My = Σ m·y', value: tube.y, unit: 'kg·mm' },
    { label: 'Fore and aft before', formula: 'Mz = Σ m·z', value: tube.z, unit: 'kg·mm' },
    {
      label: 'Slide',
      formula: 's = −(Σ m·z after moves and trims)/Σ m, within the slide',
      value: a.slideMm,
      unit: 'mm',
      source: 'textbook statics',
    },
    {
      label: 'Shaft',
      formula: 'd = (Σ m·x − m_shaft·c − wanted x)/Σ m_w, within the shaft',
      value: a.distanceMm,
      unit: 'mm',
      source: 'textbook statics',
    },
    { label: 'Bare shaft', formula: 'm_shaft·c', value: shaft, unit: 'kg·mm' },
    { label: 'Wanted excess', formula: 'x = 1000·bias/(g·cos|φ|)', value: wantedX, unit: 'kg·mm' },
    ...(found.capped
      ? [
          {
            label: 'Search',
            formula: 'too many combinations: the larger ones were left out',
            value: 'cut short',
            unit: '',
          },
        ]
      : []),
  ];
  return {
    feasible: found.feasible,
    steps,
    slideMm: a.slideMm,
    trim: trimOf(a),
    moves: a.moves,
    counterweights: weightsOf(a),
    residual: { momentKgMm: a.left, decTorqueNm: a.decTorqueNm, raTorqueNm: a.raTorqueNm },
    obstacles,
    alternatives: found.alternatives.map((s) => ({
      slideMm: s.slideMm,
      trim: trimOf(s),
      moves: s.moves,
      counterweights: weightsOf(s),
      decTorqueNm: s.decTorqueNm,
      raTorqueNm: s.raTorqueNm,
      price: { interventions: s.interventions, addedKg: s.addedKg },
      text: stepsOf(input, s)
        .map((t) => t.text)
        .join(' '),
    })),
    working,
    verdict: verdictOf(found, steps, obstacles),
  };
}

export const balanceSolve = define({
  name: 'balance.solve',
  summary: 'The moves, in order, that balance the rig with what is at hand',
  sources: ['Textbook statics', 'Order of preferences and the 0.05 N·m limit: common practice, no source'],
  input: SolveInput,
  output: SolveOutput,
  compute: solve,
});
