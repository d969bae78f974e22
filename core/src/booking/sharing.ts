import { z } from 'zod';
import { within } from '../calculation/index.ts';
import { phrase, type PlainPhrase } from '../phrases/index.ts';

/**
 * How the hours of a night are had: by calendar, whoever books them; by queue, whoever the rules of the coming nights choose;
 * mixed, what nobody booked goes by the rules.
 */
export const SharingWay = z.enum(['calendar', 'queue', 'mixed']);
export type SharingWay = z.infer<typeof SharingWay>;

/** How a rig is shared. */
export const Sharing = z.strictObject({
  /** By weekday of the evening, Monday first. */
  ways: z.array(SharingWay).length(7),
  /** A steward looks at each booking before it stands. */
  approval: z.boolean(),
  /** So many nights ahead may be booked, tonight the first. */
  aheadNights: z.int().min(1).max(400),
  /** Hours one member may have booked and not yet had; null: as many as they like. */
  mostHours: within('h', 1, 500, 'Hours a member may have booked ahead').nullable(),
});
export type Sharing = z.infer<typeof Sharing>;

/** Until somebody says otherwise: what nobody books goes by the rules. */
export const USUAL_SHARING: Sharing = {
  ways: Array.from({ length: 7 }, () => 'mixed' as const),
  approval: false,
  aheadNights: 60,
  mostHours: null,
};

/** Which way a night of a rig goes. @param night its evening, a date */
export const wayOf = ({ ways }: Pick<Sharing, 'ways'>, night: string): SharingWay =>
  ways[(new Date(`${night}T12:00:00Z`).getUTCDay() + 6) % 7]!;

/** What a club counts when it shares. */
export const SeasonRules = z.strictObject({
  /** Hours had in so many past days and hours to come are made equal together; null: no shares. */
  fairDays: z.int().min(1).max(730).nullable(),
  /** How much of an hour that was promised and lost to cloud counts as had. */
  cloudShare: within('', 0, 1, 'Share of clouded hours that counts as had'),
});
export type SeasonRules = z.infer<typeof SeasonRules>;
export const USUAL_RULES: SeasonRules = { fairDays: 90, cloudShare: 0 };

/** The rule in one sentence. */
export const rulePhrase = ({ fairDays, cloudShare }: SeasonRules): PlainPhrase =>
  fairDays === null
    ? phrase('season.rule-open')
    : cloudShare === 0
      ? phrase('season.rule-fair', { fairDays })
      : phrase('season.rule-fair-cloud', { fairDays, cloudPercent: Math.round(100 * cloudShare) });
