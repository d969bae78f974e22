import { RefusalCode } from '../record/index.ts';
import { z } from 'zod';
import { FAULTS } from './faults.ts';
import { PlainPhraseSchema, Verdict } from '../calculation/index.ts';
import { ClosingStep, EventKind, LegRole, OpeningStep, TimelineInput, Twilight, Watches } from '../sequence/index.ts';
import { Site } from '../sky/index.ts';

/** Offsets the run applies on a filter change. */
export const AppliedOffsets = z.strictObject({
  steps: z.record(z.string(), z.number()),
  temperatureStepsPerC: z.number().default(0),
});
export type AppliedOffsets = z.infer<typeof AppliedOffsets>;

/** One leg as the conductor works it. */
export const RunLeg = z.strictObject({
  /** In the plan: legs without hours this night are not run. */
  planIndex: z.int().min(0),
  projectId: z.string(),
  /** What its frames count for: the project, or one panel of it. */
  goal: z.string(),
  timeline: TimelineInput,
  role: LegRole,
  turnMin: z.number().positive().nullable(),
  target: z.strictObject({ name: z.string(), raDeg: z.number(), decDeg: z.number() }),
  /** Without it frames are taken unguided. */
  guiding: z.boolean(),
  centreWithinArcmin: z.number().positive(),
  /** How its picture is turned, where there is a rotator: at which position angle its top is to stand, or upside down as well. */
  turned: z
    .strictObject({ paDeg: z.number(), eitherWay: z.boolean(), afterFlip: z.enum(['turn', 'leave']) })
    .optional(),
  /** It rides along: the mount is the lead’s. */
  follows: z.boolean().optional(),
  /** What a second camera does meanwhile, where its frames are waited for before the mount moves, and for which project. */
  waitsFor: TimelineInput.optional(),
  followerOf: z.string().optional(),
  /** When it may work [ms], in order; left out: from the start of its timeline to the end. */
  hours: z
    .array(z.tuple([z.number(), z.number()]).readonly())
    .readonly()
    .optional(),
  /** What is asked of the sky before every frame; left out: nothing. */
  limits: z.strictObject({ minimumAltitudeDeg: z.number(), darkness: Twilight }).optional(),
});
export type RunLeg = z.infer<typeof RunLeg>;

const timedStep = <S extends z.ZodType>(step: S) =>
  z.strictObject({ step, minutes: z.number(), notBeforeMs: z.number().nullable() });

export const RunPlan = z.strictObject({
  opening: z.array(timedStep(OpeningStep.shape.step).extend({ field: OpeningStep.shape.field })),
  legs: z.array(RunLeg).min(1),
  closing: z.array(timedStep(ClosingStep.shape.step)),
  watches: Watches,
  /** Where it stands, to look at altitude, horizon and Sun before every frame; left out: they are not looked at. */
  site: Site.optional(),
  /** The rig is taken until then. */
  endMs: z.number(),
  offsets: AppliedOffsets.nullable(),
  /** What the sensor is cooled to where a step cools it [°C]; left out: the camera is not asked. */
  coolToC: z.number().optional(),
  /** Half-width of a focus run in steps. */
  focusReachSteps: z.number().positive(),
  /** So far past the meridian the mount follows before it stops by itself [deg]; left out: that is not known. */
  pastMeridianDeg: z.number().optional(),
  /** The guide star is held by a tip-tilt plate, and by the mount what is too much for that. */
  tipTilt: z.literal(true).optional(),
  /** What everything runs on; left out: it is switched by hand, and not looked at. */
  supply: z.strictObject({ switched: z.boolean(), closesBelowV: z.number().nullable() }).optional(),
  /** What a second camera does in the same time, while the lead’s mount stands; left out: there is none. */
  beside: z
    .strictObject({
      legs: z.array(RunLeg).min(1),
      offsets: AppliedOffsets.nullable(),
      focusReachSteps: z.number().positive(),
    })
    .optional(),
});
export type RunPlan = z.infer<typeof RunPlan>;

export const RunEvent = z.strictObject({
  /** Place of its leg in the plan; left out around the legs, and by nights from before this was kept. */
  leg: z.int().min(0).optional(),
  kind: z.union([EventKind, z.enum(['cloud', 'note', 'park', 'opening', 'closing'])]),
  start: z.string(),
  end: z.string(),
  filter: z.string().optional(),
  frame: z.int().optional(),
  /** What a wait is for, where somebody has to know. */
  because: z.literal('second-camera').optional(),
  /** What happened, by code and values; left out by nights from before there were codes. */
  phrase: PlainPhraseSchema.optional(),
  /** The same in metric units. */
  text: z.string(),
});
export type RunEvent = z.infer<typeof RunEvent>;

export const RunFrame = z.strictObject({
  /** Place of its leg in the plan; left out by nights from before there were legs: the first. */
  leg: z.int().min(0).default(0),
  filter: z.string(),
  frame: z.int(),
  start: z.string(),
  exposureS: z.number(),
  hfdPx: z.number(),
  stars: z.int(),
  eccentricity: z.number(),
  background: z.number(),
  focusPosition: z.number(),
  temperatureC: z.number(),
  /** The camera’s turn against the tube, where a rotator tells it [deg]. */
  rotatorDeg: z.number().optional(),
  accepted: z.boolean(),
  /** In metric units; the code and its values stand beside it. */
  reason: z.string(),
  reasonPhrase: PlainPhraseSchema.optional(),
  /** Null for a good frame, and for frames kept before there were codes. */
  refusal: RefusalCode.nullable().default(null),
});
export type RunFrame = z.infer<typeof RunFrame>;

export const RunFocus = z.strictObject({
  filter: z.string(),
  time: z.string(),
  temperatureC: z.number(),
  position: z.number(),
  hfd: z.number(),
  error: z.number(),
  usable: z.boolean(),
  points: z.array(z.strictObject({ position: z.number(), hfd: z.number() })),
});
export type RunFocus = z.infer<typeof RunFocus>;

const OneCamera = z.strictObject({
  start: z.string(),
  end: z.string(),
  events: z.array(RunEvent),
  frames: z.array(RunFrame),
  focusRuns: z.array(RunFocus),
  accepted: z.record(z.string(), z.int()),
  rejected: z.int(),
  lostS: z.record(z.string(), z.number()),
  openShutterS: z.number(),
  verdict: Verdict,
});
/** A run, with what a second camera took beside it. */
export const RunResult = OneCamera.extend({
  follower: OneCamera.nullable().default(null),
  /** What was asked to go wrong in it. */
  faults: z.array(z.enum(FAULTS)).default([]),
});
export type RunResult = z.infer<typeof RunResult>;
