/** Drills: what is told, what was the matter, and what each cause and cure is called. Under `…-shows` how a cause would look. */
export const drillPhrases = {
  'drill.side-heavy-tale':
    'The tube stays where it is pointed, level as it was balanced. Pointed elsewhere and let go, it swings.',
  'drill.side-heavy':
    'A part {sideMm} beside the axis pulls with {momentKgCm:1}, up to {worstNm:2}. Sliding the tube moves nothing sideways: it takes {trimKg:2} on the other side, or the wheel turned towards the axis.',
  'drill.weights-at-the-end-tale': 'With declination balanced, right ascension is let go on either side of the pier.',
  'drill.weights-at-the-end':
    'On both sides the tube sinks: {missingKgCm:0} are missing on the shaft, and the weights are at {endMm}, its end. It takes {moreKg:1} more out there, or the camera side brought nearer to the axis.',
  'drill.wrong-spacing-tale': 'A corrector was fitted this afternoon. The focus run was fine.',
  'drill.wrong-spacing':
    'Round in the middle, and in every corner {ratio:1} times as long as wide, {way}: the same all round, so neither tilt nor tracking. The distance from the corrector to the sensor is wrong.',
  'drill.tilted-sensor-tale': 'Focused on the middle of the field. Look at the sides.',
  'drill.tilted-sensor':
    'From {other} to {side} stars grow to {times:1} times their width, in one direction across the field: the sensor, or what holds it, is not square. A wrong spacing would spoil all corners alike.',
  'drill.tails-all-one-way-tale':
    'The mirror was out of its cell this afternoon. Look closely at single stars, in the middle too.',
  'drill.tails-all-one-way':
    'Every star has a bright core and a tail towards {towardsDeg:0}, its light {awayPx:1} out of the core, in the middle as in the corners: optics out of line. A wrong spacing leaves the middle round, and the mount cannot jump the same way in five frames of a second.',
  'drill.prism-in-the-light-tale': 'The off-axis guider was set deeper this afternoon for a fainter star.',
  'drill.prism-in-the-light':
    'The middle of the {edge} edge lacks {dipPercent:0} of its light and its ends do not: the prism stands in the cone. Flats may hide a grazing touch, never a shadow; draw it out, then take new flats.',
  'drill.guide-camera-half-lit-tale': 'The guider finds stars, but only ever on one side.',
  'drill.guide-camera-half-lit':
    'Only {litPercent:0} of the guide sensor is lit; towards its {dark} it looks past the prism’s light. Set the prism deeper, until the sensor is full or its shadow shows on the main camera.',
  'drill.guide-camera-out-of-reach-tale':
    'The main camera is in focus. The guide camera never was, wherever its focuser stood.',
  'drill.guide-camera-out-of-reach':
    'Both sensors have to stand equally far from the prism: {mainMm:1}. The guide camera comes to {mostMm:1} at most and lacks {lacksMm:1}. A spacer of {spacerMm:1} puts focus in the middle of its travel.',
  'drill.focus-not-reached-tale':
    'A guider and a wheel were added. Focus gets better all the way in, and then the focuser stops.',
  'drill.focus-not-reached':
    'The parts add up to {shortMm} more than there is between tube and focus. Without the ring of {ringMm} focus is reached with {spareMm} to spare.',
  'drill.fine-graph-long-stars-tale': 'The guide log looks as good as ever. The long frames do not.',
  'drill.fine-graph-long-stars':
    'The guider held its star, so what moved lies between guide scope and camera: {driftPx:1} in ten minutes, a pixel in {longestMin:1}. Guide through the main tube, or stiffen what bends; until then expose shorter.',
  'drill.the-star-that-never-moved-tale': 'The graph grew calmer than any night before, and the frames grew worse.',
  'drill.the-star-that-never-moved':
    'From {fromMin} on nothing scatters any more: a star always does, a hot pixel never. The guider holds a fixed point of its sensor while the sky moves on.',
  'drill.saw-teeth-tale': 'The graph is busy, and stars are fat in both directions.',
  'drill.saw-teeth':
    'Each correction is followed by one the other way: the guider undoes its own moves. Correct a smaller share of the error.',
  'drill.declination-hangs-tale': 'Right ascension is fine. Declination stays on one side for a while, then jumps.',
  'drill.declination-hangs':
    'Pulse after pulse in one direction moves nothing, then all at once it does: the gear turns through its play first. Guide declination one way only, or a little out of balance so that the gear stays on one flank.',
  'drill.slow-climb-tale': 'Declination pulses were switched off for this log.',
  'drill.slow-climb':
    'Declination climbs steadily by {driftArcsec:1} a minute. That is a polar axis at least {polarArcmin:1} off, whatever the guider does about it.',
  'drill.jumps-out-of-nothing-tale': 'The evening was calm until the front came.',
  'drill.jumps-out-of-nothing':
    'Both axes are thrown at once for some seconds, far beyond the usual scatter, and come back: nothing to correct, the mount is shaken. Keep the wind off, or drop those frames.',
  'drill.slow-wave-tale': 'Stars are drawn out along right ascension, more in some frames than in others.',
  'drill.slow-wave':
    'Right ascension swings with a period of {periodS}, one turn of the worm; declination does not. Let the mount learn it, and correct more of it.',
  'drill.signal-sinks-tale': 'For a while the guide star grew weak, and some frames did too.',
  'drill.signal-sinks':
    'Signal sinks and comes back about {middleMin}, the sky is brighter and stars are fewer with the same width: cloud. Dew would not clear up by itself.',
  'drill.exposed-too-soon-tale': 'Since dithering was switched on, half of the frames have long stars.',
  'drill.exposed-too-soon':
    'After each dither the mount takes {settleS} to settle, and the shutter opens after four: {openS} of moving are in the frame. Let the camera wait until guiding has settled.',
  'drill.a-tube-that-cools-tale': 'A clear night, one filter, one focus run at the beginning.',
  'drill.a-tube-that-cools':
    'Width follows the tube’s temperature: focus wandered {driftSteps} while {zoneSteps} are sharp. Focus anew each {everyDeltaC}, or move by the known drift.',
  'drill.glass-goes-blind-tale': 'From two o’clock on there are fewer stars in every frame, though the sky is clear.',
  'drill.glass-goes-blind':
    'The glass at {glassC:1} is {belowDeltaC:1} below the dew point of {dewC:1}: water on it. Cloud would have brightened the sky; here it grew darker with the stars. Warm the glass a little above the air.',
  'drill.one-filter-is-soft-tale': 'Four filters in turn, by offsets, under a steady sky.',
  'drill.one-filter-is-soft':
    '{filter} alone is wide from first to last, so neither air nor temperature: its offset is about {offSteps} off, where {zoneSteps} are sharp. Run focus with it and adopt what the runs say.',
  'drill.colour-is-missing-tale': 'Four filters were planned. Then cloud came.',
  'drill.colour-is-missing':
    'All of one filter first leaves the others empty when a night ends early. The same {taken} frames in turn would have been {rounds} of each.',
  'drill.the-mount-stopped-tale': 'In the morning most of the night is missing.',
  'drill.the-mount-stopped':
    'The object crossed the meridian at {culminates}; {limitMin} later the mount may not track on, and no flip was in the plan. {lostHours:1} of clear sky went by.',
  'drill.second-camera-jumps-tale': 'A second camera rides along. It exposes as it likes.',
  'drill.second-camera-jumps':
    'Every {everyS} the first camera moves the mount, and the second has its shutter open for {followS}: {spoiltPercent} of its frames have a dither within. The dither has to wait for both, with exposures that are multiples of each other.',
  'drill.a-bright-line-tale': 'Does this frame count?',
  'drill.a-bright-line':
    'A satellite crossed it. Joined with its fellows the line is an outlier in each pixel it touched and is left out; refusing the frame would cost {lostPercent:1} of all light for nothing.',
  'drill.white-without-colour-tale': 'The stack is deep and smooth. Its bright parts are dull.',
  'drill.white-without-colour':
    'At {exposureS} many stars are full: what is cut off has no colour and no core. Shorter frames, such as {shorterS}, and more of them, keep both.',
  'drill.an-hour-on-the-dial-tale': 'A summer night in the garden, aligned with the date ring of a polar scope.',
  'drill.an-hour-on-the-dial':
    'The ring wants standard time: {standard}, an hour before the watch in summer. The pole star belongs at {right} and was put at {set}: {offArcmin:1} off.',

  'cause.side-mass': 'Mass out to one side of the tube',
  'cause.side-mass-shows': 'A side mass swings in some attitudes and rests in others.',
  'cause.weights-short': 'Too little counterweight',
  'cause.weights-short-shows': 'With too little counterweight the tube sinks on both sides of the pier.',
  'cause.nose-heavy': 'Tube heavy at one end',
  'cause.nose-heavy-shows': 'A heavy end dips whenever the tube is level, and sliding cures it.',
  'cause.clamp-loose': 'A clamp that slips',
  'cause.clamp-loose-shows': 'A slipping clamp moves once and stays moved.',
  'cause.spacing': 'Corrector at the wrong distance',
  'cause.spacing-shows': 'A wrong distance shows in all corners alike, outward or around the middle.',
  'cause.tilt': 'Sensor not square',
  'cause.tilt-shows': 'Tilt grows from one side to the other.',
  'cause.collimation': 'Optics out of line',
  'cause.collimation-shows': 'Optics out of line spoil the middle too, with one-sided stars.',
  'cause.prism-deep': 'Guider’s prism in the light',
  'cause.prism-deep-shows': 'A prism in the light darkens the middle of one edge of the main picture.',
  'cause.prism-shallow': 'Guider’s prism not deep enough',
  'cause.prism-shallow-shows': 'A prism too far out leaves part of the guide sensor dark.',
  'cause.dust': 'Dust on glass or filter',
  'cause.dust-shows': 'Dust makes small round rings or spots, anywhere, with sharp rims.',
  'cause.guide-reach': 'Guide camera at another distance than the main camera',
  'cause.guide-reach-shows':
    'A guide camera at the wrong distance has disks for stars, all of them, whatever the prism.',
  'cause.no-infocus': 'Not enough way inward',
  'cause.no-infocus-shows': 'Without way inward focus improves up to the stop of the main focuser.',
  'cause.flexure': 'Flexure between guider and camera',
  'cause.flexure-shows': 'Flexure leaves the graph calm and draws out long frames, short ones not.',
  'cause.hot-pixel': 'Guiding on a hot pixel',
  'cause.hot-pixel-shows': 'A hot pixel scatters far less than any star.',
  'cause.over-correction': 'Correcting too much',
  'cause.over-correction-shows': 'Too much correction changes sides from sample to sample.',
  'cause.backlash': 'Play in the declination gear',
  'cause.backlash-shows':
    'Play lets several pulses pass without effect when the direction changes, in declination only.',
  'cause.polar': 'Polar axis off',
  'cause.polar-shows': 'A polar axis that is off drifts steadily and in one direction.',
  'cause.wind': 'Wind',
  'cause.wind-shows': 'Wind throws both axes for seconds and lets go.',
  'cause.worm': 'The worm’s own error',
  'cause.worm-shows': 'A worm swings right ascension with its own period, again and again.',
  'cause.cloud': 'Cloud',
  'cause.cloud-shows': 'Cloud takes light from all stars and brightens the sky near towns.',
  'cause.guide-star-faint': 'Guide star too faint',
  'cause.guide-star-faint-shows': 'A faint star scatters more, from the beginning.',
  'cause.no-flip': 'No flip at the meridian',
  'cause.no-flip-shows': 'Without a flip all ends shortly after the object has crossed the meridian.',
  'cause.block-order': 'One filter after the other',
  'cause.block-order-shows': 'In blocks the last filters have nothing when the night is cut short.',
  'cause.no-wait': 'Exposing before the mount has settled',
  'cause.no-wait-shows': 'Exposing too soon spoils just the frames after a dither.',
  'cause.unsynchronised': 'Dithers that one camera does not know of',
  'cause.unsynchronised-shows':
    'Dithers of the other camera spoil frames by their length, while the first camera’s are round.',
  'cause.satellite': 'A satellite',
  'cause.satellite-shows': 'A satellite leaves one straight line in one frame.',
  'cause.clipping': 'Exposed until the bright parts are full',
  'cause.clipping-shows': 'Full pixels are white and flat where it is brightest.',
  'cause.moonlight': 'Moonlight',
  'cause.moonlight-shows': 'Moonlight brightens the sky slowly, and takes no stars away that are bright.',
  'cause.cooling-tube': 'The tube cooled and focus went with it',
  'cause.cooling-tube-shows': 'A cooling tube widens all stars, in every filter, as the temperature goes.',
  'cause.dew': 'Dew on the glass',
  'cause.dew-shows': 'Dew takes stars and sky alike, with halos, and does not go by itself.',
  'cause.wrong-offset': 'A wrong focus offset',
  'cause.wrong-offset-shows': 'A wrong offset widens one filter, always.',
  'cause.bad-air': 'Unsteady air',
  'cause.bad-air-shows': 'Unsteady air widens all stars alike, all over the field, and comes and goes.',
  'cause.daylight-saving': 'Summer time on the date ring',
  'cause.daylight-saving-shows': 'Summer time turns the pole star by the angle of one hour.',
  'cause.wrong-longitude': 'A wrong longitude on the ring',
  'cause.wrong-longitude-shows': 'A wrong longitude shifts by minutes, and it was set to what the place has.',
  'cause.tripod-moved': 'A tripod that sank',
  'cause.tripod-moved-shows':
    'A tripod that sinks goes on sinking; the pole star would leave its mark while one looks.',

  'cure.trim-opposite': 'A small weight on the other side',
  'cure.more-weight': 'More counterweight',
  'cure.slide-tube': 'Slide the tube along its bar',
  'cure.tighten-clamp': 'Tighten the clamp',
  'cure.change-spacing': 'Change the spacing by a millimetre and look at the corners again',
  'cure.square-sensor': 'Square the sensor',
  'cure.collimate': 'Collimate',
  'cure.prism-out': 'Draw the prism out',
  'cure.prism-in': 'Set the prism deeper',
  'cure.new-flats': 'Clean, and take new flats',
  'cure.guide-spacer': 'A spacer before the guide camera',
  'cure.shorten-train': 'Take out the extension ring',
  'cure.off-axis': 'Guide through the main tube, or stiffen the guide scope',
  'cure.move-off-pixel': 'Choose another star, and take the guider’s dark frame',
  'cure.correct-less': 'Correct a smaller share of each error',
  'cure.correct-more': 'Correct a larger share of each error',
  'cure.one-way-dec': 'Guide declination one way, or load the gear to one flank',
  'cure.align-pole': 'Align the polar axis again',
  'cure.wind-shield': 'Keep the wind off',
  'cure.learn-worm': 'Let the mount learn the worm’s error',
  'cure.wait-for-sky': 'Wait, and drop what was taken meanwhile',
  'cure.brighter-star': 'Take a brighter guide star',
  'cure.plan-flip': 'Put the flip into the plan',
  'cure.roll-filters': 'Go round the filters, by offsets',
  'cure.wait-settled': 'Let the camera wait until guiding has settled',
  'cure.dither-together': 'Let the dither wait for both cameras',
  'cure.keep-frame': 'Keep it',
  'cure.shorter-exposure': 'Shorter exposures, and more of them',
  'cure.refocus-by-temperature': 'Focus anew by temperature',
  'cure.heat-glass': 'Warm the glass',
  'cure.new-offset': 'Run focus with that filter and adopt its offset',
  'cure.refuse-frames': 'Refuse the frames and go on',
  'cure.standard-time': 'Set the ring to standard time',
  'cure.other-zone': 'Set the ring to the next time zone',
  'cure.longer-exposure': 'Longer exposures',
} as const;
