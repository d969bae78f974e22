/** Night skies in words, with what a meter near the zenith reads there [mag/arcsec²]; common practice, no source. */
export const SKIES = [
  { words: 'inner city', mag: 17.5 },
  { words: 'city', mag: 18.4 },
  { words: 'suburb', mag: 19.3 },
  { words: 'edge of a village', mag: 20.4 },
  { words: 'open country', mag: 21.2 },
  { words: 'far from every town', mag: 21.8 },
] as const;

/** A suburb's sky: where nothing is known. */
export const SUBURB_MAG = 19.3;

/** The words nearest to a reading. */
export const skyWords = (mag: number): string =>
  SKIES.reduce((best, s) => (Math.abs(s.mag - mag) < Math.abs(best.mag - mag) ? s : best)).words;
