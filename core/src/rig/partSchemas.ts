import { z } from 'zod';
import { atLeastZero, massKg, positive, quantity } from '../calculation/index.ts';

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
  spread: z.number().min(0).max(1e9).optional(),
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
  widthPx: z.int().positive().max(1e6).optional(),
  heightPx: z.int().positive().max(1e6).optional(),
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
  partId: z.string().max(60).optional(),
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
  /** Whether it turns with the tube in its rings or stays with the bar; unsaid: by its kind. */
  rides: z.enum(['tube', 'bar']).optional(),
});
export type PlacedPart = z.infer<typeof PlacedPart>;

/** Kinds that usually sit on bar or rings and stay when the tube turns; common practice, no source. */
const ON_THE_BAR: readonly PartKind[] = ['rings', 'guide-scope', 'mount', 'counterweight'];
export const ridesOf = (p: Pick<PlacedPart, 'kind' | 'rides'>): 'tube' | 'bar' =>
  p.rides ?? (ON_THE_BAR.includes(p.kind) ? 'bar' : 'tube');
