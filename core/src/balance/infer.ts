import { z } from 'zod';
import { define, explained, within } from '../calculation/index.ts';
import { mean, weightedFit } from '../statistics/index.ts';
import { STANDARD_GRAVITY } from './schemas.ts';
import { Reading } from './pullReading.ts';
import { probableSlip } from './slip.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

export const InferInput = z.strictObject({
  readings: z.array(Reading).min(1).max(200),
  latitudeDeg: within('deg', -90, 90, 'Latitude of the polar axis while measuring, 0 = axis level').default(0),
});
export type InferInput = z.infer<typeof InferInput>;

export const InferOutput = z.strictObject({
  momentKgMm: z.strictObject({ x: z.number().optional(), y: z.number().optional(), z: z.number().optional() }),
  frictionNm: z.strictObject({ dec: z.number().optional(), ra: z.number().optional() }),
  rmsResidualNm: z.number(),
  stays: z.boolean(),
  ...explained,
});

const imbalance = (r: Reading) => ((r.forceBackN - r.forceTowardN) * r.leverMm) / 2000;
const friction = (r: Reading) => ((r.forceBackN + r.forceTowardN) * r.leverMm) / 2000;

/** Share of the squared coefficients below which a component counts as not measured. */
const UNSEEN = 1e-10;

/** Least squares for Mz and My from readings τ = g(Mz cos a − σ My sin a)/1000. */
function solveDec(readings: Reading[]): { y?: number; z?: number } {
  const k = STANDARD_GRAVITY / 1000;
  const rows = readings.map((r) => {
    const a = (r.attitudeDeg * Math.PI) / 180;
    return [k * Math.cos(a), -k * (r.tubeSide === 'left' ? 1 : -1) * Math.sin(a)];
  });
  const tau = readings.map(imbalance);
  const ones = tau.map(() => 1);
  const both = weightedFit(rows, tau, ones);
  if (both) return { z: both.coefficients[0]!, y: both.coefficients[1]! };
  const power = [0, 1].map((c) => rows.reduce((s, r) => s + r[c]! ** 2, 0));
  const total = power[0]! + power[1]!;
  const column = power[1]! <= UNSEEN * total ? 0 : power[0]! <= UNSEEN * total ? 1 : null;
  if (column === null) return {};
  const fit = weightedFit(
    rows.map((r) => [r[column]!]),
    tau,
    ones,
  );
  const value = fit?.coefficients[0];
  return value === undefined ? {} : column === 0 ? { z: value } : { y: value };
}

/** Where the mass centre really is, from pairs of spring-scale readings at the moment an axis starts to move. */
export function infer(input: InferInput): z.input<typeof InferOutput> {
  const g = STANDARD_GRAVITY;
  const dec = input.readings.filter((r) => r.axis === 'dec');
  const ra = input.readings.filter((r) => r.axis === 'ra');
  const cosLat = Math.cos((Math.abs(input.latitudeDeg) * Math.PI) / 180);
  const moment: { x?: number; y?: number; z?: number } = dec.length ? solveDec(dec) : {};
  if (ra.length && cosLat > 1e-9) moment.x = (1000 * mean(ra.map(imbalance))) / (g * cosLat);
  const blend = dec.length && moment.y === undefined && moment.z === undefined ? mean(dec.map(imbalance)) : null;
  const predicted = (r: Reading): number => {
    if (r.axis === 'ra') return (g * cosLat * (moment.x ?? 0)) / 1000;
    if (blend !== null) return blend; // all at one slanting attitude: only their common torque is known
    const a = (r.attitudeDeg * Math.PI) / 180;
    const sigma = r.tubeSide === 'left' ? 1 : -1;
    return (g * ((moment.z ?? 0) * Math.cos(a) - sigma * (moment.y ?? 0) * Math.sin(a))) / 1000;
  };
  const squares = input.readings.map((r) => (imbalance(r) - predicted(r)) ** 2);
  const rmsResidualNm = Math.sqrt(mean(squares));
  const stays = input.readings.every((r) => Math.abs(imbalance(r)) < friction(r));
  const frictionNm = {
    ...(dec.length ? { dec: mean(dec.map(friction)) } : {}),
    ...(ra.length ? { ra: mean(ra.map(friction)) } : {}),
  };
  const known = (['x', 'y', 'z'] as const).filter((k) => moment[k] !== undefined);
  const moments = known.map((k) => phrase(`infer.${k}`, { momentKgCm: moment[k]! / 10 }));
  const slip = probableSlip(input.readings);
  const negative = Object.values(frictionNm).some((f) => f < 0);
  return {
    momentKgMm: moment,
    frictionNm,
    rmsResidualNm,
    stays,
    working: [
      {
        label: 'Imbalance of one pair',
        formula: 'τ = (F_back − F_toward)·L/2000',
        value: imbalance(input.readings[0]!),
        unit: 'N·m',
      },
      {
        label: 'Friction of one pair',
        formula: '(F_back + F_toward)·L/2000',
        value: friction(input.readings[0]!),
        unit: 'N·m',
      },
      ...known.map((k) => ({
        label: `Moment ${k}`,
        formula: k === 'x' ? 'τ = g·cos|φ|·Mx/1000, averaged' : 'least squares on τ = g(Mz cos a − σ My sin a)/1000',
        value: moment[k]!,
        unit: 'kg·mm',
        source: 'textbook statics',
      })),
    ],
    verdict: negative
      ? makeVerdict('bad', phrase('infer.swapped'))
      : slip
        ? makeVerdict(
            'bad',
            phrase('infer.slip', { reading: slip.reading + 1, pullN: slip.forceN, likelyN: slip.likelyN }),
          )
        : known.length === 0
          ? makeVerdict('caution', phrase('infer.unsettled'))
          : stays
            ? makeVerdict('good', phrase('infer.holds', { moments }))
            : makeVerdict(
                'caution',
                phrase('infer.moves', { moments }),
                ...(moment.y === undefined && dec.length ? [phrase('infer.upright-too')] : []),
              ),
  };
}

export const balanceInfer = define({
  name: 'balance.infer',
  summary: 'Moments and friction from pairs of spring-scale readings',
  sources: ['Textbook statics'],
  input: InferInput,
  output: InferOutput,
  compute: infer,
});
