import { z } from 'zod';
import {
  define,
  explained,
  InvalidInput,
  PhraseSchema,
  type SpokenVerdict,
  type WorkingStep,
} from '../calculation/index.ts';
import { makeVerdict, phrase, words, type Phrase } from '../phrases/index.ts';
import { shaftSide, tubeSide } from './assess.ts';
import type { Arrangement } from './arrangement.ts';
import { FEASIBLE_NM } from './limits.ts';
import { BalanceSearch, type SearchResult } from './search.ts';
import { Moment, SolveInput, STANDARD_GRAVITY } from './schemas.ts';

const Trim = z.strictObject({ point: z.string(), massKg: z.number() });
const Move = z.strictObject({ mass: z.string(), to: z.string() });
const Weight = z.strictObject({ massKg: z.number(), distanceMm: z.number() });

export const SolveStep = z.strictObject({
  order: z.int(),
  axis: z.enum(['dec', 'lateral', 'ra']),
  action: z.enum(['move', 'turn', 'trim', 'slide', 'weights', 'shaft', 'check']),
  text: z.string(),
  phrases: PhraseSchema.optional(),
});
export type SolveStep = z.infer<typeof SolveStep>;

export const SolveOutput = z.strictObject({
  feasible: z.boolean(),
  steps: z.array(SolveStep),
  slideMm: z.number(),
  trim: z.array(Trim),
  moves: z.array(Move),
  /** Turn of the tube in its rings, +x towards +y [deg]; 0 when it is not turned. */
  turnDeg: z.number(),
  counterweights: z.array(Weight),
  residual: z.strictObject({ momentKgMm: Moment, decTorqueNm: z.number(), raTorqueNm: z.number() }),
  obstacles: z.array(z.string()),
  /** The obstacles as codes and values. */
  obstaclePhrases: z.array(PhraseSchema),
  /** Too many combinations: the larger ones were left out. */
  cutShort: z.boolean(),
  alternatives: z.array(
    z.strictObject({
      slideMm: z.number(),
      trim: z.array(Trim),
      moves: z.array(Move),
      turnDeg: z.number(),
      counterweights: z.array(Weight),
      decTorqueNm: z.number(),
      raTorqueNm: z.number(),
      price: z.strictObject({ interventions: z.int(), addedKg: z.number() }),
      text: z.string(),
      /** The text as codes and values. */
      phrases: z.array(PhraseSchema),
    }),
  ),
  ...explained,
});
export type SolveOutput = z.input<typeof SolveOutput>;

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

/** What stands farthest to one side by its moment, and on which side of the tube the turn brings it. */
function farthestAside(input: SolveInput, a: Arrangement): { name: string; side: string } {
  const { axisXMm, axisYMm, masses } = input.ringTurn!;
  const rad = (a.turnDeg * Math.PI) / 180;
  const turning = input.masses
    .filter((m) => masses.includes(m.name))
    .map((m) => {
      const move = a.moves.find((v) => v.mass === m.name);
      const at = move ? input.relocations.find((r) => r.mass === m.name)!.to.find((p) => p.name === move.to)! : m;
      const [u, v] = [at.xMm - axisXMm, at.yMm - axisYMm];
      return {
        name: m.name,
        moment: m.massKg * Math.hypot(u, v),
        x: u * Math.cos(rad) - v * Math.sin(rad),
        y: u * Math.sin(rad) + v * Math.cos(rad),
      };
    })
    .sort((p, q) => q.moment - p.moment);
  const { name, x, y } = turning[0]!;
  const parts = [
    Math.abs(x) > 0.38 * Math.hypot(x, y) ? (x > 0 ? 'above' : 'below') : '',
    Math.abs(y) > 0.38 * Math.hypot(x, y) ? `on the ${y > 0 ? '+y' : '−y'} side` : '',
  ];
  return { name, side: parts.filter(Boolean).join(', ') };
}

