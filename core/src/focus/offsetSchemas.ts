import { z } from 'zod';
import { atLeastZero, explained, instant, positive, quantity } from '../calculation/index.ts';

export const FocusRunPoint = z.strictObject({
  filter: z.string().min(1).max(40),
  position: quantity('steps', 'Best focus of the run'),
  temperatureC: quantity('°C', 'Temperature of the tube').optional(),
  time: instant('When the run was taken').optional(),
  hfd: positive('px', 'Smallest diameter reached').optional(),
  weight: positive('', 'Weight of the run').optional(),
});
export type FocusRunPoint = z.infer<typeof FocusRunPoint>;

export const DriftModel = z.enum(['temperature', 'time', 'both', 'none']);
export type DriftModel = z.infer<typeof DriftModel>;

/** Noise of a usual focuser’s thermometer [°C]; common practice, no source. */
export const THERMOMETER_NOISE_C = 0.2;

export const OffsetsInput = z.strictObject({
  runs: z.array(FocusRunPoint).min(1).max(5000),
  reference: z.string().min(1).meta({ description: 'Filter whose offset is 0' }),
  model: DriftModel.default('temperature'),
  criticalZoneSteps: positive('steps', 'Whole depth of the critical focus zone').optional(),
  thermometerNoiseC: atLeastZero('°C', 'Noise of one reading of the thermometer').default(THERMOMETER_NOISE_C),
});
export type OffsetsInput = z.infer<typeof OffsetsInput>;

const Offset = z.strictObject({
  steps: z.number(),
  error: z.number(),
  /** Half the 95 % interval: Student’s factor for few runs, and what an uncertain thermometer adds. */
  interval95: z.number(),
  runs: z.int(),
});

export const OffsetsOutput = z.strictObject({
  offsets: z.record(z.string(), Offset),
  temperatureStepsPerC: z.number().optional(),
  temperatureError: z.number().optional(),
  driftStepsPerHour: z.number().optional(),
  driftError: z.number().optional(),
  /** Position of the reference filter at the mean temperature (and time). */
  referencePosition: z.number(),
  meanTemperatureC: z.number().optional(),
  residualSteps: z.number(),
  residuals: z.array(z.number()),
  naiveOffsets: z.record(z.string(), z.number()),
  outliers: z.array(z.int()),
  parfocal: z.array(z.array(z.string())).optional(),
  refocusEveryC: z.number().optional(),
  ...explained,
});
export type OffsetsOutput = z.input<typeof OffsetsOutput>;
