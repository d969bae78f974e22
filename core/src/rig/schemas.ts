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

/** Where a number comes from. A number that says nothing was typed in before this was asked. */
export const Origin = z.strictObject({
  kind: z.enum(['measured', 'documented', 'assumed']),
  by: z.string().max(120).optional(),
  at: z.iso.date().optional(),
  /** How far an assumed value may be off, in the unit of the value, to either side. */
  spread: z.number().min(0).optional(),
});
export type Origin = z.infer<typeof Origin>;

const optionalPositive = (unit: string, d: string) => positive(unit, d).optional();

export const Face = z.strictObject({
  size: z.string().trim().min(1).max(60).meta({ description: 'Such as M48x0.75' }),
  gender: z.enum(['male', 'female']),
});
export type Face = z.infer<typeof Face>;

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
  front: Face.optional(),
  rear: Face.optional(),
  measuredBy: z.string().max(120).optional(),
  lentTo: z.string().max(120).optional(),
  note: z.string().max(2000).default(''),
});
export type Part = z.infer<typeof Part>;

/** A place as a ruler on the mounted tube reads it. */
export const RulerReading = z.strictObject({
  /** The mark it was measured from, such as the bar's front end. */
  mark: z.string().trim().min(1).max(60),
  alongMm: quantity('mm', 'From the mark toward the camera end'),
  aboveSaddleMm: quantity('mm', 'From the saddle’s surface outward'),
  sidewaysMm: quantity('mm', 'From the tube’s middle, positive y').default(0),
});
export type RulerReading = z.infer<typeof RulerReading>;

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
  massFrom: Origin.optional(),
  placeFrom: Origin.optional(),
  /** The place as a ruler reached it, where it was taken with one. */
  ruler: RulerReading.optional(),
});
export type PlacedPart = z.infer<typeof PlacedPart>;

/** A piece of the optical path between the corrector (or the tube's rear) and the sensor, front to rear. */
export const TrainPart = z.strictObject({
  name: z.string().trim().min(1).max(120),
  lengthMm: atLeastZero('mm', 'Documented length'),
  measuredMm: atLeastZero('mm', 'Measured length').optional(),
  /** Which length counts; the measured one when it is there and nothing is said. */
  use: z.enum(['documented', 'measured']).optional(),
  measuredBy: z.string().max(120).optional(),
  glassMm: atLeastZero('mm', 'Glass in the converging beam').optional(),
  glassIndex: z.number().min(1).max(3).optional(),
  front: Face.optional(),
  rear: Face.optional(),
  measuredAt: z.iso.date().optional(),
  /** Length of the screws of a bolted face. */
  screwsMm: atLeastZero('mm', 'Screws of a bolted face').optional(),
  /** The off-axis guider's body: everything behind it should stay bolted together. */
  guider: z.boolean().optional(),
});
export type TrainPart = z.infer<typeof TrainPart>;

/** What the corrector asks for, and the reducer if there is one. */
export const Corrector = z.strictObject({
  requiredMm: positive('mm', 'Distance asked for behind the corrector'),
  toleranceMm: positive('mm', 'What is still good').default(1),
  imageCircleMm: positive('mm', 'Diameter of the corrected field').default(44),
  from: Origin.optional(),
  reducer: z
    .strictObject({
      designFactor: positive('', 'Factor at the design spacing'),
      designSpacingMm: positive('mm', 'Lens to sensor at the design factor'),
      nativeFocalLengthMm: positive('mm', 'Focal length without it'),
    })
    .optional(),
});
export type Corrector = z.infer<typeof Corrector>;

/** What a guide camera is: the sensor, and how well it sees; the latter is assumed where nobody entered it. */
const guideSensor = {
  pixelUm: positive('µm', 'Pixel size'),
  quantumEfficiency: z.number().gt(0).max(1).meta({ description: 'Quantum efficiency' }).optional(),
  readNoiseE: atLeastZero('e⁻', 'Read noise').optional(),
  fullWellE: positive('e⁻', 'Full well').optional(),
};

