/** What a night's sequence and the run of it come to. */
export const sequencePhrases = {
  'sequence.nothing-fits': 'Not one frame fits: shorten the exposure or start earlier.',
  'sequence.frames': '{total} {total|frame|frames} ({perFilter}), shutter open {openPercent} of the time.',
  'sequence.quotas-reached': 'Every quota is reached.',
  'sequence.quotas-reached-early': 'Every quota is reached, and {leftHours} are left over.',
  'sequence.nothing-for': 'Nothing for {filters}.',
  'sequence.rounds': '{rounds} complete {rounds|round|rounds}.',
  'run.frames': '{good} good {good|frame|frames}, {rejected} rejected.',
  'run.frames-cloud': '{good} good {good|frame|frames}, {rejected} rejected, {cloudMin} lost to cloud.',
  'run.still-wanted': 'Still wanted: {perFilter}.',
} as const;
