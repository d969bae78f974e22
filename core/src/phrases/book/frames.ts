/** What a picture shows, and what is wrong with it. Under `…-advice` what to do. */
export const framePhrases = {
  'master.spoiled': 'no more: camera, train or filters changed',
  'master.flat-holds': 'holds for the train as it stands',
  'master.holds': 'holds for any train',
  'master.old': 'more than a year old: warm pixels have changed',
  'refusal.wide': 'stars too wide',
  'refusal.cloud': 'cloud: few stars, bright sky',
  'refusal.few': 'few stars',
  'refusal.long': 'long stars',
  'refusal.bright': 'bright sky: cloud',
  'refusal.filter': 'another filter in the light',
  'refusal.by-hand': 'refused by hand',
  'frames.measured': '{stars} {stars|star|stars}, {hfdPx:2} across at half their light.',
  'frames.hollow': 'They are rings or disks: far out of focus.',
  'frames.none-used': '{stars} {stars|star|stars}, none of them clean enough to measure.',
  'frames.no-stars': 'No star stands out of the noise.',
  'frames.all-alike': 'All pixels are alike: nothing was exposed.',
  'frame.prism-shadow':
    'The middle of the {edge} edge is {dipPercent:1} darker than its ends, and the opposite edge is not: the prism’s shadow, or a nebula along the ends of that edge.',
  'frame.prism-shadow-advice':
    'Look at a frame of another object, or at another angle: where the {edge} edge is dark there too it is the prism. Then draw it out until the dip is gone, and take new flats.',
  'frame.edge-prism':
    'The prism’s shadow at the {edge} edge: {dark} of {of} frames of other fields are dark there too.',
  'frame.edge-prism-advice': 'Draw the prism out until the {edge} edge is even, and take new flats.',
  'frame.edge-sky':
    'Dark at the middle of the {edge} edge, as {dark} of {of} frames of other fields are: a nebula along the ends of that edge, not the prism.',
  'frame.edge-sky-advice': 'Nothing to do: the {edge} edge is as the sky is.',
  'frame.dust':
    '{spots} round dark {spots|spot|spots} as of dust, the deepest {deepestPercent:1}, {acrossPx:0} across: flats take them out for as long as nothing moves. No shadow of the prism: that reaches the edge.',
  'frame.prism-move': 'By this rig’s cone that is {outMm:1}: so far out it touches no light.',
  'frame.cloud-few': '{stars} stars where {usualStars} were, with the same width.',
  'frame.cloud-bright': 'The sky is {brighterPercent} brighter, and {stars} stars are left of {usualStars}.',
  'frame.cloud-advice': 'Cloud or haze, or dew on the glass: look at the lens before blaming the sky.',
  'frame.crowded':
    'So many stars that their light runs together: half the light lies within {hfdPx:1}, while the stars themselves are {fwhmPx:1} wide.',
  'frame.crowded-advice': 'It is not the focus: judge this field by the width of its stars.',
  'frame.defocus-hollow': 'Stars are rings or disks {hfdPx:1} wide.',
  'frame.defocus-wider': 'Stars are {hfdPx:1} wide, {times:1} times what they were.',
  'frame.defocus-wide': 'Stars are {hfdArcsec} wide.',
  'frame.defocus-advice': 'Run the focus; if it does not hold, look for a loose lock or a cooling tube.',
  'frame.too-few-stars': 'Only {used} clean {used|star|stars}, in {cells} of nine cells.',
  'frame.too-few-stars-advice': 'Expose longer, or look at a richer field: corners cannot be judged.',
  'frame.trailing':
    'All over the picture stars are drawn out the same way, {ratio:2} times as long as wide, at {angleDeg}.',
  'frame.trailing-advice':
    'Guiding, tracking or a tube that bends against the guide scope: hold the angle against right ascension in the guide log.',
  'frame.spacing-radial':
    'In the corners stars point away from the middle, {ratio:2} times as long as wide; in the middle they are round.',
  'frame.spacing-tangential':
    'In the corners stars lie around the middle, {ratio:2} times as long as wide; in the middle they are round.',
  'frame.spacing-advice':
    'The corrector stands at the wrong distance; whether too near or too far depends on its design. Add 1 mm, look at the corners, and go the other way if they worsen.',
  'frame.elongated': 'Stars are drawn out, {ratio:2} times as long as wide, in no common direction.',
  'frame.elongated-advice':
    'Several causes at once, or collimation: take one frame in perfect focus near the zenith and look again.',
  'frame.tilt': 'Stars grow from {smallPx:1} to {largePx:1} across the field, towards {towardsDeg}.',
  'frame.tilt-advice':
    'The sensor is tilted, or something sags: turn the camera by half a turn; if the wide side turns with it, it is the sensor or its flange, else the focuser.',
  'frame.coma':
    'Stars have tails away from the middle: in the corners their light lies about {awayPx:1} out of their cores.',
  'frame.coma-inwards':
    'Stars have tails towards the middle: in the corners their light lies about {awayPx:1} out of their cores.',
  'frame.coma-advice':
    'Coma. A fast mirror without a corrector always shows it; with one, the corrector is made for another mirror or stands at the wrong distance: move it by 1 mm and look at the corners again.',
  'frame.one-sided':
    'All over the field the light of stars lies about {awayPx:1} to one side of their cores, towards {towardsDeg}.',
  'frame.one-sided-advice':
    'Look at another frame. If it leans the same way, it is collimation: a mirror or a lens stands crooked. If not, the mount jumped once with the shutter open.',
  'frame.round': 'Stars are round and even over the whole field.',
  'frame.round-advice': 'Nothing to mend.',
  'look.none': 'Nothing of this night is measured yet: drop its folder.',
  'look.night': '{counted} of {frames} {frames|frame counts|frames count}.',
  'look.suggested': '{frames} {frames|is|are} better refused: {lostMin:0} of open shutter.',
  'look.unmeasured': '{frames} {frames|is|are} not measured.',
  'look.most': '{shown} of {measured} measured frames show {finding}.',
  'look.cloud': '{fewerPercent} fewer stars under a sky {brighterPercent} brighter: cloud',
  'look.few': '{stars} stars where {usual} are usual',
  'look.wide': 'stars {hfdPx:1} wide, usually {usualPx:1}',
  'look.long': 'stars {ratio:2} times as long as wide',
  'frames.findings': 'Look at: {findings}.',
  'frames.healthy': 'Round and even to the corners.',
  'guided.lost': 'No guide star for {lostS} of it',
  'guided.moved': 'the mount dithered or settled for {movedS} of it: the camera does not wait, or a clock is wrong',
  'guided.gust': 'thrown {peakArcsec:1} off, {atS} after it began',
  'guided.restless': 'guided to {rmsArcsec:2}, usually {usualArcsec:2}',
  'guided.explains': 'stars {ratio:2} times as long as wide: the guiding makes them {explains:2}',
  'guided.not-guiding':
    'stars {ratio:2} times as long as wide, though the guiding would leave {explains:2}: flexure, tilt or spacing',
  'wander.drifts':
    'Under guiding stars wander {rateArcsec:1} an hour by {pairs} undithered pairs: a pixel in {longestMin:0}. Flexure, or a polar axis that turns the field.',
  'wander.still': 'By {pairs} undithered pairs no wandering stands out of the noise.',
  'guided.night': 'Guide logs cover {covered} of {frames} {frames|frame|frames}, {rmsArcsec:2} in the usual one.',
  'guided.lost-frames': '{frames} {frames|frame|frames} lost the guide star.',
  'guided.gust-frames': '{frames} {frames|frame was|frames were} thrown off suddenly: wind, a cable or a bump.',
  'guided.restless-frames': '{frames} {frames|frame was|frames were} guided worse than usual.',
  'guided.moved-frames': 'In {frames} {frames|frame|frames} the mount moved with the shutter open.',
  'guided.long-guiding': '{explained} of {long} with long stars {explained|is|are} explained by the guiding.',
  'guided.long-not-guiding':
    'The guiding explains {explained} of {long} with long stars: look for flexure, tilt or spacing.',
  'report.taken':
    '{object}: {frames} {frames|frame counts|frames count}, {openHours:2} of open shutter; {refused} refused.',
  'report.hours':
    '{countedHours:1} of {darkHours:1} dark went into frames that count; most of the rest: {most}, {mostHours:1}.',
  'report.said': '{text}',
  'report.refused': 'Refused: {causes}.',
  'report.focus': '{filter}: {unusable} of {runs} focus runs {unusable|was|were} of no use.',
  'report.guiding': 'Guiding ({log}): {rmsArcsec:2} in all.',
  'report.guiding-found': 'Guiding ({log}): {rmsArcsec:2} in all; found {found}.',
  'flat.full': 'The test flat is full: try {tryS}.',
  'flat.dark': 'The test flat is as dark as a bias: try {tryS}, or a brighter panel.',
  'flat.too-bright':
    '{exposureS} would do, shorter than {shortestS}: dim the panel {times:1} times, or put paper before it.',
  'flat.panel': '{exposureS} brings the panel to {wantedPercent} of the full count.',
  'flat.high': 'Up to {highestPercent} of the full count: above {mostPercent} cameras bend.',
  'flat.low': 'Down to {lowestPercent} of the full count: below {leastPercent} noise goes into every picture.',
  'flat.bent': 'Counts depart from a straight line by up to {bendPercent:1}.',
  'flat.straight': 'Counts grow with time, straight to {bendPercent:1}.',
  'flat.fine': 'Between {lowestPercent} and {highestPercent} of the full count.',
  'calibration.complete': 'Every frame has its flat, its dark and its dark flat.',
  'calibration.missing': 'Missing: {kinds}.',
  'calibration.urgent': 'Take {flats} {flats|flat|flats} before anything is turned.',
} as const;
