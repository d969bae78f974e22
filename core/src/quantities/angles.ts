import { RAD } from './math.ts';

/** Angle from the optical axis of what lands so far from it in focus [deg]. */
export const offAxisDeg = (fromAxisMm: number, focalLengthMm: number): number =>
  Math.atan(fromAxisMm / focalLengthMm) / RAD;

/** Angle that a length centred on the axis takes in [deg]. */
export const seenDeg = (lengthMm: number, focalLengthMm: number): number => 2 * offAxisDeg(lengthMm / 2, focalLengthMm);

/** What a camera behind a telescope takes in [deg]. */
export function fieldOfView(
  camera: { widthPx: number; heightPx: number; pixelUm: number },
  focalLengthMm: number,
): { widthDeg: number; heightDeg: number; diagonalDeg: number } {
  const [w, h] = [camera.widthPx, camera.heightPx].map((px) => (px * camera.pixelUm) / 1000) as [number, number];
  return {
    widthDeg: seenDeg(w, focalLengthMm),
    heightDeg: seenDeg(h, focalLengthMm),
    diagonalDeg: seenDeg(Math.hypot(w, h), focalLengthMm),
  };
}

/** Sidereal rate [″/s]. */
export const SIDEREAL_ARCSEC_PER_S = 15.041;

/** Full width at half maximum of a Gaussian over its σ: 2√(2 ln 2), to four figures as the formulas have it. */
export const FWHM_PER_SIGMA = 2.355;

/** The longest a star is called; a line has no width to be longer than. */
const MOST_ECCENTRIC = 0.999;
/** How many times as long as wide an ellipse of this eccentricity is. */
export const longOverShort = (eccentricity: number): number =>
  1 / Math.sqrt(1 - Math.min(MOST_ECCENTRIC, eccentricity) ** 2);
