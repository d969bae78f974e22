/** What others just did, said while one sits at the same club. */
export const livePhrases = {
  'live.plans': '{by} has just changed what is planned on {rig} for {night}.',
  'live.rig': '{by} has just changed {rig}.',
} as const;