function stepsOf(input: SolveInput, a: Arrangement): SolveStep[] {
  const steps: Omit<SolveStep, 'order' | 'text'>[] = [];
  for (const m of a.moves) {
    const mass = input.masses.find((p) => p.name === m.mass)!;
    const to = input.relocations.find((r) => r.mass === m.mass)!.to.find((p) => p.name === m.to)!;
    const sideways = Math.abs(to.yMm - mass.yMm) >= Math.abs(to.zMm - mass.zMm);
    steps.push({
      axis: sideways ? 'lateral' : 'dec',
      action: 'move',
      phrases: phrase('balance.step-move', { name: m.mass, place: m.to }),
    });
  }
  const turned = a.turnDeg === 0 ? null : farthestAside(input, a);
  if (turned)
    steps.push({
      axis: 'lateral',
      action: 'turn',
      phrases: phrase('balance.step-turn', { turnDeg: a.turnDeg, name: turned.name, side: turned.side }),
    });
  for (const t of a.trims)
    steps.push({
      axis: 'lateral',
      action: 'trim',
      phrases: phrase('balance.step-trim', { massKg: t.massKg, place: input.trimPoints[t.point]!.name }),
    });
  if (Math.abs(a.slideMm) >= 0.05)
    steps.push({
      axis: 'dec',
      action: 'slide',
      phrases: phrase(`balance.step-${a.slideMm > 0 ? 'forward' : 'back'}${Math.abs(a.slideMm) < 10 ? '-fine' : ''}`, {
        slideMm: Math.abs(a.slideMm),
      }),
    });
  const { on, off } = weightChanges(
    input.counterweights.map((w) => w.massKg),
    a.pieces,
  );
  if (on.length || off.length) {
    const changes = [
      ...off.map((massKg) => ({ code: 'balance.take-off', values: { massKg } })),
      ...on.map((massKg) => ({ code: 'balance.put-on', values: { massKg } })),
    ];
    steps.push({ axis: 'ra', action: 'weights', phrases: phrase('balance.step-weights', { changes }) });
  }
  const same = input.counterweights.every((w) => Math.abs(w.distanceMm - a.distanceMm) < 0.05);
  if (a.pieces.length && (!same || on.length || off.length))
    steps.push({
      axis: 'ra',
      action: 'shaft',
      phrases: phrase('balance.step-shaft', { distanceMm: a.distanceMm }),
    });
  return steps.map((s, i) => ({ order: i + 1, ...s, text: words(s.phrases!) }));
}

/** How far out a curing weight is thought to hang where its worth is told [mm]. */
const ARM_MM = 100;

function obstaclesOf(input: SolveInput, a: Arrangement, wantedX: number): Phrase[] {
  const phrases: Phrase[] = [];
  if (a.decTorqueNm >= FEASIBLE_NM) {
    const m = tubeSide(input.masses).m + a.trims.reduce((s, t) => s + t.massKg, 0);
    if (Math.abs(a.left.z) > 1 && m > 0)
      phrases.push(
        phrase(a.left.z > 0 ? 'balance.slide-ends-front' : 'balance.slide-ends-back', {
          missingMm: Math.abs(a.left.z / m),
          momentKgCm: Math.abs(a.left.z) / 10,
        }),
      );
    if (Math.abs(a.left.y) > 1)
      phrases.push(
        phrase('balance.side-remains', {
          momentKgCm: Math.abs(a.left.y) / 10,
          side: a.left.y > 0 ? '+y' : '−y',
          massKg: Math.abs(a.left.y) / ARM_MM,
          armMm: ARM_MM,
        }),
      );
  }
  if (a.raTorqueNm >= FEASIBLE_NM) {
    const missing = a.left.x - wantedX;
    const { min, max } = input.shaftRangeMm;
    if (missing > 0)
      phrases.push(
        max > 0
          ? phrase('balance.weights-short', { reachMm: max, massKg: missing / max })
          : phrase('balance.shaft-short', { reachMm: max }),
      );
    else
      phrases.push(
        min > 0
          ? phrase('balance.weights-near', { reachMm: min, massKg: -missing / min })
          : phrase('balance.weights-too-heavy', { reachMm: min }),
      );
  }
  return phrases;
}

function verdictOf(found: SearchResult, steps: SolveStep[], obstacles: Phrase[]): SpokenVerdict {
  const a = found.best;
  if (!found.feasible)
    return makeVerdict(
      'bad',
      phrase(found.capped ? 'balance.none-looked-at' : 'balance.none'),
      ...obstacles.slice(0, 1),
    );
  if (steps.length === 0) return makeVerdict('good', phrase('balance.nothing'));
  return makeVerdict(
    'good',
    ...steps.flatMap((s) => (s.phrases ? [s.phrases] : [])),
    phrase('balance.left-over', { decNm: a.decTorqueNm, raNm: a.raTorqueNm }),
  );
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
    turnDeg: a.turnDeg,
    counterweights: weightsOf(a),
    residual: { momentKgMm: a.left, decTorqueNm: a.decTorqueNm, raTorqueNm: a.raTorqueNm },
    obstacles: obstacles.map((o) => words(o)),
    obstaclePhrases: obstacles,
    cutShort: found.capped,
    alternatives: found.alternatives.map((s) => {
      const ways = stepsOf(input, s);
      return {
        slideMm: s.slideMm,
        trim: trimOf(s),
        moves: s.moves,
        turnDeg: s.turnDeg,
        counterweights: weightsOf(s),
        decTorqueNm: s.decTorqueNm,
        raTorqueNm: s.raTorqueNm,
        price: { interventions: s.interventions, addedKg: s.addedKg },
        text: ways.map((t) => t.text).join(' '),
        phrases: ways.flatMap((t) => (t.phrases ? [t.phrases] : [])),
      };
    }),
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
