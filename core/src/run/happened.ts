import { z } from 'zod';
import { FAULTS, RunPlan } from '../observatory/index.ts';
import { COMMANDS, type Happened } from './events.ts';

const Tube = z.strictObject({
  haDeg: z.number(),
  decDeg: z.number(),
  side: z.enum(['east', 'west']),
  moves: z.boolean(),
  follows: z.boolean(),
  atMs: z.number(),
});
export const ReadingsSchema = z.strictObject({
  temperatureC: z.number(),
  position: z.number(),
  wheel: z.string(),
  clear: z.boolean(),
  windMS: z.number(),
  humidity: z.number(),
  safe: z.boolean(),
  guider: z.enum(['off', 'guiding', 'lost']),
  roof: z.enum(['open', 'closed', 'moves']).optional(),
  rotatorDeg: z.number().optional(),
  tilt: z.tuple([z.number(), z.number()]).optional(),
  supply: z.strictObject({ volts: z.number(), on: z.boolean() }).optional(),
  guideArcsec: z.tuple([z.number(), z.number()]).nullable(),
  cooler: z.tuple([z.number(), z.number()]).nullable(),
  tube: Tube.nullable(),
});
const FrameMeasure = z.strictObject({
  hfdPx: z.number(),
  stars: z.number(),
  eccentricity: z.number(),
  background: z.number(),
  offArcmin: z.number().optional(),
  offDeg: z.number().optional(),
});
export const AnswerSchema = z.union([
  z.boolean(),
  z.number(),
  z.null(),
  FrameMeasure,
  z.strictObject({ hfdPx: z.number(), stars: z.number() }),
]);
const at = { at: z.number(), readings: ReadingsSchema.partial().optional(), beside: z.literal(true).optional() };
const act = { act: z.int() };

/** One event of a run, as it is written down and sent. */
export const HappenedSchema = z.discriminatedUnion('code', [
  z.strictObject({ code: z.literal('began'), ...at, plan: RunPlan, rules: z.int().optional() }),
  z.strictObject({ code: z.enum(['tick', 'went-safe', 'no-room']), ...at }),
  z.strictObject({ code: z.literal('done'), ...at, ...act, value: AnswerSchema }),
  z.strictObject({ code: z.literal('failed'), ...at, ...act, reason: z.string(), final: z.boolean().optional() }),
  z.strictObject({ code: z.enum(COMMANDS), ...at, by: z.string() }),
  z.strictObject({
    code: z.literal('thrown'),
    ...at,
    by: z.string(),
    fault: z.enum(FAULTS),
    atMs: z.number(),
    forMs: z.number(),
  }),
]) satisfies z.ZodType<Happened>;
