/** What a night that was brought in says. */
export const nightPhrases = {
  'night.drift': '{driftStepsPerC:+1} (±{errorStepsPerC:1-}) over {settings} settings.',
  'night.drift-agrees': 'That agrees with the adopted {adoptedStepsPerC:+1}.',
  'night.drift-disagrees':
    'The adopted offsets say {adoptedStepsPerC:+1}: more than three times the uncertainty away. Take focus runs before they are trusted again.',
} as const;
