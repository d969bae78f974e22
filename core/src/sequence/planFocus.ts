import type { SpokenVerdict } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';
import type { PlanSettings } from './plan.ts';
import type { TimelineOutput } from './schemas.ts';

/** What a plan needs to know of adopted offsets. */
export interface KnownOffsets {
  offsets: Readonly<Record<string, { error: number }>>;
  /** Critical focus zone; null where it is not known. */
  zoneSteps: number | null;
}

/**
 * Whether focusing as planned will hold: offsets there, for every filter, each known to within the focus zone (twice its
 * error inside half the zone).
 * @param train the train state's words, for the sentence
 * @returns null when nothing stands against it
 */
export function planFocus(settings: PlanSettings, known: KnownOffsets | null, train: string): SpokenVerdict | null {
  if (settings.focus.policy !== 'offsets' || settings.filters.length < 2) return null;
  if (!known) return makeVerdict('bad', phrase('plan.no-offsets', { train }));
  const names = settings.filters.map((f) => f.name);
  const missing = names.filter((f) => !(f in known.offsets));
  if (missing.length)
    return makeVerdict('bad', phrase('plan.offset-missing', { filters: missing, train, n: missing.length }));
  const { zoneSteps } = known;
  const weak = names.filter((f) => zoneSteps !== null && 2 * known.offsets[f]!.error > zoneSteps / 2);
  return weak.length ? makeVerdict('caution', phrase('plan.offset-weak', { filters: weak })) : null;
}

/** At least so many focus runs a leg asks for: one each time the filter of its frames changes, unless it moves by offsets. */
export function focusRunsAsked(
  schedule: Pick<TimelineOutput, 'events'> | null,
  policy: PlanSettings['focus']['policy'],
): number {
  if (policy === 'offsets' || !schedule) return 0;
  const exposed = schedule.events.filter((e) => e.kind === 'expose');
  return exposed.filter((e, k) => e.filter !== exposed[k - 1]?.filter).length;
}
