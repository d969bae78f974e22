/** What a night's sequence and the run of it come to. */
export const sequencePhrases = {
  'sequence.nothing-fits': 'Not one frame fits: shorten the exposure or start earlier.',
  'sequence.frames': '{total} {total|frame|frames} ({perFilter}), shutter open {openPercent} of the time.',
  'sequence.quotas-reached': 'Every quota is reached.',
  'sequence.quotas-reached-early': 'Every quota is reached, and {leftHours} are left over.',
  'sequence.nothing-for': 'Nothing for {filters}.',
  'sequence.rounds': '{rounds} complete {rounds|round|rounds}.',
  'plan.no-offsets': 'No offsets are adopted for {train}: after a filter change nothing would be in focus. Choose a focus run on every change, then adopt in the morning.',
  'plan.offset-missing': 'No offset is known for {filters} in {train}: focus on every change, or leave {n|it|them} out.',
  'plan.offset-weak': 'The offset of {filters} is not known within the focus zone yet; a few more focus runs are wanted.',
  'plan.focus-changed': 'The train has changed since: the offsets it was made with no longer hold.',
  'plan.other-offsets': 'Other offsets have been adopted since; it is reckoned with the new ones here.',
  'plan.framing-changed': 'Camera or guider stand otherwise than when it was made: look at the framing again.',
  'run.frames': '{good} good {good|frame|frames}, {rejected} rejected.',
  'run.frames-cloud': '{good} good {good|frame|frames}, {rejected} rejected, {cloudMin} lost to cloud.',
  'run.still-wanted': 'Still wanted: {perFilter}.',
} as const; // prettier-ignore
