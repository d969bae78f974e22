import { z } from 'zod';
import { atLeastZero, massKg, noRepeats, positive, quantity } from '../calculation/index.ts';

/** What a part is for; decides how it is drawn and where it is offered. */
export const PartKind = z.enum([
  'tube',
  'rings',
  'focuser',
  'reducer',
  'adapter',
  'guider-prism',
  'wheel',
  'camera',
  'guide-camera',
  'guide-scope',
  'lens',
  'mount',
  'counterweight',
  'accessory',
]);
export type PartKind = z.infer<typeof PartKind>;

const optionalPositive = (unit: string, d: string) => positive(unit, d).optional();

/** One entry of the equipment drawer. */
export const Part = z.strictObject({
  name: z.string().trim().min(1).max(120),
  kind: PartKind,
  massKg: massKg('Weighed or documented mass'),
  /** Along the optical path, documented and as measured. */
  lengthMm: atLeastZero('mm', 'Documented length along the optical path').optional(),
  measuredMm: atLeastZero('mm', 'Measured length').optional(),
  widthMm: optionalPositive('mm', 'Greatest width, for the drawings'),
  count: z.int().min(0).max(999).default(1),
  focalLengthMm: optionalPositive('mm', 'Focal length'),
  apertureMm: optionalPositive('mm', 'Clear aperture'),
  pixelUm: optionalPositive('µm', 'Pixel size'),
  widthPx: z.int().positive().optional(),
  heightPx: z.int().positive().optional(),
  focuserStepUm: optionalPositive('µm', 'Travel of one step'),
  slots: z.int().positive().max(30).optional(),
  ratedLoadKg: optionalPositive('kg', 'Rated load'),
  note: z.string().max(2000).default(''),
});
export type Part = z.infer<typeof Part>;

/** A part at its place on the tube side; the place is its own mass centre in the balance frame. */
export const PlacedPart = z.strictObject({
  name: z.string().trim().min(1).max(120),
  kind: PartKind,
  partId: z.string().optional(),
  massKg: massKg('Mass'),
  xMm: quantity('mm', 'Along the declination axis'),
  yMm: quantity('mm', 'Sideways'),
  zMm: quantity('mm', 'Toward the sky'),
  lengthMm: positive('mm', 'Extent along the tube, for the drawings').default(80),
  widthMm: positive('mm', 'Extent across, for the drawings').default(80),
});
export type PlacedPart = z.infer<typeof PlacedPart>;

/** A piece of the optical path between the corrector (or the tube's rear) and the sensor. */
export const TrainPart = z.strictObject({
  name: z.string().trim().min(1).max(120),
  lengthMm: atLeastZero('mm', 'Documented length'),
  measuredMm: atLeastZero('mm', 'Measured length').optional(),
});

export const WheelSlot = z.strictObject({
  slot: z.int().min(1).max(30),
  filter: z.string().trim().max(40),
});

const place3 = {
  xMm: quantity('mm', 'Along the declination axis'),
  yMm: quantity('mm', 'Sideways'),
  zMm: quantity('mm', 'Toward the sky'),
};

/** Everything a rig is at one moment: what a revision stores. */
export const RigSetup = z.strictObject({
  focalLengthMm: positive('mm', 'Focal length of the imaging train'),
  apertureMm: positive('mm', 'Clear aperture'),
  camera: z.strictObject({
    name: z.string().max(120),
    pixelUm: positive('µm', 'Pixel size'),
    widthPx: z.int().positive(),
    heightPx: z.int().positive(),
    angleDeg: quantity('deg', 'Turn of the camera in the train').default(0),
  }),
  focuserStepUm: positive('µm', 'Travel of one focuser step'),
  mount: z.strictObject({
    name: z.string().max(120),
    drive: z.enum(['worm', 'strain-wave', 'direct']),
    ratedLoadKg: positive('kg', 'Rated load'),
  }),
  placed: z
    .array(PlacedPart)
    .max(60)
    .superRefine(noRepeats((p) => p.name, 'the part')),
  counterweights: z
    .array(z.strictObject({ massKg: positive('kg', 'Mass'), distanceMm: atLeastZero('mm', 'From the polar axis') }))
    .max(12),
  shaft: z.strictObject({
    massKg: massKg('Bare shaft'),
    centreMm: atLeastZero('mm', 'Its mass centre'),
    minMm: atLeastZero('mm', 'Nearest place for a weight'),
    maxMm: atLeastZero('mm', 'Farthest place for a weight'),
  }),
  slide: z.strictObject({
    minMm: quantity('mm', 'Farthest back from here'),
    maxMm: quantity('mm', 'Farthest forward from here'),
    markMm: quantity('mm', 'Scale mark on the bar at present').default(0),
  }),
  counterweightStock: z
    .array(z.strictObject({ massKg: positive('kg', 'Mass'), count: z.int().min(0).max(20) }))
    .max(20)
    .default([]),
  trimPoints: z
    .array(
      z.strictObject({ name: z.string().trim().min(1).max(120), ...place3, maxMassKg: massKg('Most it may carry') }),
    )
    .max(20)
    .default([]),
  trimStockKg: z.array(positive('kg', 'One piece')).max(12).default([]),
  train: z.array(TrainPart).max(30),
  wheel: z
    .array(WheelSlot)
    .max(30)
    .superRefine(noRepeats((s) => String(s.slot), 'slot')),
  overheads: z.strictObject({
    downloadS: atLeastZero('s', 'Reading a frame out').default(4),
    filterChangeS: atLeastZero('s', 'Turning the wheel').default(6),
    autofocusS: atLeastZero('s', 'One focus run').default(180),
    ditherS: atLeastZero('s', 'Dither with settling').default(15),
    slewCentreS: atLeastZero('s', 'Slew and centre').default(120),
    flipS: atLeastZero('s', 'Meridian flip').default(240),
    guideStartS: atLeastZero('s', 'Guider start').default(20),
  }),
  note: z.string().max(4000).default(''),
});
export type RigSetup = z.infer<typeof RigSetup>;
