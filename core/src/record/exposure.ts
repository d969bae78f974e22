/** Exposures this close are one, as a share of the longer: cameras and their programs write them rounded. Common practice, no source. */
export const SAME_EXPOSURE_SHARE = 0.001;
/** Limits are included, whatever decimals do in the last digit [s]. */
const SLACK_S = 1e-9;

/** Are two exposures [s] of one length? */
export const sameExposure = (aS: number, bS: number): boolean =>
  Math.abs(aS - bS) <= SAME_EXPOSURE_SHARE * Math.max(aS, bS) + SLACK_S;
