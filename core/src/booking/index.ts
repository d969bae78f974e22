export { SeasonRules, Sharing, SharingWay, rulePhrase, USUAL_RULES, USUAL_SHARING, wayOf } from './sharing.ts';
export {
  BookingOrigin,
  BookingState,
  HoursOutcome,
  movingUp,
  overlap,
  stretches,
  takesHours,
  TAKES_HOURS,
  type Hours,
} from './hours.ts';
export { hadSince, ledger, type LedgerBooking, type LedgerLine, type LedgerNight } from './ledger.ts';
