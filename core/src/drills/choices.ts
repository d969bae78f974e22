/** What can be the matter. Each is worded in the book as `cause.…`, and under `cause.…-shows` by what it would show. */
export const CAUSES = [
  'side-mass', 'weights-short', 'nose-heavy', 'clamp-loose',
  'spacing', 'tilt', 'collimation', 'prism-deep', 'prism-shallow', 'dust', 'guide-reach', 'no-infocus',
  'flexure', 'hot-pixel', 'over-correction', 'backlash', 'polar', 'wind', 'worm', 'cloud', 'guide-star-faint',
  'no-flip', 'block-order', 'no-wait', 'unsynchronised', 'satellite', 'clipping', 'moonlight',
  'cooling-tube', 'dew', 'wrong-offset', 'bad-air', 'daylight-saving', 'wrong-longitude', 'tripod-moved',
] as const; // prettier-ignore
export type Cause = (typeof CAUSES)[number];

/** What can be done about it; worded as `cure.…`. */
export const CURES = [
  'trim-opposite', 'more-weight', 'slide-tube', 'tighten-clamp',
  'change-spacing', 'square-sensor', 'collimate', 'prism-out', 'prism-in', 'new-flats', 'guide-spacer', 'shorten-train',
  'off-axis', 'move-off-pixel', 'correct-less', 'correct-more', 'one-way-dec', 'align-pole', 'wind-shield', 'learn-worm',
  'wait-for-sky', 'brighter-star', 'plan-flip', 'roll-filters', 'wait-settled', 'dither-together', 'keep-frame', 'shorter-exposure',
  'refocus-by-temperature', 'heat-glass', 'new-offset', 'refuse-frames', 'standard-time', 'other-zone', 'longer-exposure',
] as const; // prettier-ignore
export type Cure = (typeof CURES)[number];
