import { z } from 'zod';
import { atLeastZero, instant, noRepeats, quantity, within } from '../calculation/index.ts';
import { PlanSettings } from './plan.ts';

/** Ends of the twilights, deepest last. */
export const Twilight = z.enum(['sunset', 'civil', 'nautical', 'astronomical']);
export type Twilight = z.infer<typeof Twilight>;

const offsetMin = quantity('min', 'Minutes later; negative: earlier').min(-360).max(360).default(0);

/** One end of a leg's window: a clock, or something the sky does. */
export const Bound = z.discriminatedUnion('by', [
  /** As soon (as long) as the object stands above its limit and the horizon, and it is astronomically dark. */
  z.strictObject({ by: z.literal('free'), offsetMin }),
  z.strictObject({ by: z.literal('clock'), at: instant('This moment') }),
  /** From dusk, until dawn. */
  z.strictObject({ by: z.literal('darkness'), which: Twilight, offsetMin }),
  /** From rising above it, until sinking below it. */
  z.strictObject({ by: z.literal('altitude'), deg: within('deg', 0, 89, 'Altitude of the object'), offsetMin }),
  /** From moonset, until moonrise. */
  z.strictObject({ by: z.literal('moon'), offsetMin }),
]);
export type Bound = z.infer<typeof Bound>;

/**
 * Main legs follow each other as listed. A fixed one (a transit, an occultation) takes its hours from whoever has them. A
 * backup fills gaps that the others leave.
 */
export const LegRole = z.enum(['main', 'fixed', 'backup']);
export type LegRole = z.infer<typeof LegRole>;

/** A second camera of the rig that exposes beside a leg; dithering is the lead’s. */
export const Follower = z.strictObject({
  projectId: z.string().min(1).max(64),
  settings: PlanSettings,
  /** The mount waits for its frames before it moves; else it takes what fits between the lead’s moves. */
  waitedFor: z.boolean().default(false),
});
export type Follower = z.infer<typeof Follower>;

/** Eight by eight. */
export const MOST_PANELS = 64;

/** One target’s share of a night. */
export const Leg = z.strictObject({
  id: z.string().regex(/^[a-z0-9-]{1,40}$/, 'small letters, digits and hyphens'),
  projectId: z.string().min(1).max(64),
  /** Of the mosaic its project is framed as, counted from 0; null: the middle of the framing. */
  panel: z
    .int()
    .min(0)
    .max(MOST_PANELS - 1)
    .nullable()
    .default(null),
  role: LegRole.default('main'),
  /** Main legs that stand together with it and have one too take turns this long; null: one is finished before the next. */
  turnMin: quantity('min', 'Length of a turn').min(10).max(240).nullable().default(null),
  from: Bound,
  until: Bound,
  /** How low the Sun has to be; left out: as its ends by darkness say, else astronomically dark. */
  darkness: Twilight.optional(),
  settings: PlanSettings,
  guiding: z.boolean().default(true),
  /** How near the middle the object has to stand before the first frame. */
  centreWithinArcmin: within('arcmin', 0.05, 30, 'Largest error of centring').default(0.5),
  /** What is done when the object crosses the meridian. */
  meridian: z.enum(['flip', 'stop']).default('flip'),
  follower: Follower.nullable().default(null),
});
export type Leg = z.infer<typeof Leg>;

/** Legs of one night at most. */
export const MOST_LEGS = 20;
/** The legs of a plan, of whatever a leg carries beyond these fields. */
export const legList = <S extends z.ZodType<{ id: string }>>(leg: S) =>
  z
    .array(leg)
    .min(1, 'a night plan needs at least one leg')
    .max(MOST_LEGS)
    .superRefine(noRepeats((l) => l.id, 'the leg'));
export const Legs = legList(Leg);

const minutes = atLeastZero('min', 'How long it takes').max(240);
/** Not before the Sun is this low; nothing: as soon as the step before is done. */
const notBefore = Twilight.nullable().default(null);

export const OpeningStep = z.strictObject({
  step: z.enum(['connect', 'cool', 'roof', 'home', 'focus', 'solve']),
  minutes,
  notBefore,
  /** Where it is focused: a field without bright nebulae, high up. */
  field: z
    .strictObject({
      altitudeDeg: within('deg', 10, 89, 'Altitude of the focus field'),
      azimuthDeg: within('deg', 0, 360, 'Azimuth of the focus field'),
    })
    .nullable()
    .default(null),
});
export type OpeningStep = z.infer<typeof OpeningStep>;

