import { z } from 'zod';
import { count, define, explained, InvalidInput, positive, within } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';
import { instrument, surfaceElectrons } from './light.ts';

/**
 * A short series of the Moon itself, while a target is still low. Brightness of the whole disk against its phase: Allen 1976,
 * Astrophysical Quantities, as Krisciunas & Schaefer 1991 use it. How much brighter than the mean of its lit part the
 * brightest ground is, and how much fainter the terminator, is rough and from memory, no source.
 */
const BRIGHTEST_MAG = -1;
const TERMINATOR_MAG = 3.5;
/** Share of the well that the brightest ground may fill; common practice, no source. */
const FILL = 0.8;
/** The Moon among the stars in the mean [″/s]: once round in 27.32 days. Parallax adds or takes up to a third. */
const MOON_RATE = (360 * 3600) / (27.321662 * 86_400);
/** Longest frame that still holds the air still [s], and the share of frames that are kept; common practice, no source. */
export const STILL_S = 0.015;
const KEPT_SHARE = 0.1;
/** Neighbours of a mosaic share so much; common practice, no source. */
const OVERLAP = 0.2;
/** Extinction per airmass where nobody measured it, as for the sky beside the Moon. */
const EXTINCTION = 0.172;

export const MoonInput = z.strictObject({
  ...instrument,
  focalRatio: positive('', 'Focal ratio'),
  pixelUm: positive('µm', 'Pixel size'),
  fullWellE: positive('e⁻', 'Full well of a pixel'),
  readNoiseE: positive('e⁻', 'Read noise'),
  widthPx: count('Width of the sensor').min(1).max(1e6),
  heightPx: count('Height of the sensor').min(1).max(1e6),
  cropWidthPx: count('Width read out').min(8).max(1e6),
  cropHeightPx: count('Height read out').min(8).max(1e6),
  bytesPerPx: z.union([z.literal(1), z.literal(2)]).meta({ description: 'Depth of a frame' }),
  linkMBPerS: positive('MB/s', 'What camera, cable and disk keep up with').max(20_000),
  durationS: within('s', 1, 3600, 'Length of the series'),
  moonDiameterArcmin: within('arcmin', 28, 36, 'Diameter of the Moon'),
  moonPhaseAngleDeg: within('deg', 0, 150, 'Phase angle of the Moon, 0 when full'),
  moonAltitudeDeg: within('deg', 5, 90, 'Altitude of the Moon'),
});
export type MoonInput = z.infer<typeof MoonInput>;
export const MoonOutput = z.strictObject({
  /** The whole Moon against the sensor. */
  moonPx: z.number(),
  panelsAcross: z.int(),
  panelsDown: z.int(),
  /** Longest exposure that keeps the brightest ground [s], and the signal to noise of the terminator in it. */
  longestS: z.number(),
  terminatorE: z.number(),
  terminatorSnr: z.number(),
  /** What is then advised: no longer than the air stands still. */
  exposureS: z.number(),
  framesPerS: z.number(),
  limitedBy: z.enum(['exposure', 'link']),
  frames: z.int(),
  kept: z.int(),
  fileMB: z.number(),
  /** How far the Moon leaves the field at star speed over the series [px], and smears within a frame. */
  driftPx: z.number(),
  smearPx: z.number(),
  /** Focal ratio at which two pixels take in the finest detail the aperture passes. */
  criticalRatio: z.number(),
  ...explained,
});

/** Magnitude of the whole Moon above the air. */
export const moonMag = (phaseAngleDeg: number): number => {
  const a = Math.abs(phaseAngleDeg);
  return -12.73 + 0.026 * a + 4e-9 * a ** 4;
};

