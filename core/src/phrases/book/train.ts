/** Distances behind the corrector, the guide camera's focus, the prism, the focuser's reach. */
export const trainPhrases = {
  'train.short': '{offMm:2} short: add {offMm:2} between corrector and sensor.',
  'train.long': '{offMm:2} too long: take {offMm:2} out between corrector and sensor.',
  'train.exact': 'Exactly at the wanted distance, within ±{toleranceMm:2}.',
  'train.before': '{offMm:2} short of the wanted distance, within ±{toleranceMm:2}.',
  'train.beyond': '{offMm:2} beyond the wanted distance, within ±{toleranceMm:2}.',
  'train.unsure':
    '{offMm:2} off the wanted distance by the lengths in use, but not within it by every documented or measured one: measure the parts that differ.',
  'train.range': 'By documented or measured lengths the residual is {minMm:+2} to {maxMm:+2}.',
  'train.is-corrector':
    '“{name}” sounds like the corrector: say whether it is, for only what stands behind the corrector counts.',
  'train.is-camera':
    'Something stands behind “{name}”: say whether that is the camera, for nothing behind the sensor counts.',
  'train.behind-sensor': 'Behind the sensor and not counted: {names}.',
  'train.assumed': 'Assumed, not measured: {names}.',
  'train.assumed-distance': 'The {requiredMm:1} asked for are assumed too: read them from the corrector’s papers.',
  'train.guide-near': 'The guide camera cannot focus: {offMm:1} too near. Add that much on the guide side.',
  'train.guide-far':
    'The guide camera cannot focus: {offMm:1} too far out. Take that much away on the guide side, or add it between guider and main camera.',
  'train.guide-focus': 'Guide focuser at {settingMm:1} brings both cameras to focus.',
  'train.guide-tight':
    'Guide focuser at {settingMm:1} brings both cameras to focus, but close to the end of its travel.',
  'train.spacers': '{stack} makes {totalMm:2} for {gapMm:2}.',
  'train.spacers-none':
    'Nothing in the drawer fills {gapMm:2} within ±{toleranceMm:2}; nearest is {stack}, {offMm:2} {way}.',
  'train.spacers-none-looked-at':
    'No stack that was looked at fills {gapMm:2} within ±{toleranceMm:2}; nearest of them is {stack}, {offMm:2} {way}.',
  'train.drawer-none-looked-at': 'No stack that was looked at serves this; the search was cut short. {lacks}.',
  'train.looked-at-pieces':
    'Only stacks of up to {pieces} were looked at: more of so many kinds are too many for one search.',
  'train.looked-at-part': 'Too many stacks for one search: this is the best of what was looked at.',
  'train.drawer-none': 'The drawer cannot serve this configuration: {lacks}.',
  'train.drawer-none-together': 'The drawer cannot serve all configurations together: {lacks}.',
  'train.lack-between':
    'the guide camera needs {missingMm:1} more between guider and main camera, and no piece in the drawer gives it',
  'train.lack-own-side': 'the guide camera needs {missingMm:1} more on its own side',
  'train.lack-too-long': '{name}: the pieces that stay are {overMm:1} too long already',
  'train.lack-short': '{name}: nearest stack is {missMm:2} short, or its threads do not meet',
  'train.lack-long': '{name}: nearest stack is {missMm:2} long, or its threads do not meet',
  'train.lack-any': 'no stack fits within tolerance and threads',
  'train.behind-guider': 'Behind the guider {pieces}.',
  'train.behind-guider-nothing': 'Behind the guider nothing.',
  'train.between': 'Before the camera {pieces}.',
  'train.stack-for': '{name}: {pieces} ({errorMm:+2}).',
  'train.stack-for-nothing': '{name}: nothing ({errorMm:+2}).',
  'train.no-chain-looked-at':
    'No way from {from} to {to} among the chains that were looked at; there are too many for one search.',
  'train.no-chain': 'No way from {from} to {to} with these adapters.',
  'train.as-they-are': '{from} and {to} go together as they are.',
  'optics.field': '{pixelArcsec} per pixel, {widthDeg:2} × {heightDeg:2}.',
  'optics.field-under': '{pixelArcsec} per pixel, {widthDeg:2} × {heightDeg:2}, coarse for this seeing.',
  'optics.field-good': '{pixelArcsec} per pixel, {widthDeg:2} × {heightDeg:2}, well matched to the seeing.',
  'optics.field-over': '{pixelArcsec} per pixel, {widthDeg:2} × {heightDeg:2}, finer than the seeing deserves.',
  'optics.reducer': '{factor:3}× here, {focalLengthMm}.',
  'optics.reducer-weaker': '{factor:3}× here, {focalLengthMm}: {changePercent:1} weaker than designed.',
  'optics.reducer-stronger': '{factor:3}× here, {focalLengthMm}: {changePercent:1} stronger than designed.',
  'optics.corners': 'Corners may suffer.',
  'train.joined': '{stack} joins them, {lengthMm:1} long.',
  'train.prism-shades':
    'The prism shades {areaPercent:1} of the sensor, up to {edgePercent} at its edge. Move it {outMm:1} outward, to {clearMm:1}.',
  'train.prism-shades-nowhere':
    'The prism shades {areaPercent:1} of the sensor, up to {edgePercent} at its edge. It is clear of the light {outMm:1} further out, but the window would leave the image circle there.',
  'train.prism-outside-nowhere':
    'No shadow, but the window lies outside the image circle, and nearer to the axis the prism would cast one.',
  'train.prism-touches':
    'It touches the light at the sensor’s edge: {edgePercent:1} there at most, too little to see; {outMm:1} further out there is none. The window sees {lightPercent} of the light.',
  'train.prism-outside':
    'No shadow, but the window lies outside the image circle: the prism must come {inMm:1} further in at most, to {clearMm:1}.',
  'train.prism-small': 'No shadow; the prism is small for this cone and passes {lightPercent} of the light.',
  'train.prism-clear':
    'No shadow, {spareMm:1} to spare; the window sees {lightPercent} of the light inside the image circle.',
  'train.prism-short-side':
    'It stands beside the short side; beside the long side it can come closer to the axis, where stars are rounder and light is fuller.',
  'train.prism-deep-shadow':
    'A shadow this deep is not removed by flats: too little light is left to divide by. Move the prism.',
  'train.prism-faint-shadow':
    'One school divides a faint, soft shade like this out with flats taken in this very position; the other moves the prism until none is left. Moving it is the cure that cannot fail.',
  'train.prism-further-in': 'It could come {inMm:1} further in before it casts a shadow: better stars for the guider.',
  'train.prism-no-place':
    'No place is both free of shadow and inside the image circle here: a smaller prism, or the other side of the sensor.',
  'train.prism-closer':
    'Farther from the sensor the cone is wider than the prism; bring guider and camera closer together.',
  'train.in-focus': 'In focus with the drawtube out {drawtubeMm:1}, no rings.',
  'train.in-focus-rings': 'In focus with the drawtube out {drawtubeMm:1} and {rings} of rings.',
  'signs.shaded': 'Here it does: move it {outMm:1} outward, to {clearMm:1}.',
  'signs.not-shaded': 'Not this prism: it is {spareMm:1} clear. Look for the wheel’s rim, or frost.',
  'signs.beyond-circle':
    'Here the window’s centre is {radiusMm:1} off axis, beyond the circle: bring the prism inward.',
  'signs.light':
    'Here it sees {lightPercent} of the light inside the circle: look for a prism face turned away from the sky.',
  'signs.focuses': 'Here it can: helical focuser at {settingMm:1}. Focus the main camera first, then the guider.',
  'signs.guide-side-short': 'Here {missingMm:1} are missing on the guide side: add a spacer of that length.',
  'signs.guide-side-long':
    'Here the guide side is {overMm:1} too long: take a spacer out, or put one between guider and main camera.',
  'signs.focuser-travel': 'See Focuser travel: rings out gains in-focus, rings in gains out-focus.',
  'train.ring': '{ringMm}',
  'train.in-missing': '{offMm:1} of in-focus are missing: shorten the stack by that much.',
  'train.out-missing': '{offMm:1} of out-focus are missing: add a ring of about that length.',
} as const;
