/** Guide stars, the guider's calibration, flexure, what a guide log shows. */
export const guidingPhrases = {
  'guide.limit':
    'Stars to magnitude {limitingMag:1-} guide at a signal to noise of {snr} in {exposureS}, centred to {centringArcsec}.',
  'guide.pulses': 'Pulses of {pulseMs}, {n} {n|step|steps}, move the star {wayArcsec:0}.',
  'guide.pulses-high': 'So far from the equator right ascension moves it little: calibrate within {withinDeg} of it.',
  'guide.flexure-none': 'No drift beyond the scatter of {scatterPx:2} in {spanMin}.',
  'guide.flexure': 'Stars drift {perMinuteArcsec:3} a minute: {trailPx:2} of trail after {longestS}.',
  'guide.budget-flexure':
    'Flexure trails stars {trailPx} in {exposureS}: expose {longestS} at most, stiffen the guide scope, or guide off axis.',
  'guide.budget-centring':
    'The guide star is centred only to {centringPx} of the main camera: finer guide pixels or a longer guide focal length.',
  'guide.budget-off-axis': 'Centring to {centringPx:2}, no flexure off axis.',
  'guide.budget-good': 'Centring to {centringPx:2}, {trailPx:2} of flexure in {exposureS}.',
  'guide.school-length-below': '{focalLengthMm} is below {limitMm}',
  'guide.school-length-between': '{focalLengthMm} is between {limitMm} and {upperMm}',
  'guide.school-length-above': '{focalLengthMm} is above {limitMm}',
  'guide.school-centring': 'the guide star’s centre is known to {centringPx:2} of the main camera',
  'guide.school-centring-beyond':
    'the guide star’s centre is known to {centringPx:2} of the main camera, but {focalLengthMm} is beyond {limitMm}',
  'guide.school-budget':
    'centring and a guide scope’s flexure together come to {wholePx:2} in {exposureS}; {allowedPx:2} are allowed',
  'guide.window':
    'A star to magnitude {faintestMag:1-} stands in the window at {litPercent} of the angles; the brightest, {brightestMag:1-}, at {atDeg}.',
  'guide.window-none':
    'No star to magnitude {faintestMag:1-} comes into the window at any of these angles. Expose the guider longer, or shift the framing.',
  'guide.scope-stars':
    '{n} {n|star|stars} to guide on in the guide scope’s field; the best, magnitude {bestMag:1-}, reaches {snr:0} in {exposureS}.',
  'guide.scope-none': 'No star to guide on in the guide scope’s field: expose longer.',
  'guide.prism-in-light':
    'Turned {guiderDeg} against the camera the prism stands in the main sensor’s light. Turn the guider elsewhere, or move the prism out.',
  'guide.panels-good': 'Every one of the {panels} panels has a guide star at {cameraDeg}.',
  'guide.star-good':
    'A guide star of magnitude {starMag:1-} stands in the window at {cameraDeg}: signal to noise {snr:0} in {exposureS}, alone.',
  'guide.panels-lack': '{without} of {panels} panels have no guide star at {cameraDeg}: {cures}.',
  'guide.no-star': 'No star stands in the guide window at {cameraDeg}: {cures}.',
  'guide.star-saturated': 'The best star in the window, magnitude {starMag:1-}, fills its well: {cures}.',
  'guide.star-blended':
    'The best star in the window, magnitude {starMag:1-}, has a neighbour {neighbourArcsec:0} off: {cures}.',
  'guide.star-faint':
    'The best star in the window, magnitude {starMag:1-}, reaches {snr:0} where {wantedSnr} is wanted: {cures}.',
  'guide.turn-camera-on': 'turn the camera to {angleDeg}, {offDeg} on',
  'guide.turn-camera-back': 'turn the camera to {angleDeg}, {offDeg} back',
  'guide.turn-guider-on': 'turn the guider to {angleDeg}, {offDeg} on',
  'guide.turn-guider-back': 'turn the guider to {angleDeg}, {offDeg} back',
  'guide.or-expose': 'or expose the guider {exposureS}',
  'guide.expose': 'expose the guider {exposureS}',
  'guide.no-angle': 'no angle has one, expose longer or shift the framing',
  'guide.flip-good':
    'After the flip the window stands opposite, at {windowDeg}: a star of magnitude {starMag:1-} is there, signal to noise {snr:0}.',
  'guide.flip-none':
    'After the flip the window stands opposite, at {windowDeg}, and no star there can be guided on: {cures}.',
  'guide.flip-turn-camera': 'with the camera at {angleDeg} there is one on both sides',
  'guide.flip-turn-guider': 'with the guider at {angleDeg} there is one on both sides',
  'guide.flip-no-angle':
    'no angle has one on both sides, so end the leg at the meridian, turn the camera with the flip, or expose longer',
  'guide.nudge-send': 'The spot should go {expectedPx:1} and come back with the pulse the other way.',
  'guide.nudge-deaf':
    'It went {movedPx:1} where a star goes {expectedPx:1}: a hot pixel, or slack that swallows the pulse. Take darks for the guide camera, choose another spot, try again; if that one is as deaf, it is slack.',
  'guide.nudge-off':
    'It answers, but by {sharePercent}: the guide rate, the focal length or the binning entered is not what is there.',
  'guide.nudge-star': 'It went {sharePercent} of the way sent: a star.',
  'guide.log-calm': '{rmsArcsec} in all, {quality}; nothing stands out.',
  'guide.log-total': '{rmsArcsec} in all.',
} as const;
