import { z } from 'zod';
import { define, explained, type WorkingStep, type SpokenVerdict } from '../calculation/index.ts';
import { makeVerdict, phrase, type Phrase, type PlainPhrase } from '../phrases/index.ts';
import { BAD_NM, FEASIBLE_NM, loadLevel } from './limits.ts';
import { AssessInput, EVEN_KGMM, Moment, STANDARD_GRAVITY, type Counterweight, type Mass } from './schemas.ts';

const side = (low: string, high: string) => z.enum([high, low, 'even']);

export const AssessOutput = z.strictObject({
  tubeMassKg: z.number(),
  counterweightMassKg: z.number(),
  centreOfMassMm: z.strictObject({ x: z.number(), y: z.number(), z: z.number() }).nullable(),
  momentKgMm: Moment,
  decTorqueMaxNm: z.number(),
  raTorqueMaxNm: z.number(),
  raTorqueWorstNm: z.number(),
  heavySide: z.strictObject({
    ra: side('counterweight', 'tube'),
    dec: side('back', 'front'),
    lateral: side('-y', '+y'),
  }),
  loadFraction: z.number().optional(),
  inertiaKgM2: z.strictObject({ ra: z.number(), dec: z.number() }),
  ...explained,
});
export type AssessOutput = z.infer<typeof AssessOutput>;

/** First moments of the tube side [kg, kg·mm]. */
export function tubeSide(masses: readonly Mass[]) {
  let m = 0;
  let x = 0;
  let y = 0;
  let z = 0;
  for (const p of masses) {
    m += p.massKg;
    x += p.massKg * p.xMm;
    y += p.massKg * p.yMm;
    z += p.massKg * p.zMm;
  }
  return { m, x, y, z };
}

/** Moment of weights and shaft about the polar axis [kg·mm], positive away from the tube. */
export const shaftSide = (weights: readonly Counterweight[], shaft: { massKg: number; centreMm: number }) =>
  weights.reduce((s, w) => s + w.massKg * w.distanceMm, 0) + shaft.massKg * shaft.centreMm;

const heavy = (v: number, positive: string, negative: string) =>
  Math.abs(v) < EVEN_KGMM ? 'even' : v > 0 ? positive : negative;

/** Where it is heavy, as phrases of one sentence; moments in kg·cm, the unit people speak in. */
function heavyParts(moment: Moment): PlainPhrase[] {
  const part = (code: string, kgMm: number): PlainPhrase => ({ code, values: { momentKgCm: Math.abs(kgMm) / 10 } });
  const parts: PlainPhrase[] = [];
  if (Math.abs(moment.z) >= EVEN_KGMM)
    parts.push(part(moment.z > 0 ? 'balance.front-heavy' : 'balance.back-heavy', moment.z));
  if (Math.abs(moment.y) >= EVEN_KGMM) parts.push(part('balance.side-heavy', moment.y));
  if (Math.abs(moment.x) >= EVEN_KGMM)
    parts.push(part(moment.x > 0 ? 'balance.tube-heavy' : 'balance.weights-heavy', moment.x));
  return parts;
}
/** Where a rig is heavy, as one phrase. */
export function heaviness(moment: Moment): Phrase {
  const parts = heavyParts(moment);
  return parts.length ? phrase('balance.heavy', { parts }) : phrase('balance.even');
}

function verdictOf(moment: Moment, dec: number, ra: number, load: number | undefined): SpokenVerdict {
  const loadSays = loadLevel(load ?? 0);
  const overload = loadSays === 'bad';
  const worst = Math.max(dec, ra);
  const level =
    overload || worst >= BAD_NM ? 'bad' : worst >= FEASIBLE_NM || loadSays === 'caution' ? 'caution' : 'good';
  const loaded =
    load === undefined
      ? []
      : [phrase(overload ? 'balance.overload' : 'balance.load', { loadPercent: Math.round(load * 100) })];
  return makeVerdict(level, heaviness(moment), ...loaded);
}

