/** What a guide log shows, fault by fault: the evidence, and under `…-advice` what to do. */
export const findingPhrases = {
  'log.calm': 'No fault stands out.',
  'log.calm-advice': 'Leave the settings as they are.',
  'log.hot-pixel-lock':
    'From {fromS}, {samples} samples hardly move: no star through air is so still, and this one answers neither pulses nor dithers.',
  'log.hot-pixel-suspect':
    'From {fromS}, {samples} samples hardly move. The log has nothing that would tell a hot pixel from a superb mount: the spot was neither dithered nor answered to pulses.',
  'log.hot-pixel-suspect-advice':
    'Dither once and look whether the spot goes with it; a log with pulses and dithers tells by itself.',
  'log.hot-pixel-lock-advice':
    'The guider hangs on a hot pixel while the mount runs away: choose another star, and use a dark frame or a bad-pixel map.',
  'log.over-correction-ra':
    'Right ascension swings from side to side: neighbours correlate at {lag:2}, {undonePercent} of the pulses undo the one before.',
  'log.over-correction-dec':
    'Declination swings from side to side: neighbours correlate at {lag:2}, {undonePercent} of the pulses undo the one before.',
  'log.over-correction-ra-by-errors':
    'Right ascension swings from side to side: neighbours correlate at {lag:2}, {turnedPercent} of the errors lie on the other side of the one before. The log has no pulses to look at.',
  'log.over-correction-dec-by-errors':
    'Declination swings from side to side: neighbours correlate at {lag:2}, {turnedPercent} of the errors lie on the other side of the one before. The log has no pulses to look at.',
  'log.over-correction-ra-advice':
    'Let a smaller share of each error be corrected on this axis, or lengthen the guide exposure.',
  'log.over-correction-dec-advice':
    'Let a smaller share of each error be corrected on this axis, or lengthen the guide exposure.',
  'log.dec-backlash':
    '{north} {north|run|runs} of northward and {south} of southward pulses moved nothing before the star jumped.',
  'log.dec-backlash-advice':
    'Declination has play: guide it in one direction only against a slight drift, balance it a little heavy on one side, or have the gears adjusted.',
  'log.cloud': 'From {fromS} the star kept less than half its signal for {samples} samples.',
  'log.cloud-advice': 'Cloud or dew: look at the sky and the lens; frames of that spell deserve a second look.',
  'log.gust': '{bursts} short bursts far beyond the usual scatter, the first at {fromS}.',
  'log.gust-advice':
    'Wind, a cable that catches, or steps on the ground: shelter the tube, tie the cables; lost frames rather than settings.',
  'log.periodic-error': 'Right ascension swings ±{semiArcsec} every {periodS} over {turns:0} {turns|turn|turns}.',
  'log.periodic-error-advice':
    'The worm shows through: train periodic-error correction, shorten the guide exposure, or let a little more of each error be corrected in right ascension.',
  'log.polar-drift':
    'Declination, unguided, drifts {perMinuteArcsec} a minute: a polar error of at least {polarArcmin}.',
  'log.polar-drift-advice':
    'Align the polar axis again; one measurement sees only the part across this hour circle, so take a second one six hours of right ascension away.',
  'log.star-lost': 'The star was lost for {samples} {samples|sample|samples}, first at {fromS}.',
  'log.star-lost-advice': 'So few spoil nothing by themselves; look at the signal there if it happens every night.',
  'log.star-lost-often-advice': 'A brighter star, a longer exposure, or cloud: compare with the signal before it.',
} as const;