export const ClosingStep = z.strictObject({
  step: z.enum(['flats', 'park', 'roof', 'warm', 'disconnect']),
  minutes,
  /** Not before the Sun is this high again, for flats in the dawn. */
  notBefore,
  filters: z.array(z.string().trim().min(1).max(40)).max(12).default([]),
});
export type ClosingStep = z.infer<typeof ClosingStep>;

/** What is done when a limit is passed: closed until it is well below again, or closed for good. */
const Then = z.enum(['wait', 'close']);

/** Kept from the Sun until somebody says otherwise [deg]; common practice, no source. */
export const SUN_DISTANCE_DEG = 30;

/** Rules that are looked at all night. */
export const Watches = z.strictObject({
  /** A frame that lies so far from where it should is followed by centring again: a telescope was bumped, or slips. */
  recentreAboveArcmin: within('arcmin', 0.2, 60, 'Largest error of pointing').nullable().default(1),
  wind: z
    .strictObject({ aboveMS: within('m/s', 1, 40, 'Strongest wind'), then: Then })
    .nullable()
    .default(null),
  damp: z
    .strictObject({ abovePercent: within('%', 30, 100, 'Greatest humidity'), then: Then })
    .nullable()
    .default(null),
  /** The night is closed after so long under cloud without a break; null: it is waited for until the end. */
  cloudClosesAfterMin: quantity('min', 'Longest cloud waited out').min(5).max(600).nullable().default(null),
  /** No leg goes on once the Sun is this high again; null: legs end by their own windows alone. */
  sunStops: Twilight.nullable().default(null),
  /** While the Sun is up the tube comes no nearer to it than this, on no motion. */
  sunDistanceDeg: within('deg', 10, 90, 'Distance kept from the Sun').default(SUN_DISTANCE_DEG),
});
export type Watches = z.infer<typeof Watches>;

/** Steps for which the mount moves. */
const MOVES: ReadonlySet<string> = new Set<OpeningStep['step']>(['home', 'focus', 'solve']);

export const Opening = z
  .array(OpeningStep)
  .max(6)
  .superRefine(noRepeats((s) => s.step, 'the step'))
  .superRefine((steps, c) => {
    const roof = steps.findIndex((s) => s.step === 'roof');
    const moved = steps.findIndex((s) => MOVES.has(s.step));
    if (moved >= 0 && moved < roof)
      c.addIssue({
        code: 'custom',
        path: [roof, 'step'],
        message: 'the roof is opened before anything moves under it',
      });
  })
  .default([]);
export const Closing = z
  .array(ClosingStep)
  .max(5)
  .superRefine(noRepeats((s) => s.step, 'the step'))
  .default([]);

/** What a person decides about a whole night of one rig. */
export const NightPlan = z.strictObject({
  opening: Opening,
  legs: Legs,
  closing: Closing,
  watches: Watches.prefault({}),
});
export type NightPlan = z.infer<typeof NightPlan>;

/** What is looked at all night until somebody says otherwise. */
export const USUAL_WATCHES: Watches = {
  recentreAboveArcmin: 1,
  wind: null,
  damp: null,
  cloudClosesAfterMin: null,
  sunStops: null,
  sunDistanceDeg: SUN_DISTANCE_DEG,
};

/** Lengths of the usual steps [min]: common practice, no source. Cooling follows the quarter of an hour people allow. */
export function usualOpening(autofocusS: number): OpeningStep[] {
  const plain = (step: OpeningStep['step'], min: number, more: Partial<OpeningStep> = {}): OpeningStep => ({
    step,
    minutes: min,
    notBefore: null,
    field: null,
    ...more,
  });
  return [
    plain('connect', 3),
    plain('cool', 15),
    plain('home', 2),
    plain('focus', Math.ceil(autofocusS / 60) + 2, {
      notBefore: 'nautical',
      field: { altitudeDeg: 65, azimuthDeg: 180 },
    }),
    plain('solve', 2),
  ];
}
/** How long steps take, one after the other [ms]. */
export const stepsMs = (steps: readonly { minutes: number }[]): number =>
  steps.reduce((s, x) => s + x.minutes, 0) * 60_000;
export const usualClosing = (): ClosingStep[] =>
  (['park', 'warm', 'disconnect'] as const).map((step) => ({
    step,
    minutes: step === 'warm' ? 10 : 1,
    notBefore: null,
    filters: [],
  }));
