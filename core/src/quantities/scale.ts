/** Arcseconds in a radian, over a thousand: pixels in µm over a focal length in mm give arcseconds. */
export const ARCSEC_UM_PER_MM = 206.264806;

/** Image scale [″/px] of a pixel [µm] behind a focal length [mm]. */
export const scaleArcsecPerPx = (pixelUm: number, focalLengthMm: number, binning = 1): number =>
  (ARCSEC_UM_PER_MM * pixelUm * binning) / focalLengthMm;
