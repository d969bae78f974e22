/** Dithers, and two cameras that wait for each other. */
export const ditherPhrases = {
  'dither.weak': '{cameras}: fixed pattern stays there. Take the coarsest camera as reference.',
  'dither.only-in': 'only {sizePx} in the {name}',
  'dither.good': '{sizeArcsec:1} a dither, {totalS} with settling: {cameras}.',
  'dither.in': '{sizePx} in {name}',
  'dither.few-places': '{filters} would get only {places} different {places|place|places}: dither more often.',
  'dither.cycle':
    '{frames} follower {frames|frame|frames} a dither: shutters open {leadPercent} and {followerPercent}.',
  'dither.suggestion': 'With {exposureS} the follower reaches {followerPercent}.',
} as const;
