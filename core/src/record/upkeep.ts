import { addDays } from '../sky/index.ts';

/** What comes again on a rig: after so many days, after so many nights of work, or whichever of the two is first. */
export interface UpkeepRule {
  everyDays: number | null;
  everyNights: number | null;
}
export interface UpkeepDue {
  /** Over: it is to be done now; soon: it can be planned for. */
  state: 'over' | 'soon' | 'later';
  /** The day by which it is to be done; null: nights alone decide. */
  date: string | null;
  /** Nights of work that are left, below zero past them; null: days alone decide. */
  nightsLeft: number | null;
}
/** So early it is told that a day comes nearer; common practice, no source [d]. */
export const SOON_DAYS = 14;
/** So much of its nights is left when it is told. */
export const SOON_SHARE = 0.15;

/**
 * When something that comes again is due.
 * @param of  the day it was done last, or begun to be counted; the nights worked since
 */
export function upkeepDue(rule: UpkeepRule, of: { since: string; nights: number; today: string }): UpkeepDue {
  const date = rule.everyDays === null ? null : addDays(of.since, rule.everyDays);
  const nightsLeft = rule.everyNights === null ? null : rule.everyNights - of.nights;
  const over = (date !== null && of.today >= date) || (nightsLeft !== null && nightsLeft <= 0);
  const soon =
    (date !== null && addDays(of.today, SOON_DAYS) >= date) ||
    (nightsLeft !== null && nightsLeft <= Math.ceil(SOON_SHARE * rule.everyNights!));
  return { state: over ? 'over' : soon ? 'soon' : 'later', date, nightsLeft };
}
