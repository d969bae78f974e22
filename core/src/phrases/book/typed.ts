/** What is said of lists that people paste. */
export const typedPhrases = {
  'typed.horizon-empty': 'Nothing to take: write one “azimuth altitude” a line',
  'typed.horizon-long': '{points:0} points; a horizon has at most {most:0}',
  'typed.horizon-line':
    'Line {line:0}: “{text}” is not an azimuth and an altitude parted as in the other lines; write 120.5 18 with a space between, and nothing else in figures',
  'typed.horizon-range':
    'Line {line:0}: “{text}” lies outside of the sky: azimuth −180 to 360, altitude −10 to 90, both in degrees',
  'typed.drift-line': 'Line {line:0}: “{text}” is not “time, x, y”; write 2026-11-24T21:05:00Z, 1204.5, 873.2',
} as const;
