/** How long a frame, how many of them, under what sky. */
export const exposurePhrases = {
  'exposure.sky': 'The sky puts {perMinute:1} electrons a minute into each pixel.',
  'exposure.sub': 'Expose {recommendedS}: read noise adds {addedPercent} to the noise of the sky.',
  'exposure.filters': 'Set {perFilter}: read noise adds at most {addedPercent} to the noise of the sky.',
  'exposure.filters-clip':
    'Set {perFilter}; through {filters} the brightest star kept fills its pixel before read noise is drowned: shorter frames, more of them.',
  'exposure.flexure':
    'Set {perFilter}, but the guide scope bends: after {flexureS} stars trail by a pixel. Shorter frames, or an off-axis guider.',
  'exposure.creep':
    'Set {perFilter}, but stars crept in the last guide log: after {creepS} they trail by a pixel. Shorter frames, or find what creeps.',
  'exposure.clips-first':
    'Stars fill their pixels after {clipS}, before read noise is drowned ({minimumS}): expose {recommendedS}, and more of them; read noise adds {addedPercent}.',
  'exposure.beyond-habit':
    'The sky is so dark through this filter that {minimumS} would be wanted; {recommendedS} is the longest in use, and read noise adds {addedPercent}.',
  'exposure.moon': 'Frames of {exposureMs:1}: {frames:0} in the series, of which the best {kept:0} are worth keeping.',
  'exposure.moon-whole': 'The whole Moon fits.',
  'exposure.moon-mosaic': 'The whole Moon takes {panels:0} fields.',
  'exposure.integration': '{subs} {subs|frame|frames}, {openHours} of open shutter, for a signal to noise of {snr:0}.',
} as const;