/** Moments, torques, heavy sides and inertia of a rig as it stands. Textbook statics. */
export function assess(input: AssessInput): z.input<typeof AssessOutput> {
  const { masses, counterweights, latitudeDeg, ratedLoadKg } = input;
  const shaft = input.shaft ?? { massKg: 0, centreMm: 0 };
  const tube = tubeSide(masses);
  const moment = { x: tube.x - shaftSide(counterweights, shaft), y: tube.y, z: tube.z };
  const g = STANDARD_GRAVITY;
  const cosLat = Math.cos((Math.abs(latitudeDeg) * Math.PI) / 180);
  const decTorqueMaxNm = (g * Math.hypot(moment.y, moment.z)) / 1000;
  const raTorqueMaxNm = (g * cosLat * Math.abs(moment.x)) / 1000;
  const raTorqueWorstNm = (g * cosLat * Math.hypot(moment.x, moment.y, moment.z)) / 1000;
  const counterweightMassKg = counterweights.reduce((s, w) => s + w.massKg, 0);
  const loadFraction = ratedLoadKg === undefined ? undefined : tube.m / ratedLoadKg;
  const sum = (f: (m: Mass) => number) => masses.reduce((s, m) => s + m.massKg * f(m), 0) * 1e-6;
  const inertiaKgM2 = {
    dec: sum((m) => m.yMm ** 2 + m.zMm ** 2),
    ra:
      sum((m) => m.xMm ** 2 + m.yMm ** 2) +
      (counterweights.reduce((s, w) => s + w.massKg * w.distanceMm ** 2, 0) + shaft.massKg * shaft.centreMm ** 2) *
        1e-6,
  };
  const working: WorkingStep[] = [
    { label: 'Fore and aft moment', formula: 'Mz = Σ m·z', value: moment.z, unit: 'kg·mm' },
    { label: 'Sideways moment', formula: 'My = Σ m·y', value: moment.y, unit: 'kg·mm' },
    { label: 'Tube against weights', formula: 'Mx = Σ m·x − Σ m_w·d − m_shaft·c', value: moment.x, unit: 'kg·mm' },
    {
      label: 'Greatest declination torque',
      formula: 'g·√(My² + Mz²)/1000',
      value: decTorqueMaxNm,
      unit: 'N·m',
      source: 'textbook statics',
    },
    {
      label: 'Right-ascension torque the weights can cure',
      formula: 'g·cos|φ|·|Mx|/1000',
      value: raTorqueMaxNm,
      unit: 'N·m',
      source: 'textbook statics',
    },
    {
      label: 'Greatest right-ascension torque over the sky',
      formula: 'g·cos|φ|·√(Mx² + My² + Mz²)/1000',
      value: raTorqueWorstNm,
      unit: 'N·m',
      source: 'textbook statics',
    },
  ];
  return {
    tubeMassKg: tube.m,
    counterweightMassKg,
    centreOfMassMm: tube.m > 0 ? { x: tube.x / tube.m, y: tube.y / tube.m, z: tube.z / tube.m } : null,
    momentKgMm: moment,
    decTorqueMaxNm,
    raTorqueMaxNm,
    raTorqueWorstNm,
    heavySide: {
      ra: heavy(moment.x, 'tube', 'counterweight'),
      dec: heavy(moment.z, 'front', 'back'),
      lateral: heavy(moment.y, '+y', '-y'),
    },
    ...(loadFraction === undefined ? {} : { loadFraction }),
    inertiaKgM2,
    working,
    verdict: verdictOf(moment, decTorqueMaxNm, raTorqueMaxNm, loadFraction),
  };
}

export const balanceAssess = define({
  name: 'balance.assess',
  summary: 'Where the rig is heavy, by how much, and the torque that costs on each axis',
  sources: ['Textbook statics; standard gravity 9.80665 m/s² (CGPM 1901)'],
  input: AssessInput,
  output: AssessOutput,
  compute: assess,
});
