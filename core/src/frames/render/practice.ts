import { longOverShort, FWHM_PER_SIGMA } from '../../quantities/index.ts';
import { hash32 } from '../../statistics/index.ts';
import type { StarSource } from '../../sky/index.ts';
import { fieldStars } from './field.ts';
import { writeFits16, type WrittenCard } from '../../exchange/index.ts';
import { renderCounts, type Scene } from './render.ts';

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

/** So much of a camera’s field is drawn, about its middle, pixel by pixel. */
export interface DrawnSize {
  widthPx: number;
  heightPx: number;
}
/** A piece small enough to be there at once. */
export const PRACTICE_PX: DrawnSize = { widthPx: 720, heightPx: 480 };
/** Light of an invented five-minute frame: a star of magnitude 0, the sky in a pixel, the camera’s noise. */
const LIGHT = { magZero: 6e9, sky: 900, readNoise: 3, electronsPerCount: 0.8, bias: 500, full: 65_535, faintest: 15.5 };
/** Hot pixels, as a share; invented. */
const HOT = 80 / (720 * 480);
/** A Gaussian-like star’s half flux diameter is about its width at half maximum; wings make it some wider. */
const WIDTH_OF_HFD = 0.85;

/** How far from its middle stars of a drawn field are wanted [deg]. */
export const practiceRadiusDeg = (f: PracticeFrame, { widthPx, heightPx }: DrawnSize = PRACTICE_PX): number =>
  (Math.hypot(widthPx, heightPx) / 2) * (f.scaleArcsecPerPx / 3600) * 1.05;

/**
 * The scene behind a frame of a stand-in camera: real stars where it looked, with the width and length it told. Fainter
 * stars than the catalogue holds, hot pixels and noise are invented, and not the same ones in drawings of another size.
 */
export function practiceScene(f: PracticeFrame, stars: StarSource, size: DrawnSize = PRACTICE_PX): Scene {
  const { widthPx, heightPx } = size;
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
  const ratio = longOverShort(Math.min(0.95, f.eccentricity));
  // long and short axes whose mean is the width; a drift makes the difference
  const short = fwhm / Math.sqrt(ratio);
  const lengthPx = (short * Math.sqrt(ratio ** 2 - 1) * Math.sqrt(12)) / FWHM_PER_SIGMA;
  return {
    widthPx,
    heightPx,
    stars: fieldStars({ ...seen, magZeroElectrons: LIGHT.magZero, faintestMag: LIGHT.faintest, seed: place }, stars),
    seeingFwhmPx: short,
    drift: { lengthPx, angleDeg: 12 },
    cloud: { passes: Math.min(1, f.starShare), brighter: f.skyShare },
    vignetting: 0.08,
    hotPixels: Math.round(HOT * widthPx * heightPx),
    skyElectrons: LIGHT.sky,
    readNoiseElectrons: LIGHT.readNoise,
    electronsPerCount: LIGHT.electronsPerCount,
    biasCounts: LIGHT.bias,
    fullCounts: LIGHT.full,
    seed,
  };
}

/** The same drawn, as a FITS file. @param cards further keywords */
export function practiceFile(
  f: PracticeFrame,
  stars: StarSource,
  cards: readonly WrittenCard[] = [],
  size: DrawnSize = PRACTICE_PX,
): Uint8Array<ArrayBuffer> {
  const scene = practiceScene(f, stars, size);
  return writeFits16(renderCounts(scene), scene.widthPx, scene.heightPx, cards);
}
