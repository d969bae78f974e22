import { z } from 'zod';
import { atLeastZero, massKg, noRepeats, positive, quantity, within } from '../calculation/index.ts';
import { Origin, PlacedPart } from './partSchemas.ts';
import {
  Corrector,
  FilterBand,
  FocuserReach,
  GuideScope,
  ImagingSensor,
  OffAxis,
  Rotator,
  Supply,
  TrainPart,
  Variant,
  WheelSlot,
} from './trainSchemas.ts';

export * from './partSchemas.ts';
export * from './trainSchemas.ts';

const place3 = {
  xMm: quantity('mm', 'Along the declination axis'),
  yMm: quantity('mm', 'Sideways'),
  zMm: quantity('mm', 'Toward the sky'),
};

/** Order of the colour cells of a one-shot colour sensor, first row then second. */
export const BayerPattern = z.enum(['RGGB', 'BGGR', 'GRBG', 'GBRG']);
export type BayerPattern = z.infer<typeof BayerPattern>;

/** A named line across the bar that a ruler can be laid to. */
export const RulerMark = z.strictObject({
  name: z.string().trim().min(1).max(60),
  zMm: quantity('mm', 'Along the tube from the declination axis, toward the sky'),
  /** On the mount itself: it stays where the bar slides. */
  fixed: z.boolean().optional(),
});

/** The mount and everything that turns with it: one balance. */
const carried = {
  mount: z.strictObject({
    name: z.string().max(120),
    drive: z.enum(['worm', 'strain-wave', 'direct']),
    ratedLoadKg: positive('kg', 'Rated load'),
    wormPeriodS: positive('s', 'One turn of the worm').optional(),
    pastMeridianDeg: within('deg', 0, 90, 'How far past the meridian it follows before it stops by itself').optional(),
    from: Origin.optional(),
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
    from: Origin.optional(),
  }),
  slide: z.strictObject({
    minMm: quantity('mm', 'Farthest back from here'),
    maxMm: quantity('mm', 'Farthest forward from here'),
    markMm: quantity('mm', 'Scale mark on the bar at present').default(0),
  }),
  /** Where a ruler begins: the saddle's surface from the crossing of the axes, and lines across the bar. */
  saddle: z
    .strictObject({
      xMm: positive('mm', 'Saddle’s surface from the crossing of the axes'),
      marks: z.array(RulerMark).min(1).max(8),
      from: Origin.optional(),
    })
    .optional(),
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
  /** Places to which named parts could be moved or turned. */
  relocations: z
    .array(
      z.strictObject({
        mass: z.string().min(1).max(120),
        to: z
          .array(z.strictObject({ name: z.string().min(1).max(120), ...place3 }))
          .min(1)
          .max(6),
      }),
    )
    .max(12)
    .default([]),
  /** Deliberate imbalance about right ascension, tube heavy positive. */
  biasNm: quantity('N·m', 'Wanted imbalance').default(0),
  /** Left out: nothing is known of it, and it is switched by hand. */
  supply: Supply.optional(),
  /** Made to learn on: runs on stand-ins count as its nights. */
  practice: z.boolean().default(false),
  note: z.string().max(4000).default(''),
};

/** One tube, lens or camera that takes pictures, and what belongs to it. */
const imaging = {
  focalLengthMm: positive('mm', 'Focal length of the imaging train'),
  apertureMm: positive('mm', 'Clear aperture'),
  obstructionMm: atLeastZero('mm', 'Diameter of the obstruction').optional(),
  opticsFrom: Origin.optional(),
  camera: z.strictObject({
    name: z.string().max(120),
    pixelUm: positive('µm', 'Pixel size'),
    widthPx: z.int().positive().max(1e6),
    heightPx: z.int().positive().max(1e6),
    angleDeg: quantity('deg', 'Turn of the camera in the train').default(0),
    /** A one-shot colour sensor; none: monochrome. */
    bayer: BayerPattern.optional(),
    from: Origin.optional(),
    /** How well it sees; assumed where nobody entered it. */
    sensor: ImagingSensor.optional(),
  }),
  focuserStepUm: positive('µm', 'Travel of one focuser step'),
  focuserStepFrom: Origin.optional(),
  train: z.array(TrainPart).max(30),
  corrector: Corrector.optional(),
  offAxis: OffAxis.optional(),
  guideScope: GuideScope.optional(),
  focuserReach: FocuserReach.optional(),
  /** Left out: the camera is turned by hand. */
  rotator: Rotator.optional(),
  /** The same tube in other configurations, such as with a reducer; from the guider on the train is common. */
  variants: z.array(Variant).max(4).default([]),
  wheel: z
    .array(WheelSlot)
    .max(30)
    .superRefine(noRepeats((s) => String(s.slot), 'slot')),
  /** What each filter lets through, and the sky measured through it. */
  bands: z
    .array(FilterBand)
    .max(30)
    .superRefine(noRepeats((b) => b.filter, 'the filter'))
    .optional(),
  overheads: z.strictObject({
    downloadS: atLeastZero('s', 'Reading a frame out').default(4),
    filterChangeS: atLeastZero('s', 'Turning the wheel').default(6),
    autofocusS: atLeastZero('s', 'One focus run').default(180),
    ditherS: atLeastZero('s', 'Dither with settling').default(15),
    slewCentreS: atLeastZero('s', 'Slew and centre').default(120),
    flipS: atLeastZero('s', 'Meridian flip').default(240),
    guideStartS: atLeastZero('s', 'Guider start').default(20),
  }),
};

/** Stands for a system in records; stays when its name changes. */
export const SystemKey = z
  .string()
  .regex(/^[a-z0-9-]{1,40}$/, 'small letters, digits and hyphens, 40 at most')
  .meta({ description: 'Stands for an imaging system of the rig' });

export const ImagingSystem = z.strictObject({ key: SystemKey, name: z.string().trim().min(1).max(120), ...imaging });
export type ImagingSystem = z.infer<typeof ImagingSystem>;

/** Everything a rig is at one moment: what a revision stores. The first system leads where two work together. */
export const RigBuild = z.strictObject({
  ...carried,
  systems: z
    .array(ImagingSystem)
    .min(1, 'a rig needs at least one imaging system')
    .max(4)
    .superRefine(noRepeats((s) => s.key, 'the system'))
    .superRefine(noRepeats((s) => s.name, 'the name')),
});
export type RigBuild = z.infer<typeof RigBuild>;

/** A rig as seen through one of its systems: what the screens of the bench and the plan of one camera work on. */
export const RigSetup = z.strictObject({ ...carried, ...imaging });
export type RigSetup = z.infer<typeof RigSetup>;
