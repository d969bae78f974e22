import { z } from 'zod';
import { atLeastZero, define, explained, positive, quantity, within } from '../calculation/index.ts';
import { areaCm2 as collecting, PHOTONS_MAG_0 } from '../exposure/index.ts';
import { scaleArcsecPerPx, SIDEREAL_ARCSEC_PER_S, FWHM_PER_SIGMA } from '../quantities/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

/** The measuring circle's radius in FWHM, and the share of a Gaussian star it holds. */
const APERTURE = { radiusFwhm: 0.67, share: 0.71, fewestPx: 4 } as const;

const share = (d: string) => z.number().gt(0).max(1).meta({ description: d });
export const LimitInput = z.strictObject({
  apertureMm: positive('mm', 'Clear aperture'),
  obstructionMm: atLeastZero('mm', 'Diameter of the obstruction').default(0),
  lightFraction: share('Share of the light the guide camera gets').default(1),
  exposureS: positive('s', 'Guide exposure'),
  pixelUm: positive('µm', 'Guide pixel'),
  focalLengthMm: positive('mm', 'Guide focal length'),
  fwhmArcsec: positive('″', 'Width of the guide star'),
  readNoiseE: atLeastZero('e⁻', 'Read noise'),
  quantumEfficiency: share('Quantum efficiency'),
  transmission: share('Optics and filter').default(0.8),
  bandwidthNm: positive('nm', 'Band the guide camera sees').default(300),
  skyMagArcsec2: quantity('mag/arcsec²', 'Sky'),
  snr: positive('', 'Signal to noise wanted').default(20),
  airmass: positive('', 'Airmass').default(1),
  extinctionMag: atLeastZero('mag', 'Extinction per airmass').default(0.2),
});
export type LimitInput = z.infer<typeof LimitInput>;

export const LimitOutput = z.strictObject({
  limitingMag: z.number(),
  starElectrons: z.number(),
  centroidErrorArcsec: z.number(),
  ...explained,
});

/** What a guide camera sees through its optics: everything but the star, the exposure and the wish. */
export type GuideOptics = Omit<LimitInput, 'exposureS' | 'snr'>;

/** Electrons of a magnitude 0 star over an exposure, pixels measured, and noise² of that circle. */
function lightOf(i: GuideOptics, exposureS: number) {
  const scale = scaleArcsecPerPx(i.pixelUm, i.focalLengthMm);
  const areaCm2 = collecting(i);
  const perMag0 =
    PHOTONS_MAG_0 * areaCm2 * i.bandwidthNm * i.quantumEfficiency * i.transmission * i.lightFraction * exposureS;
  const pixels = Math.max(APERTURE.fewestPx, Math.PI * ((APERTURE.radiusFwhm * i.fwhmArcsec) / scale) ** 2);
  const sky = perMag0 * 10 ** (-0.4 * i.skyMagArcsec2) * scale * scale;
  return { scale, areaCm2, perMag0, pixels, sky, noise: pixels * (sky + i.readNoiseE ** 2) };
}

/** Abramowitz & Stegun (1964), 7.1.26; error below 1.5e-7. */
function erf(x: number): number {
  const t = 1 / (1 + 0.3275911 * Math.abs(x));
  const y =
    1 -
    ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) * t * Math.exp(-x * x);
  return x < 0 ? -y : y;
}

/**
 * Signal to noise of a star, by the sums of `guide.limit`, and the electrons in its brightest pixel when a Gaussian star
 * is centred on that pixel.
 */
export function signalOf(
  i: GuideOptics,
  mag: number,
  exposureS: number,
): { snr: number; starElectrons: number; peakElectrons: number } {
  const { scale, perMag0, noise, sky } = lightOf(i, exposureS);
  const starElectrons = perMag0 * 10 ** (-0.4 * (mag + i.extinctionMag * i.airmass));
  const signal = APERTURE.share * starElectrons;
  const sigmaPx = i.fwhmArcsec / FWHM_PER_SIGMA / scale;
  const inPeak = erf(0.5 / (Math.SQRT2 * sigmaPx)) ** 2;
  return { snr: signal / Math.sqrt(signal + noise), starElectrons, peakElectrons: starElectrons * inPeak + sky };
}

