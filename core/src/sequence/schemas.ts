import { z } from 'zod';
import { atLeastZero, count, explained, instant, noRepeats, positive, quantity, within } from '../calculation/index.ts';

/** Shortest exposure [s], longest plan [days] and most frames of one timeline: more is no night's plan, and holds the machine. */
export const SHORTEST_EXPOSURE_S = 0.001;
export const LONGEST_PLAN_DAYS = 31;
export const MOST_FRAMES = 100_000;

export const ClockSpell = z
  .strictObject({ start: instant('Start'), end: instant('End') })
  .refine((s) => Date.parse(s.end) >= Date.parse(s.start), { path: ['end'], message: 'ends before it starts' });

export const FilterPlan = z.strictObject({
  name: z.string().min(1).max(40),
  exposureS: within('s', SHORTEST_EXPOSURE_S, 1e6, 'Length of one exposure'),
  quota: count('Frames wanted in all').optional(),
  done: count('Frames of the quota that are already there').default(0),
  slot: z.int().min(0).optional(),
  during: z
    .array(ClockSpell)
    .max(50)
    .optional()
    .meta({ description: 'Only in these spells, in order; left out: always' }),
});
export type FilterPlan = z.infer<typeof FilterPlan>;

export const Order = z.enum(['rolling', 'block', 'lagging']);
export type Order = z.infer<typeof Order>;

const seconds = (d: string) => atLeastZero('s', d).default(0);
export const Overheads = z.strictObject({
  downloadS: seconds('Reading one frame out'),
  filterChangeS: seconds('Turning the wheel'),
  autofocusS: seconds('One focus run'),
  ditherS: seconds('One dither with settling'),
  slewCentreS: seconds('Slewing and centring'),
  flipS: seconds('Meridian flip with centring'),
  guideStartS: seconds('Starting the guider'),
});
export type Overheads = z.infer<typeof Overheads>;

export const Dither = z.strictObject({
  everyFrames: count('Frames between dithers, 0 = never').default(1),
  perRound: z.boolean().default(false),
});

export const FocusRule = z.strictObject({
  policy: z.enum(['every-change', 'offsets', 'every-change-and-time']),
  everyMin: positive('min', 'Longest time between focus runs').optional(),
  everyC: positive('°C', 'Largest change of temperature between focus runs').optional(),
  coolingCPerHour: quantity('°C/h', 'How fast the night cools').optional(),
  atStart: z.boolean().default(true),
  afterFlip: z.boolean().default(true),
});
export type FocusRule = z.infer<typeof FocusRule>;

/** Frames a span can hold at most, by exposure, read-out and quota alone. */
export function mostFrames(filters: readonly FilterPlan[], downloadS: number, spanS: number): number {
  const fit = (f: FilterPlan) => spanS / (f.exposureS + downloadS);
  const wanted = filters.map((f) => Math.min(f.quota === undefined ? Infinity : Math.max(0, f.quota - f.done), fit(f)));
  return Math.min(
    Math.max(...filters.map(fit)),
    wanted.reduce((s, n) => s + n, 0),
  );
}

export const TimelineFields = z.strictObject({
  start: instant('First moment the plan may use'),
  end: instant('Last moment the plan may use'),
  filters: z
    .array(FilterPlan)
    .min(1, 'at least one filter is needed')
    .max(30)
    .superRefine(noRepeats((f) => f.name, 'the filter')),
  order: Order,
  overheads: Overheads.prefault({}),
  dither: Dither.prefault({}),
  focus: FocusRule,
  flipAt: instant('When the target crosses the meridian').nullish(),
  blocked: z.array(ClockSpell).max(500).default([]),
  conditions: z.unknown().optional(),
});

type Planned = Pick<z.infer<typeof TimelineFields>, 'start' | 'end' | 'filters' | 'overheads' | 'order'>;
/** What only the whole plan can be asked: that it lies in time, can be listed, and says what its order needs. */
export function timelineComplaints(
  v: Planned,
  ctx: { addIssue: (issue: { code: 'custom'; path: (string | number)[]; message: string }) => void },
): void {
  const spanS = (Date.parse(v.end) - Date.parse(v.start)) / 1000;
  if (!(spanS > 0)) ctx.addIssue({ code: 'custom', path: ['end'], message: 'must lie after start' });
  if (spanS > LONGEST_PLAN_DAYS * 86_400)
    ctx.addIssue({ code: 'custom', path: ['end'], message: `must lie within ${LONGEST_PLAN_DAYS} days of start` });
  else if (mostFrames(v.filters, v.overheads.downloadS, spanS) > MOST_FRAMES)
    ctx.addIssue({
      code: 'custom',
      path: ['filters'],
      message: `could take more than ${MOST_FRAMES} frames in this span: longer exposures, smaller quotas or a shorter span`,
    });
  if (v.order !== 'rolling')
    v.filters.forEach((f, i) => {
      if (f.quota === undefined)
        ctx.addIssue({ code: 'custom', path: ['filters', i, 'quota'], message: `the ${v.order} order needs a quota` });
    });
}
export const TimelineInput = TimelineFields.superRefine(timelineComplaints);
export type TimelineInput = z.infer<typeof TimelineInput>;

export const EventKind = z.enum(['slew', 'focus', 'guide', 'filter', 'expose', 'download', 'dither', 'flip', 'wait']);
export type EventKind = z.infer<typeof EventKind>;

export const TimelineEvent = z.strictObject({
  kind: EventKind,
  start: z.string(),
  end: z.string(),
  filter: z.string().optional(),
  frame: z.int().optional(),
  /** What a wait is for, where it is for somebody else. */
  because: z.literal('second-camera').optional(),
});
export type TimelineEvent = z.infer<typeof TimelineEvent>;

export const TimelineOutput = z.strictObject({
  events: z.array(TimelineEvent),
  frames: z.record(z.string(), z.int()),
  openShutterS: z.number(),
  efficiency: z.number(),
  overheadS: z.record(EventKind.exclude(['expose']), z.number()),
  completeRounds: z.int(),
  ...explained,
});
export type TimelineOutput = z.input<typeof TimelineOutput>;
