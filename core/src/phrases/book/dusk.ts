/** Cooling, and what else of the evening has units of its own. */
export const duskPhrases = {
  'cooling.out-of-reach':
    '{setPointC} is out of reach tonight: {belowDeltaC:0} below the air, the cooler does {reachDeltaC:0}. Take {otherC}.',
  'cooling.strained':
    '{setPointC} takes {sharePercent} of the cooler’s reach; it may not hold steady. {yearC} would, all year.',
  'cooling.tonight-only':
    '{setPointC} is reached tonight, but not on the warmest night: a second dark library. {yearC} serves all year.',
  'cooling.good':
    '{setPointC} is reached in {waitMin} at {sharePercent} of the cooler’s reach, and on the warmest night too.',
  'alignment.agree': 'The tubes agree to {offArcmin}; up to {allowedArcmin} does no harm. Lock every screw.',
  'alignment.off': 'The second tube points {offArcmin} off; {allowedArcmin} is wanted.',
  'alignment.turn': '{way}, {turns:1} {turns|turn|turns}.',
} as const;
