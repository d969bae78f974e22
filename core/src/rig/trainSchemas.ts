import { z } from 'zod';
import { atLeastZero, positive, quantity, within } from '../calculation/index.ts';
import { Face, Origin, PlacedPart } from './partSchemas.ts';

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
  /** A tip-tilt unit: a plate that moves the star by tilting. */
  tilts: z.boolean().optional(),
  /** Only what lies between corrector and camera counts; a plain piece is neither, whatever its name sounds like. */
  role: z.enum(['corrector', 'camera', 'piece']).optional(),
  /** Where its length comes from; typed by somebody where nothing is said. */
  from: Origin.optional(),
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

/** The main sensor, as far as exposures hang on it. */
export const ImagingSensor = z.strictObject({
  quantumEfficiency: guideSensor.quantumEfficiency,
  readNoiseE: guideSensor.readNoiseE,
  fullWellE: guideSensor.fullWellE,
  darkEPerSPx: atLeastZero('e⁻/s', 'Dark current in a pixel').optional(),
});
export type ImagingSensor = z.infer<typeof ImagingSensor>;

/** A filter's band, and the sky that a real frame showed through it. */
export const FilterBand = z.strictObject({
  filter: z.string().trim().min(1).max(40),
  bandwidthNm: positive('nm', 'Width of the band').max(2000).optional(),
  skyEPerSPx: positive('e⁻/s', 'Background of a frame, in a pixel').max(1e6).optional(),
  skyOn: z.iso.date().meta({ description: 'Day on which it was entered; the frame may be older' }).optional(),
});
export type FilterBand = z.infer<typeof FilterBand>;

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
  camera: z.strictObject({
    ...guideSensor,
    widthPx: z.int().positive().max(1e6),
    heightPx: z.int().positive().max(1e6),
  }),
  /** Position angle of the guide window while the camera stands at 0°, once seen under the sky. */
  windowPaDeg: quantity('deg', 'Where the window stands at camera angle 0').optional(),
  /** The guider turns without the main camera. */
  turnsAlone: z.boolean().optional(),
});
export type OffAxis = z.infer<typeof OffAxis>;

/** Turns the camera, and what stands behind it, to the angle of a framing. */
export const Rotator = z.strictObject({
  /** Past the meridian the picture stands upside down: it is turned back by half a turn, or left so. */
  afterFlip: z.enum(['turn', 'leave']).default('leave'),
  reachDeg: within('deg', 90, 360, 'How far its cables let it turn to either side').default(180),
});
export type Rotator = z.infer<typeof Rotator>;

/** What everything runs on. */
export const Supply = z.strictObject({
  /** Switched on before anything is connected, and off after. */
  switched: z.boolean().default(false),
  closesBelowV: within('V', 1, 60, 'The night is closed below').nullable().default(null),
  /** Left out: it does not run down. */
  battery: z
    .strictObject({
      capacityWh: positive('Wh', 'What the battery holds').max(1e5),
      drawW: positive('W', 'What everything takes together').max(1e4),
    })
    .nullable()
    .default(null),
});
export type Supply = z.infer<typeof Supply>;

/** A second tube that guides. */
export const GuideScope = z.strictObject({
  focalLengthMm: positive('mm', 'Focal length'),
  apertureMm: positive('mm', 'Clear aperture').optional(),
  ...guideSensor,
  widthPx: z.int().positive().max(1e6).optional(),
  heightPx: z.int().positive().max(1e6).optional(),
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
