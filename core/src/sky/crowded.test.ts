import { expect, test } from '@jest/globals';
import { shippedStars } from '../test/shippedStars.ts';
import { isCrowded } from './crowded.ts';

const source = shippedStars();
const crowdedAt = (raDeg: number, decDeg: number, radiusDeg: number) =>
  // more of the sky at hand than is asked about, as the page has it
  isCrowded(source({ raDeg, decDeg, radiusDeg: 2 * radiusDeg, faintestMag: 13.5 }), { raDeg, decDeg }, radiusDeg);

test('in the clouds of the Milky Way the catalogue’s cells are full, away from it they are not', () => {
  for (const [ra, dec] of [
    [282.77, -6.27],
    [161.27, -59.87],
    [312, 37],
  ] as const)
    expect(crowdedAt(ra, dec, 0.8)).toBe(true);
  for (const [ra, dec] of [
    [114.21, 65.6],
    [184.74, 47.3],
    [11.89, -25.29],
    [210.8, 54.35],
  ] as const)
    expect(crowdedAt(ra, dec, 0.8)).toBe(false);
});
