import { z } from 'zod';
import { DEVICES, MORE_DEVICES } from '../observatory/index.ts';
import type { Ask } from './events.ts';
import { AnswerSchema, ReadingsSchema } from './happened.ts';

/**
 * How equipment is driven over a network: one thing at a time is asked for by a number, and asking for the same number again
 * does nothing twice; how everything stands is read as a whole; who is not heard of any more is not waited for.
 */
export const PROTOCOL = 1;

const degrees = (min: number, max: number) => z.number().min(min).max(max).meta({ unit: 'deg' });
const place = { raDeg: degrees(0, 360), decDeg: degrees(-90, 90) };
/** What is asked of a device. */
export const AskSchema = z.discriminatedUnion('do', [
  z.strictObject({ device: z.enum([...DEVICES, ...MORE_DEVICES]), do: z.literal('connect') }),
  z.strictObject({
    device: z.literal('mount'),
    do: z.literal('centre'),
    ...place,
    withinArcmin: z.number().positive().meta({ unit: 'arcmin' }),
  }),
  z.strictObject({
    device: z.literal('mount'),
    do: z.literal('field'),
    altitudeDeg: degrees(0, 90),
    azimuthDeg: degrees(0, 360),
  }),
  z.strictObject({ device: z.literal('mount'), do: z.literal('flip'), ...place, to: z.enum(['east', 'west']) }),
  z.strictObject({ device: z.literal('mount'), do: z.literal('park') }),
  z.strictObject({ device: z.literal('roof'), do: z.literal('open') }),
  z.strictObject({ device: z.literal('roof'), do: z.literal('close') }),
  z.strictObject({ device: z.literal('power'), do: z.literal('switch-on') }),
  z.strictObject({ device: z.literal('power'), do: z.literal('switch-off') }),
  z.strictObject({
    device: z.literal('rotator'),
    do: z.literal('rotate'),
    paDeg: degrees(0, 360),
    eitherWay: z.boolean().meta({ description: 'The picture may stand upside down as well' }),
    withinDeg: z.number().positive().meta({ unit: 'deg' }),
  }),
  z.strictObject({ device: z.literal('tip-tilt'), do: z.literal('centre-plate') }),
  z.strictObject({ device: z.literal('guider'), do: z.literal('start') }),
  z.strictObject({ device: z.literal('guider'), do: z.literal('stop') }),
  z.strictObject({ device: z.literal('guider'), do: z.literal('dither') }),
  z.strictObject({ device: z.literal('wheel'), do: z.literal('turn'), filter: z.string().min(1).max(40) }),
  z.strictObject({ device: z.literal('focuser'), do: z.literal('move'), position: z.number() }),
  z.strictObject({
    device: z.literal('camera'),
    do: z.literal('expose'),
    seconds: z.number().min(0).max(7200).meta({ unit: 's' }),
  }),
  z.strictObject({ device: z.literal('camera'), do: z.literal('cool'), toC: z.number().min(-60).max(40).nullable() }),
  z.strictObject({ device: z.literal('camera'), do: z.literal('read-out') }),
  z.strictObject({ device: z.literal('camera'), do: z.literal('focus-frame') }),
]) satisfies z.ZodType<Ask>;

export const AboutSchema = z.strictObject({
  name: z.string(),
  protocol: z.literal(PROTOCOL),
  filters: z.array(z.string()).min(1),
  deadManS: z.number().positive().meta({ unit: 's', description: 'Left alone for so long it goes safe by itself' }),
  simulated: z.boolean(),
  speed: z.number().positive().meta({ description: 'Times as fast as the world; one for real equipment' }),
  frames: z.boolean().optional().meta({
    description:
      'Gives an exposure that was read out as FITS at /frames/{id}, by its number, until ten others were asked for',
  }),
});
export type About = z.infer<typeof AboutSchema>;

export const ActState = z.strictObject({
  id: z.int().min(1),
  state: z.enum(['at-work', 'done', 'failed', 'stopped']),
  value: AnswerSchema.optional(),
  reason: z.string().optional(),
  final: z.boolean().optional(),
});
export type ActState = z.infer<typeof ActState>;

export const StatusSchema = z.strictObject({
  at: z.number().meta({ unit: 'ms', description: 'Its own time, since 1970, UTC' }),
  readings: ReadingsSchema,
  /** The last few that were asked for. */
  acts: z.array(ActState),
  /** It was left alone, and went safe by itself; until somebody has the controls again. */
  wentSafe: z.boolean(),
  /** Who has the controls. */
  run: z.string().nullable(),
});
export type Status = z.infer<typeof StatusSchema>;

/** The controls are asked for by a run, and by which turn of it: a later turn has them from an earlier one, never back. */
export const ControlBody = z.strictObject({ run: z.string().min(1).max(60), turn: z.int().min(0) });
export const ControlAnswer = z.strictObject({ key: z.string().min(16) });
/** Refused, and why. */
export const RefusalSchema = z.strictObject({
  code: z.enum(['not-in-control', 'in-control', 'busy', 'other-act', 'interlock', 'not-parked', 'invalid', 'unknown']),
  detail: z.string(),
});
export type RefusalCode = z.infer<typeof RefusalSchema>['code'];
export const REFUSAL_STATUS: Record<RefusalCode, number> = {
  'not-in-control': 403,
  'in-control': 409,
  busy: 409,
  'other-act': 409,
  interlock: 423,
  'not-parked': 423,
  invalid: 400,
  unknown: 404,
};
