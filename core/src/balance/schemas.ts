import { z } from 'zod';
import { latitudeDeg, massKg, noRepeats, positive, atLeastZero, quantity, within } from '../calculation/index.ts';

/** Standard gravity [m/s²], by definition (CGPM 1901). */
export const STANDARD_GRAVITY = 9.80665;
/** Moments smaller than this count as none [kg·mm]; common practice, no source. */
export const EVEN_KGMM = 1;

const place = {
  xMm: quantity('mm', 'Along the declination axis, positive to the tube side'),
  yMm: quantity('mm', 'Sideways, completes a right-handed set'),
  zMm: quantity('mm', 'Along the optical axis, positive to the sky'),
};

export const Mass = z.strictObject({
  name: z.string().min(1).max(120),
  massKg: massKg('Mass of the piece'),
  ...place,
});
export type Mass = z.infer<typeof Mass>;

export const Counterweight = z.strictObject({
  name: z.string().max(120).optional(),
  massKg: massKg('Mass of the weight'),
  distanceMm: atLeastZero('mm', 'Distance of its centre from the polar axis, along the shaft'),
});
export type Counterweight = z.infer<typeof Counterweight>;

export const Shaft = z.strictObject({
  massKg: massKg('Mass of the bare counterweight shaft').default(0),
  centreMm: atLeastZero('mm', 'Distance of its mass centre from the polar axis').default(0),
});

export const Moment = z.strictObject({
  x: quantity('kg·mm', 'Tube against weights'),
  y: quantity('kg·mm', 'Sideways'),
  z: quantity('kg·mm', 'Fore and aft'),
});
export type Moment = z.infer<typeof Moment>;

const assessFields = {
  masses: z
    .array(Mass)
    .max(200)
    .superRefine(noRepeats((m) => m.name, 'the mass')),
  counterweights: z.array(Counterweight).max(40),
  shaft: Shaft.optional(),
  latitudeDeg,
  ratedLoadKg: positive('kg', 'Load the mount is rated for').optional(),
};
/** `balance.assess` accepts masses that share a name; only the solver needs them apart. */
export const AssessInput = z.strictObject({ ...assessFields, masses: z.array(Mass).max(200) });
export type AssessInput = z.infer<typeof AssessInput>;

export const TrimPoint = z.strictObject({
  name: z.string().min(1).max(120),
  ...place,
  maxMassKg: massKg('Most that may hang here'),
});
export type TrimPoint = z.infer<typeof TrimPoint>;

export const Relocation = z.strictObject({
  mass: z.string().min(1),
  to: z.array(z.strictObject({ name: z.string().min(1).max(120), ...place })).max(40),
});

/** Finest turn of the rings worth trying [deg]. */
const FINEST_TURN_DEG = 0.5;
/** The tube turned in its rings: the named masses turn together about a line along the tube. */
export const RingTurn = z.strictObject({
  axisXMm: quantity('mm', 'Where the tube’s middle stands along the declination axis'),
  axisYMm: quantity('mm', 'and sideways').default(0),
  masses: z
    .array(z.string().min(1).max(120))
    .max(200)
    .superRefine(noRepeats((n) => n, 'the mass')),
  stepDeg: z
    .number()
    .min(FINEST_TURN_DEG)
    .max(360)
    .meta({ unit: 'deg', description: 'Turns are tried by this step' })
    .default(15),
  minDeg: within('deg', -360, 360, 'Turns lie above this').default(-180),
  maxDeg: within('deg', -360, 360, 'and up to this').default(180),
});
export type RingTurn = z.infer<typeof RingTurn>;

const range = <K extends string, L extends string>(low: K, high: L) =>
  z
    .strictObject({
      [low]: quantity('mm', 'Lower end'),
      [high]: quantity('mm', 'Upper end'),
    } as Record<K | L, z.ZodNumber>)
    .superRefine((r, ctx) => {
      const v = r as Record<string, number>;
      if (v[low]! > v[high]!)
        ctx.addIssue({ code: 'custom', path: [low], message: `must not exceed ${high} (${v[high]})` });
    });

export const SolveInput = z
  .strictObject({
    ...assessFields,
    slide: range('minMm', 'maxMm'),
    shaftRangeMm: range('min', 'max').refine((r) => r.min >= 0, {
      path: ['min'],
      message: 'distances along the shaft are 0 or more',
    }),
    counterweightStock: z
      .array(z.strictObject({ massKg: positive('kg', 'Mass of one such weight'), count: z.int().min(0).max(20) }))
      .max(20)
      .default([]),
    trimPoints: z
      .array(TrimPoint)
      .max(20)
      .superRefine(noRepeats((p) => p.name, 'the trim point'))
      .default([]),
    trimStockKg: z.array(positive('kg', 'Mass of one piece')).max(12).default([]),
    relocations: z.array(Relocation).max(12).default([]),
    ringTurn: RingTurn.optional(),
    biasNm: quantity('N·m', 'Deliberate excess about RA, positive = tube heavy').default(0),
  })
  .superRefine((v, ctx) => {
    const names = new Set(v.masses.map((m) => m.name));
    v.relocations.forEach((r, i) => {
      if (!names.has(r.mass))
        ctx.addIssue({ code: 'custom', path: ['relocations', i, 'mass'], message: `no mass is called “${r.mass}”` });
    });
    v.ringTurn?.masses.forEach((name, i) => {
      if (!names.has(name))
        ctx.addIssue({ code: 'custom', path: ['ringTurn', 'masses', i], message: `no mass is called “${name}”` });
    });
    if (v.ringTurn && v.ringTurn.minDeg > v.ringTurn.maxDeg)
      ctx.addIssue({
        code: 'custom',
        path: ['ringTurn', 'minDeg'],
        message: `must not exceed maxDeg (${v.ringTurn.maxDeg})`,
      });
    noRepeats((r: { mass: string }) => r.mass, 'a relocation of')(v.relocations, ctx);
  });
export type SolveInput = z.infer<typeof SolveInput>;
