/** What a night's sequence and the run of it come to. */
export const sequencePhrases = {
  'sequence.nothing-fits': 'Not one frame fits: shorten the exposure or start earlier.',
  'sequence.frames': '{total} {total|frame|frames} ({perFilter}), shutter open {openPercent} of the time.',
  'sequence.quotas-reached': 'Every quota is reached.',
  'sequence.quotas-reached-early': 'Every quota is reached, and {leftHours} are left over.',
  'sequence.nothing-for': 'Nothing for {filters}.',
  'sequence.rounds': '{rounds} complete {rounds|round|rounds}.',
  'risk.best':
    'The {order} order leaves most of a balanced picture: {balancedPercent} of the goal on average, {otherPercent} by the {other} one; {allPercent} of the nights have something in every filter.',
  'risk.alike':
    'The {order} and the {other} order come to the same, {balancedPercent} of the goal on average; {allPercent} of the nights have something in every filter.',
  'risk.alike-but-whole':
    'The {order} and the {other} order come to the same, {balancedPercent} of the goal on average, but the {order} one more often has something in every filter: {allPercent} of the nights.',
  'risk.one-order':
    'The {order} order leaves {balancedPercent} of the goal on average; {allPercent} of the nights have something in every filter.',
  'risk.dearer': 'It costs {focusMin} more of focusing, and is worth them.',
  'risk.cheaper': 'It saves {focusMin} of focusing.',
  'plan.leg-never-free': 'The object does not stand free in the dark this night.',
  'plan.leg-no-darkness': 'The Sun does not pass that altitude this night.',
  'plan.leg-never-so-high': 'The object never stands at {altitudeDeg:0} this night.',
  'plan.leg-moon-does-not': 'The Moon does not set or rise this night.',
  'plan.leg-ends-before': 'The leg would end before it begins.',
  'plan.leg-not-dark-then': 'It is not dark in these hours; its darkness can be set.',
  'plan.leg-low-then': 'The object is below its limit or behind the horizon in these hours.',
  'plan.leg-low-part':
    'For {lowMin} of these hours the object is below its limit or behind the horizon: nothing is taken then.',
  'plan.leg-bright-part': 'For {brightMin} of these hours it is not dark enough: nothing is taken then.',
  'plan.leg-is-over': 'Its hours of this night have passed.',
  'plan.leg-moon-shuts': 'By its Moon rule {filters} may not be used in these hours.',
  'plan.leg-crowded-out': 'Its turn never comes: the legs before it take its hours.',
  'plan.leg-not-needed': 'No gap is left for it; it waits in reserve.',
  'plan.step-no-twilight': 'One step waits for a twilight that does not come this night; it follows at once.',
  'plan.idle-leg': 'For {idleMin} nobody works: no leg has hours then.',
  'plan.idle-moon': 'For {idleMin} nobody works: the Moon leaves no filter to use.',
  'plan.idle-meridian': 'For {idleMin} nobody works: no whole frame fits before the meridian.',
  'plan.idle-end': 'For {idleMin} nobody works: no whole frame fits before the hours end.',
  'plan.idle-fixed': 'For {idleMin} nobody works: no whole frame fits before the fixed leg.',
  'plan.idle-second-camera': 'For {idleMin} the mount waits for the second camera.',
  'plan.night-frames':
    '{frames} {frames|frame|frames} in {legs} legs, shutter open {openPercent} of the time the rig is taken.',
  'plan.night-stuck': '{n} of them {n|has|have} a remark.',
  'template.whole-night': 'Altitude, Moon and need share the night out: {n} {n|leg|legs}.',
  'template.nothing': 'Nothing that is still wanted stands free in the dark.',
  'template.lines': '{first}, then {second}, in narrow lines by moonlight.',
  'template.no-moon': 'The Moon hardly disturbs this night: broad filters may have it.',
  'template.too-few-lines': 'It wants two projects in narrow lines that stand an hour or more; {n} {n|does|do}.',
  'template.until-it-sets': '{first} until it sets, then {second}.',
  'template.nothing-after': 'Nothing stands an hour after the first one has set.',
  'plan.no-offsets':
    'No offsets are adopted for {train}: after a filter change nothing would be in focus. Choose a focus run on every change, then adopt in the morning.',
  'plan.offset-missing':
    'No offset is known for {filters} in {train}: focus on every change, or leave {n|it|them} out.',
  'plan.offset-weak':
    'The offset of {filters} is not known within the focus zone yet; a few more focus runs are wanted.',
  'plan.focus-changed': 'The train has changed since: the offsets it was made with no longer hold.',
  'plan.other-offsets': 'Other offsets have been adopted since; it is reckoned with the new ones here.',
  'plan.framing-changed': 'Camera or guider stand otherwise than when it was made: look at the framing again.',
  'run.frames': '{good} good {good|frame|frames}, {rejected} rejected.',
  'run.frames-cloud': '{good} good {good|frame|frames}, {rejected} rejected, {cloudMin} lost to cloud.',
  'run.still-wanted': 'Still wanted: {perFilter}.',
} as const;