/** Magnitude at which a centred star's brightest pixel reaches its share of the well. */
export function saturationMag(i: GuideOptics, exposureS: number, fullWellE: number): number {
  const { scale, perMag0, sky } = lightOf(i, exposureS);
  const inPeak = erf(0.5 / (Math.SQRT2 * (i.fwhmArcsec / FWHM_PER_SIGMA / scale))) ** 2;
  const room = Math.max(1, WELL_SHARE * fullWellE - sky);
  return -2.5 * Math.log10(room / (perMag0 * inPeak)) - i.extinctionMag * i.airmass;
}

/** Exposures a guider is set to [s]; 1 to 3 s average the seeing, common practice, no source. */
export const GUIDE_EXPOSURES_S = [0.5, 1, 1.5, 2, 2.5, 3, 4, 5, 6, 8] as const;
/** Part of the full well a guide star may fill; common practice, no source. */
export const WELL_SHARE = 0.8;

/**
 * The exposure to set: from 2 s, which averages the seeing, shorter while the star would fill its well, longer while it
 * is too faint.
 */
export function exposureFor(
  i: GuideOptics,
  mag: number,
  snr: number,
  fullWellE: number,
): { exposureS: number; snr: number; saturated: boolean; enough: boolean } {
  const tried = GUIDE_EXPOSURES_S.map((exposureS) => {
    const s = signalOf(i, mag, exposureS);
    return { exposureS, snr: s.snr, saturated: s.peakElectrons > WELL_SHARE * fullWellE, enough: s.snr >= snr };
  });
  const usual = tried.filter((t) => t.exposureS >= 1 && t.exposureS <= 3 && t.enough && !t.saturated);
  const nearestTwo = [...usual].sort((a, b) => Math.abs(a.exposureS - 2) - Math.abs(b.exposureS - 2))[0];
  return (
    nearestTwo ??
    tried.find((t) => t.enough && !t.saturated) ??
    (tried[0]!.saturated ? tried[0]! : (tried.findLast((t) => !t.saturated) ?? tried[0]!))
  );
}

/** Faintest star that guides at the wanted signal to noise. @throws InvalidInput when the obstruction fills the aperture */
export function limit(i: LimitInput): z.input<typeof LimitOutput> {
  const { areaCm2, perMag0, pixels, sky, noise } = lightOf(i, i.exposureS);
  // S/√(S + noise) = snr, solved for S
  const s2 = i.snr ** 2;
  const signal = (s2 + Math.sqrt(s2 * s2 + 4 * s2 * noise)) / 2;
  const starElectrons = signal / APERTURE.share;
  const limitingMag = -2.5 * Math.log10(starElectrons / perMag0) - i.extinctionMag * i.airmass;
  const centroidErrorArcsec = i.fwhmArcsec / (FWHM_PER_SIGMA * i.snr);
  return {
    limitingMag,
    starElectrons,
    centroidErrorArcsec,
    working: [
      { label: 'Collecting area', formula: 'π/4·(D² − obstruction²)', value: areaCm2, unit: 'cm²' },
      { label: 'Pixels measured', formula: 'max(4, π(0.67·FWHM/scale)²)', value: pixels, unit: 'px' },
      {
        label: 'Sky in a pixel',
        formula: '10⁴·10^(−0.4 m)·A·Δλ·QE·T·light·t·scale²',
        value: sky,
        unit: 'e⁻',
        source: 'photometric zero point, textbook',
      },
      {
        label: 'Star at the limit',
        formula: 'S = ½(snr² + √(snr⁴ + 4 snr² n(sky + RN²))), E = S/0.71',
        value: starElectrons,
        unit: 'e⁻',
      },
    ],
    verdict: makeVerdict(
      limitingMag < 9 ? 'caution' : 'good',
      phrase('guide.limit', {
        limitingMag,
        snr: i.snr,
        exposureS: i.exposureS,
        centringArcsec: centroidErrorArcsec,
      }),
    ),
  };
}

export const guideLimit = define({
  name: 'guide.limit',
  summary: 'Faintest star a guide camera can use',
  sources: ['Photon and noise sums: textbook', 'Zero point 1000 photons s⁻¹ cm⁻² Å⁻¹ near V'],
  input: LimitInput,
  output: LimitOutput,
  compute: limit,
});

/** Declinations at which calibrating grows doubtful, and senseless [deg]; common practice, no source. */
const HIGH_DEC = { caution: 60, refuse: 89 } as const;