/** The off-axis guider: its prism, and the path to the guide camera. */
export const OffAxis = z.strictObject({
  prism: z.strictObject({
    widthMm: positive('mm', 'Across'),
    depthMm: positive('mm', 'Outward'),
    angleDeg: quantity('deg', 'Where it stands, from the sensor’s long side anticlockwise').default(90),
    innerEdgeMm: atLeastZero('mm', 'Inner edge from the axis'),
    /** Path inside a solid prism; 0 for a mirror. */
    glassMm: atLeastZero('mm', 'Glass of a solid prism').default(0),
  }),
  /** Prism centre to the rear face of the guider's body. */
  behindPrismMm: atLeastZero('mm', 'Prism centre to the body’s rear face'),
  holderMm: atLeastZero('mm', 'Prism centre to the guide focuser'),
  spacersMm: atLeastZero('mm', 'Spacers on the guide side').default(0),
  focuserMinMm: atLeastZero('mm', 'Helical focuser, shortest').default(0),
  focuserMaxMm: atLeastZero('mm', 'Helical focuser, longest').default(0),
  cameraDepthMm: atLeastZero('mm', 'Guide camera, face to sensor'),
  camera: z.strictObject({ ...guideSensor, widthPx: z.int().positive(), heightPx: z.int().positive() }),
  /** Position angle of the guide window while the camera stands at 0°, once seen under the sky. */
  windowPaDeg: quantity('deg', 'Where the window stands at camera angle 0').optional(),
  /** The guider turns without the main camera. */
  turnsAlone: z.boolean().optional(),
});
export type OffAxis = z.infer<typeof OffAxis>;

/** A second tube that guides. */
export const GuideScope = z.strictObject({
  focalLengthMm: positive('mm', 'Focal length'),
  apertureMm: positive('mm', 'Clear aperture').optional(),
  ...guideSensor,
  widthPx: z.int().positive().optional(),
  heightPx: z.int().positive().optional(),
  flexureArcsecPerMin: atLeastZero('″/min', 'Measured flexure').default(0),
});

/** Reach of the main focuser. */
export const FocuserReach = z.strictObject({
  focalPlaneBehindFocuserMm: positive('mm', 'Focus behind the focuser’s face, drawtube in'),
  travelMm: positive('mm', 'Travel of the drawtube'),
  marginMm: atLeastZero('mm', 'Kept free at either end').default(2),
  beforeTrainMm: atLeastZero('mm', 'Corrector and what stands before the train').default(0),
  rings: z.array(positive('mm', 'Extension ring')).max(12).default([]),
});
export type FocuserReach = z.infer<typeof FocuserReach>;

export const WheelSlot = z.strictObject({
  slot: z.int().min(1).max(30),
  filter: z.string().trim().max(40),
});

/** Another configuration of the same tube: its own corrector and front pieces, and what is taken off or put on. */
export const Variant = z.strictObject({
  name: z.string().trim().min(1).max(120),
  focalLengthMm: positive('mm', 'Focal length in this configuration'),
  corrector: Corrector,
  front: z.array(TrainPart).max(20),
  without: z.array(z.string().max(120)).max(20).default([]),
  extra: z.array(PlacedPart).max(20).default([]),
});
export type Variant = z.infer<typeof Variant>;

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
    widthPx: z.int().positive(),
    heightPx: z.int().positive(),
    angleDeg: quantity('deg', 'Turn of the camera in the train').default(0),
    /** A one-shot colour sensor; none: monochrome. */
    bayer: BayerPattern.optional(),
    from: Origin.optional(),
  }),
  focuserStepUm: positive('µm', 'Travel of one focuser step'),
  focuserStepFrom: Origin.optional(),
  train: z.array(TrainPart).max(30),
  corrector: Corrector.optional(),
  offAxis: OffAxis.optional(),
  guideScope: GuideScope.optional(),
  focuserReach: FocuserReach.optional(),
  /** The same tube in other configurations, such as with a reducer; from the guider on the train is common. */
  variants: z.array(Variant).max(4).default([]),
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
