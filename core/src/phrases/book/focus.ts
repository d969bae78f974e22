/** Focus curves, the critical zone, offsets between filters. */
export const focusPhrases = {
  'focus.small-differences':
    'Within each filter the temperature differs by only {spreadDeltaC:1}, and the thermometer is good to {noiseDeltaC:1}: the slope rests on small differences. Return to an earlier filter after the night has cooled.',
  'focus.unequal-arms':
    'One arm is {ratio:1} times as steep as the other: each was given its own slope. A tilted camera, a slipping focuser or changing air does that.',
  'focus.pattern-left':
    'The points leave the curve together, side by side: something moved during the run; take another before this position is relied on.',
  'focus.best': 'Best focus at {positionSteps:0-} ± {errorSteps:1}, {widthPx:2} wide.',
  'focus.best-set-aside':
    'Best focus at {positionSteps:0-} ± {errorSteps:1}, {widthPx:2} wide, {outliers} {outliers|point|points} set aside.',
  'focus.unusable': 'Not usable: {faults}.',
  'focus.fault-below': 'the lowest point lies outside the positions tried: go on below {limitSteps:0-}',
  'focus.fault-above': 'the lowest point lies outside the positions tried: go on above {limitSteps:0-}',
  'focus.fault-one-side': 'only {left} good {left|point|points} on one side',
  'focus.fault-disagree': 'only {agreeing} of {points} points agree with one curve',
  'focus.fault-weak': 'the curve explains too little (R² {rSquared:2})',
  'focus.fault-uncertain': 'the position is uncertain by {rangePercent:1} of the range',
  'focus.zone-steps': 'Focus holds within ±{halfUm}, that is ±{halfSteps:1}.',
  'focus.zone-coarse': 'Focus holds within ±{halfUm}, that is ±{halfSteps:1}: the focuser’s steps are coarse for this.',
  'focus.zone': 'Focus holds within ±{halfUm}.',
  'focus.offsets-weak': '{filters} {n|is|are} not yet known well enough: 2σ exceeds half the zone; take more runs.',
  'focus.offsets-once':
    '{filters} {n|rests|rest} on one run each, and nothing would show that it was a bad one: take another.',
  'focus.slope-steep':
    '{slopeStepsPerC:1} is {zones:1} focus zones a degree, more than a tube moves: runs of different trains, cameras or temperatures are probably mixed.',
  'focus.offsets-known': '{n} {n|offset|offsets} against {reference} known.',
  'focus.offsets-within-zone': '{n} {n|offset|offsets} against {reference} known well within the focus zone.',
  'focus.slope': 'Focus moves {slopeStepsPerC:1}.',
  'focus.averages-mislead': 'Plain averages would be wrong by {bySteps} for {filter}.',
  'focus.outliers': '{n} {n|run|runs} set aside as {n|outlier|outliers}.',
  'focus.policy-saves': 'Offsets save {savedMin} a night; focus again every {everyMin}, {runs} {runs|run|runs} in all.',
  'focus.policy-saves-steady': 'Offsets save {savedMin} a night: focus hardly drifts, one run at the start will do.',
  'focus.policy-own-run':
    'The offset of {filters} is not known within half the focus zone: {n|it needs a run of its own|they need runs of their own}; with the others by offsets up to {savedMin} a night are saved.',
  'focus.policy-no-gain':
    'Offsets save nothing here: the temperature alone asks for {runs} {runs|run|runs}, the changes for {everyRuns}.',
} as const;
