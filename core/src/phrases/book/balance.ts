/** Where a rig is heavy, what to move, and what stands in the way. */
export const balancePhrases = {
  'balance.even': 'in balance on every axis.',
  'balance.heavy': '{parts}.',
  'balance.front-heavy': 'front-heavy by {momentKgCm}',
  'balance.back-heavy': 'back-heavy by {momentKgCm}',
  'balance.side-heavy': 'side-heavy by {momentKgCm}',
  'balance.tube-heavy': 'tube too heavy about right ascension by {momentKgCm}',
  'balance.weights-heavy': 'weights too heavy about right ascension by {momentKgCm}',
  'balance.load': 'load is {loadPercent} of the mount’s rating.',
  'balance.overload': 'load is {loadPercent} of the mount’s rating: too much.',
  'balance.load-of': 'Load {massKg:1} of {ratedKg:1} rated ({loadPercent}).',
  'balance.one-move': 'one move cures it.',
  'balance.moves': '{n} moves cure it.',
  'balance.no-cure': 'no arrangement of what is at hand cures it.',
  'balance.after': 'After the moves: {decNm} in declination, {raNm} in right ascension.',
  'balance.step-move': 'Move {name}: {place}.',
  'balance.step-turn':
    'Turn the tube in its rings by {turnDeg} until {name} is {side}. The picture and an off-axis prism turn with it: frame again, and look for the guide star again.',
  'balance.step-trim': 'Hang {massKg} at “{place}”.',
  'balance.step-forward': 'Right ascension locked: slide the tube {slideMm} forward.',
  'balance.step-back': 'Right ascension locked: slide the tube {slideMm} back.',
  'balance.step-forward-fine': 'Right ascension locked: slide the tube {slideMm:1} forward.',
  'balance.step-back-fine': 'Right ascension locked: slide the tube {slideMm:1} back.',
  'balance.step-weights': 'Weights, with the end-stop back on at once: {changes}.',
  'balance.take-off': 'take off {massKg}',
  'balance.put-on': 'put on {massKg}',
  'balance.step-shaft': 'Declination locked: set the weights’ common centre at {distanceMm} from the polar axis.',
  'balance.slide-ends-front':
    'The slide ends {missingMm:1} too soon: still front-heavy by {momentKgCm}. A longer bar, or something moved to the tail, would do.',
  'balance.slide-ends-back':
    'The slide ends {missingMm:1} too soon: still back-heavy by {momentKgCm}. A longer bar, or something moved to the nose, would do.',
  'balance.side-remains':
    'Sliding cannot cure the side: {momentKgCm} remain toward {side}. {massKg} hung {armMm} out on the other side would take it away.',
  'balance.weights-short': 'The weights reach only {reachMm}: {massKg} more there, or a lighter tube side, is needed.',
  'balance.shaft-short': 'The weights reach only {reachMm}: a longer shaft, or a lighter tube side, is needed.',
  'balance.weights-near': 'The weights cannot come nearer than {reachMm}: {massKg} less is needed.',
  'balance.weights-too-heavy': 'The weights cannot come nearer than {reachMm}: less weight is needed.',
  'balance.none': 'No arrangement of what you have balances this rig.',
  'balance.none-looked-at':
    'Nothing that was looked at balances this rig; the search was cut short, the best of it is shown.',
  'balance.nothing-to-move': 'nothing to move.',
  'balance.nothing': 'Nothing to move: the rig is in balance as it stands.',
  'balance.left-over': 'Left over: {decNm} in declination, {raNm} in right ascension.',
  'balance.released': 'Released here, right ascension is driven {toward} with {raNm}, declination feels {decNm}.',
  'balance.overhang':
    '{freeMm} of {name} stand free beyond the rings: set them farther apart on a longer bar, or it will flex.',
  'balance.rig-load': '{massKg:1} on a mount rated for {ratedKg:0}: {loadPercent}.',
  'balance.rig-load-much':
    '{massKg:1} on a mount rated for {ratedKg:0}: {loadPercent}, more than most choose for imaging.',
  'balance.rig-load-over': '{massKg:1} on a mount rated for {ratedKg:0}: {loadPercent}, too much.',
  'balance.scale-disagrees':
    'The spring scale says {part}, the parts add up to {partsKgCm:+1}: settle under Spring scale which is right before anything is moved.',
  'balance.held':
    'Friction of {decNm} in declination and {raNm} in right ascension holds what is left: nothing need be moved.',
  'infer.swapped': 'Friction comes out negative: the two pulls of a pair are probably swapped.',
  'infer.slip':
    'Reading {reading}: one pull is about ten times the other, {pullN:2}. Is it {likelyN:2}? Nothing is concluded until that is settled.',
  'infer.unsettled': 'These readings do not settle any component; measure level and with the tube up.',
  'infer.holds': 'Friction holds it everywhere measured: {moments}.',
  'infer.moves': 'It moves when released: {moments}.',
  'infer.x': 'tube to weights {momentKgCm}',
  'infer.y': 'sideways {momentKgCm}',
  'infer.z': 'fore and aft {momentKgCm}',
  'infer.upright-too': 'Measure with the tube upright too, to learn the sideways part.',
  'balance.rig-path': '{pathMm:1} behind the corrector.',
} as const;
