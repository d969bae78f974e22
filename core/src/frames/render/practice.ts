import { hash32 } from '../../statistics/index.ts';
import type { StarSource } from '../../sky/index.ts';
import { fieldStars } from './field.ts';
import type { Scene } from './render.ts';

/** What a stand-in camera said of a frame, and where it looked. */
export interface PracticeFrame {
  id: string;
  raDeg: number;
  decDeg: number;
  hfdPx: number;
  eccentricity: number;
  /** Stars and sky against the usual frame of its night. */
  starShare: number;
  skyShare: number;
  scaleArcsecPerPx: number;
}

/** A frame to be drawn from what its camera told. @param mostStars of the richest frame of its night */
export const practiceFrame = (
  id: string,
  place: { raDeg: number; decDeg: number },
  told: { hfdPx: number; eccentricity: number; stars: number; background?: number | undefined },
  mostStars: number,
  scaleArcsecPerPx: number,
): PracticeFrame => ({
  id,
  raDeg: place.raDeg,
  decDeg: place.decDeg,
  hfdPx: told.hfdPx,
  eccentricity: told.eccentricity,
  starShare: told.stars / Math.max(1e-9, mostStars),
  skyShare: Math.max(1, told.background ?? 1),
  scaleArcsecPerPx,
});

/** Size of the drawn piece: the middle of the camera’s field, pixel by pixel. */
export const PRACTICE_PX = { width: 720, height: 480 } as const;
/** Light of an invented five-minute frame: a star of magnitude 0, the sky in a pixel, the camera’s noise. */
const LIGHT = { magZero: 6e9, sky: 900, readNoise: 3, electronsPerCount: 0.8, bias: 500, full: 65_535, faintest: 15.5 };
/** A Gaussian-like star’s half flux diameter is about its width at half maximum; wings make it some wider. */
const WIDTH_OF_HFD = 0.85;

/** The scene behind a frame of a stand-in camera: real stars where it looked, with the width and length it told. */
export function practiceScene(f: PracticeFrame, stars: StarSource): Scene {
  const { width: widthPx, height: heightPx } = PRACTICE_PX;
  const seed = hash32(f.id);
  // the field is the same in every frame of an object: its invented stars come from the place
  const place = hash32(`${f.raDeg.toFixed(2)} ${f.decDeg.toFixed(2)}`);
  const seen = {
    raDeg: f.raDeg,
    decDeg: f.decDeg,
    angleDeg: 0,
    scaleArcsecPerPx: f.scaleArcsecPerPx,
    widthPx,
    heightPx,
  };
  const fwhm = WIDTH_OF_HFD * f.hfdPx;
  const ratio = 1 / Math.sqrt(1 - Math.min(0.95, f.eccentricity) ** 2);
  // long and short axes whose mean is the width; a drift makes the difference
  const short = fwhm / Math.sqrt(ratio);
  const lengthPx = (short * Math.sqrt(ratio ** 2 - 1) * Math.sqrt(12)) / 2.3548;
  return {
    widthPx,
    heightPx,
    stars: fieldStars({ ...seen, magZeroElectrons: LIGHT.magZero, faintestMag: LIGHT.faintest, seed: place }, stars),
    seeingFwhmPx: short,
    drift: { lengthPx, angleDeg: 12 },
    cloud: { passes: Math.min(1, f.starShare), brighter: f.skyShare },
    vignetting: 0.08,
    hotPixels: 80,
    skyElectrons: LIGHT.sky,
    readNoiseElectrons: LIGHT.readNoise,
    electronsPerCount: LIGHT.electronsPerCount,
    biasCounts: LIGHT.bias,
    fullCounts: LIGHT.full,
    seed,
  };
}
