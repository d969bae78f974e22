import { framesThere, type Gathered } from '../record/index.ts';
import { z } from 'zod';
import { count, noRepeats, positive, quantity, within } from '../calculation/index.ts';
import { Dither, FocusRule, Order, type Overheads, type TimelineInput } from './schemas.ts';

/** When the Moon lets a filter be used: always, while it is down, or while it is down or so far from the object. */
export const MoonRule = z.discriminatedUnion('by', [
  z.strictObject({ by: z.literal('any') }),
  z.strictObject({ by: z.literal('down') }),
  z.strictObject({ by: z.literal('apart'), deg: within('deg', 1, 180, 'Least distance from the Moon') }),
]);
export type MoonRule = z.infer<typeof MoonRule>;

/** What a person decides about a night's sequence; the rest follows from rig, sky and progress. */
export const PlanSettings = z.strictObject({
  filters: z
    .array(
      z.strictObject({
        name: z.string().trim().min(1).max(40),
        exposureS: positive('s', 'Length of one exposure').max(7200),
        quota: count('Frames wanted in all').min(1).max(9999),
        moon: MoonRule.optional(),
      }),
    )
    .min(1, 'choose at least one filter')
    .max(12)
    .superRefine(noRepeats((f) => f.name, 'the filter')),
  order: Order,
  dither: Dither,
  focus: FocusRule.pick({ policy: true, everyMin: true, everyC: true }),
  coolingCPerHour: quantity('°C/h', 'Expected cooling').default(1),
});
export type PlanSettings = z.infer<typeof PlanSettings>;

/** Timeline input of a plan: settings, the span it may use, the rig's overheads, and the frames already there. */
export function timelineInputOf(plan: {
  settings: PlanSettings;
  start: string;
  end: string;
  overheads: Overheads;
  /** Accepted frames of its project, by filter and length. */
  done: readonly Gathered[];
  flipAt?: string | null;
  /** Where the Moon's rule leaves a filter only part of the night. */
  during?: Record<string, TimelineInput['filters'][number]['during']>;
}): TimelineInput {
  const { settings } = plan;
  return {
    start: plan.start,
    end: plan.end,
    filters: settings.filters.map(({ moon: _, ...f }) => {
      const during = plan.during?.[f.name];
      return { ...f, done: framesThere(plan.done, f), ...(during ? { during } : {}) };
    }),
    order: settings.order,
    overheads: plan.overheads,
    dither: settings.dither,
    focus: { ...settings.focus, coolingCPerHour: settings.coolingCPerHour, atStart: true, afterFlip: true },
    flipAt: plan.flipAt ?? null,
    blocked: [],
  };
}
