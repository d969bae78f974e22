/** What work that outlives its request is at. */
export const jobPhrases = {
  'job.waiting': 'waiting for its turn',
  'job.begun': 'begun',
  'job.begun-again': 'begun again: the server ended under it',
  'job.rehearsing': '{frames} {frames|frame|frames} taken',
  'job.drawing': '{done} of {nights} nights played',
  'job.searching': 'searched; {openPercent:1} more may still be found',
  'job.cancelling': 'being cancelled',
} as const;
