/** What a code is called where it is named, not explained: in lists, headings and menus. */
export const namePhrases = {
  // what a frame shows
  'name.prism-shadow': 'prism shadow',
  'name.cloud': 'cloud',
  'name.defocus': 'defocus',
  'name.crowded': 'crowded',
  'name.too-few-stars': 'too few stars',
  'name.trailing': 'trailing',
  'name.spacing-radial': 'spacing, radial',
  'name.spacing-tangential': 'spacing, tangential',
  'name.elongated': 'elongated',
  'name.tilt': 'tilt',
  'name.coma': 'coma',
  'name.one-sided': 'one-sided',
  'name.round': 'round',
  // what a guide log shows
  'name.hot-pixel-lock': 'lock on a hot pixel',
  'name.hot-pixel-suspect': 'suspected hot pixel',
  'name.over-correction-ra': 'over-correction in right ascension',
  'name.over-correction-dec': 'over-correction in declination',
  'name.dec-backlash': 'backlash in declination',
  'name.gust': 'gust',
  'name.periodic-error': 'periodic error',
  'name.polar-drift': 'polar drift',
  'name.star-lost': 'star lost',
  'name.calm': 'calm',
  // what a simulated night is given
  'name.none': 'healthy',
  'name.over-correction': 'over-correction',
  'name.worm': 'worm',
  'name.hot-pixel': 'hot pixel',
  'name.gusts': 'gusts',
  'name.polar': 'polar',
  'name.backlash': 'backlash',
  // kinds of parts
  'name.tube': 'tube',
  'name.rings': 'rings',
  'name.focuser': 'focuser',
  'name.reducer': 'reducer',
  'name.adapter': 'adapter',
  'name.guider-prism': 'guider prism',
  'name.wheel': 'wheel',
  'name.camera': 'camera',
  'name.guide-camera': 'guide camera',
  'name.guide-scope': 'guide scope',
  'name.lens': 'lens',
  'name.mount': 'mount',
  'name.counterweight': 'counterweight',
  'name.accessory': 'accessory',
  // when a plan focuses
  'name.every-change': 'every change',
  'name.offsets': 'offsets',
  'name.every-change-and-time': 'every change and time',
} as const;

/** A code that has a name. */
export type NameCode = keyof typeof namePhrases extends `name.${infer C}` ? C : never;