export const CalibrationInput = z.strictObject({
  focalLengthMm: positive('mm', 'Guide focal length'),
  pixelUm: positive('µm', 'Guide pixel'),
  binning: z.int().min(1).default(1),
  guideRate: positive('', 'Guide rate, fraction of sidereal').default(0.5),
  decDeg: within('deg', -90, 90, 'Declination of the star').refine(
    (d) => Math.abs(d) <= HIGH_DEC.refuse,
    `is beyond ±${HIGH_DEC.refuse}°: right ascension hardly moves a star there; calibrate near the equator`,
  ),
  travelPx: positive('px', 'Way the star should move, in binned pixels; none: as the wanted angle asks').optional(),
  steps: z.int().min(1).default(10),
  centroidNoisePx: positive('px', 'Noise of one star place, one standard deviation').default(0.2),
  angleErrorDeg: within('deg', 0.01, 30, 'Wanted accuracy of the camera’s angle, one standard deviation').default(0.5),
});
export type CalibrationInput = z.infer<typeof CalibrationInput>;
export const CalibrationOutput = z.strictObject({
  pulseMs: z.number(),
  scaleArcsecPerPx: z.number(),
  steps: z.int(),
  travelPx: z.number(),
  travelArcsec: z.number(),
  ...explained,
});

/**
 * The way that keeps the camera's angle within an error: the slope through m + 1 star places evenly spread over the way L has
 * the standard deviation noise·√(12 m/((m+1)(m+2)))/L [least squares, textbook]; the angle's tangent is that slope.
 */
export const wayForAngle = (noisePx: number, steps: number, angleErrorDeg: number): number =>
  (noisePx * Math.sqrt((12 * steps) / ((steps + 1) * (steps + 2)))) / Math.tan((angleErrorDeg * Math.PI) / 180);

/** Seeing must drown in the way the star is sent: so many times its width. Common practice, no source. */
const WAY_WIDTHS = 8;
/**
 * The way to ask for instead [binned px, rounded up to five], where a calibration sends its star less far than seeing blurs it;
 * null where it is far enough.
 */
export function longerWayPx(
  { travelArcsec, scaleArcsecPerPx: scale }: { travelArcsec: number; scaleArcsecPerPx: number },
  fwhmArcsec: number,
): number | null {
  const wanted = WAY_WIDTHS * fwhmArcsec;
  return travelArcsec >= wanted ? null : Math.ceil(wanted / scale / 5) * 5;
}

/** Length of a calibration pulse that moves the star far enough in the wanted number of steps. */
export function calibration(i: CalibrationInput): z.input<typeof CalibrationOutput> {
  const scale = scaleArcsecPerPx(i.pixelUm, i.focalLengthMm, i.binning);
  // to a ten-thousandth of a pixel: nobody measures finer
  const travelPx = i.travelPx ?? Math.round(1e4 * wayForAngle(i.centroidNoisePx, i.steps, i.angleErrorDeg)) / 1e4;
  const travelArcsec = travelPx * scale;
  const pulseMs =
    ((1000 * travelPx) / i.steps) *
    (scale / (SIDEREAL_ARCSEC_PER_S * i.guideRate * Math.cos((i.decDeg * Math.PI) / 180)));
  const high = Math.abs(i.decDeg) > HIGH_DEC.caution;
  return {
    pulseMs,
    scaleArcsecPerPx: scale,
    steps: i.steps,
    travelPx,
    travelArcsec,
    working: [
      i.travelPx === undefined
        ? {
            label: 'Way for the angle',
            formula: 'noise·√(12 m/((m+1)(m+2)))/tan(angle error)',
            value: travelPx,
            unit: 'px',
          }
        : { label: 'Way as given', formula: 'travel', value: travelPx, unit: 'px' },
      { label: 'Guide scale', formula: '206.264806·pixel·binning/f', value: scale, unit: '″/px' },
      { label: 'Way', formula: 'travel·scale', value: travelArcsec, unit: '″' },
      { label: 'Pulse', formula: '1000·travel/steps·scale/(15.041·rate·cos δ)', value: pulseMs, unit: 'ms' },
    ],
    verdict: makeVerdict(
      high ? 'caution' : 'good',
      phrase('guide.pulses', { pulseMs, n: i.steps, wayArcsec: travelArcsec }),
      ...(high ? [phrase('guide.pulses-high', { withinDeg: 20 })] : []),
    ),
  };
}

export const guideCalibration = define({
  name: 'guide.calibration',
  summary: 'Pulse length for calibrating a guider',
  sources: ['Sidereal rate: textbook', 'Declination limits: common practice, no source'],
  input: CalibrationInput,
  output: CalibrationOutput,
  compute: calibration,
});
