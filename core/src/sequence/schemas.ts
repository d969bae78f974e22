import { z } from 'zod';
import { atLeastZero, count, explained, instant, noRepeats, positive, quantity } from '../calculation/index.ts';

export const FilterPlan = z.strictObject({
  name: z.string().min(1).max(40),
  exposureS: positive('s', 'Length of one exposure'),
  quota: count('Frames wanted in all').optional(),
  done: count('Frames of the quota that are already there').default(0),
  slot: z.int().min(0).optional(),
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

export const Spell = z
  .strictObject({ start: instant('Start'), end: instant('End') })
  .refine((s) => Date.parse(s.end) >= Date.parse(s.start), { path: ['end'], message: 'ends before it starts' });

export const TimelineInput = z
  .strictObject({
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
    blocked: z.array(Spell).max(500).default([]),
    conditions: z.unknown().optional(),
  })
  .superRefine((v, ctx) => {
    if (Date.parse(v.end) <= Date.parse(v.start))
      ctx.addIssue({ code: 'custom', path: ['end'], message: 'must lie after start' });
    if (v.order !== 'rolling')
      v.filters.forEach((f, i) => {
        if (f.quota === undefined)
          ctx.addIssue({
            code: 'custom',
            path: ['filters', i, 'quota'],
            message: `the ${v.order} order needs a quota`,
          });
      });
  });
export type TimelineInput = z.infer<typeof TimelineInput>;

export const EventKind = z.enum(['slew', 'focus', 'guide', 'filter', 'expose', 'download', 'dither', 'flip', 'wait']);
export type EventKind = z.infer<typeof EventKind>;

export const TimelineEvent = z.strictObject({
  kind: EventKind,
  start: z.string(),
  end: z.string(),
  filter: z.string().optional(),
  frame: z.int().optional(),
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