export function moonSeries(i: MoonInput): z.input<typeof MoonOutput> {
  if (i.cropWidthPx > i.widthPx || i.cropHeightPx > i.heightPx)
    throw InvalidInput.at(
      i.cropWidthPx > i.widthPx ? 'cropWidthPx' : 'cropHeightPx',
      `is larger than the sensor of ${i.widthPx} × ${i.heightPx}`,
    );
  const moonPx = (60 * i.moonDiameterArcmin) / i.scaleArcsecPerPx;
  const panels = (px: number) => (moonPx <= px ? 1 : Math.ceil((moonPx - OVERLAP * px) / ((1 - OVERLAP) * px)));
  const lit = (1 + Math.cos((i.moonPhaseAngleDeg * Math.PI) / 180)) / 2;
  const litArea = lit * (Math.PI / 4) * (60 * i.moonDiameterArcmin) ** 2;
  const airmass = 1 / Math.sin((Math.max(10, i.moonAltitudeDeg) * Math.PI) / 180);
  const meanMag = moonMag(i.moonPhaseAngleDeg) + 2.5 * Math.log10(litArea) + EXTINCTION * airmass;
  const rate = (mag: number) => surfaceElectrons(i, mag);
  const longestS = (FILL * i.fullWellE) / rate(meanMag + BRIGHTEST_MAG);
  const exposureS = Math.min(longestS, STILL_S);
  const terminatorE = exposureS * rate(meanMag + TERMINATOR_MAG);
  const terminatorSnr = terminatorE / Math.sqrt(terminatorE + i.readNoiseE ** 2);
  const frameMB = (i.cropWidthPx * i.cropHeightPx * i.bytesPerPx) / 1e6;
  const [byExposure, byLink] = [1 / exposureS, i.linkMBPerS / frameMB];
  const framesPerS = Math.min(byExposure, byLink);
  const frames = Math.max(0, Math.floor(framesPerS * i.durationS));
  const driftPx = (MOON_RATE * i.durationS) / i.scaleArcsecPerPx;
  const [panelsAcross, panelsDown] = [panels(i.cropWidthPx), panels(i.cropHeightPx)];
  const values = { exposureMs: 1000 * exposureS, frames, kept: Math.floor(KEPT_SHARE * frames) };
  return {
    moonPx,
    panelsAcross,
    panelsDown,
    longestS,
    terminatorE,
    terminatorSnr,
    exposureS,
    framesPerS,
    limitedBy: byLink < byExposure ? 'link' : 'exposure',
    frames,
    kept: values.kept,
    fileMB: frames * frameMB,
    driftPx,
    smearPx: (MOON_RATE * exposureS) / i.scaleArcsecPerPx,
    criticalRatio: (2 * i.pixelUm) / 0.55,
    working: [
      {
        label: 'Lit ground in the mean',
        formula: 'm(α) + 2.5·log₁₀(lit area) + k·X',
        value: meanMag,
        unit: 'mag/arcsec²',
        source: 'Allen 1976; extinction assumed',
      },
      {
        label: 'Brightest ground',
        formula: 'a magnitude brighter: 10⁴·10^(−0.4 m)·A·Δλ·QE·T·scale²',
        value: rate(meanMag + BRIGHTEST_MAG),
        unit: 'e⁻/s',
      },
      { label: 'Longest without clipping', formula: '0.8·full well/rate', value: 1000 * longestS, unit: 'ms' },
      { label: 'One frame', formula: 'width·height·bytes', value: frameMB, unit: 'MB' },
      { label: 'Frames a second', formula: 'min(1/t, link/frame)', value: framesPerS, unit: '1/s' },
      {
        label: 'Drift at star speed',
        formula: `${MOON_RATE.toFixed(3)} ″/s·duration/scale`,
        value: driftPx,
        unit: 'px',
      },
      {
        label: 'Two pixels in the finest detail',
        formula: '2·p/λ at 550 nm',
        value: (2 * i.pixelUm) / 0.55,
        unit: 'f/',
      },
    ],
    verdict:
      panelsAcross * panelsDown > 1
        ? makeVerdict(
            'caution',
            phrase('exposure.moon', values),
            phrase('exposure.moon-mosaic', { panels: panelsAcross * panelsDown }),
          )
        : makeVerdict('good', phrase('exposure.moon', values), phrase('exposure.moon-whole')),
  };
}

export const exposureMoon = define({
  name: 'exposure.moon',
  summary: 'A short series of the Moon: exposure, frame rate, file, drift, and whether it fits',
  sources: [
    'Allen 1976, Astrophysical Quantities (brightness against phase)',
    'Sampling: two pixels over λ·N, textbook',
  ],
  input: MoonInput,
  output: MoonOutput,
  compute: moonSeries,
});
