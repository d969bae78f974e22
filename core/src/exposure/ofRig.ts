import { scaleArcsecPerPx } from '../quantities/index.ts';
import { phrase, type Phrase } from '../phrases/index.ts';
import type { RigSetup } from '../rig/index.ts';
import { surfaceElectrons, PHOTONS_MAG_0, areaCm2, type Instrument } from './light.ts';
import { addedNoise, HABITUAL_S, sub } from './sub.ts';

/** What a main camera is taken for where nobody entered it; typical of present sensors, from memory, no source. */
export const TYPICAL = {
  quantumEfficiency: 0.8,
  readNoiseE: 1.6,
  fullWellE: 40_000,
  darkEPerSPx: 0.002,
  transmission: 0.85,
} as const;

/** Widths of bands by the names people give filters [nm]; typical, from memory, no source. The first that fits holds. */
const BANDS: readonly (readonly [RegExp, number])[] = [
  [/^(ha|h-?alpha|hα|hb|h-?beta|oiii|o3|o-iii|sii|s2|s-ii|nii|n2)$/i, 6],
  [/^(l|lum|luminance)$/i, 300],
  [/^(r|red|g|green|b|blue|colour|color|osc)$/i, 100],
  [/^(duo|dual|tri|quad|haoiii)/i, 12],
  [/^(clear|none|ir-?cut)/i, 400],
];
/** Band of a filter whose name says nothing [nm]; common value, no source. */
const WIDEST_GUESS_NM = 300;
const typicalBandNm = (filter: string) => BANDS.find(([name]) => name.test(filter))?.[1] ?? WIDEST_GUESS_NM;

/** All that decides how much light a pixel gets through one filter of a rig, and what of it is only assumed. */
export interface FilterLight {
  filter: string;
  instrument: Instrument;
  readNoiseE: number;
  darkEPerSPx: number;
  fullWellE: number;
  /** Background of a real frame, which goes before every estimate; null where there is none. */
  measured: { ePerSPx: number; on: string | null } | null;
  assumed: Phrase[];
}
type Optics = Pick<RigSetup, 'focalLengthMm' | 'apertureMm' | 'obstructionMm' | 'camera' | 'bands'>;

export function filterLight(setup: Optics, filter: string): FilterLight {
  const assumed: Phrase[] = [];
  const { sensor = {} } = setup.camera;
  const band = setup.bands?.find((b) => b.filter === filter);
  const known = <T>(value: T | undefined, otherwise: T, say: () => Phrase): T => {
    if (value === undefined) assumed.push(say());
    return value ?? otherwise;
  };
  const nm = typicalBandNm(filter);
  return {
    filter,
    instrument: {
      apertureMm: setup.apertureMm,
      obstructionMm: setup.obstructionMm ?? 0,
      scaleArcsecPerPx: scaleArcsecPerPx(setup.camera.pixelUm, setup.focalLengthMm),
      bandwidthNm: known(band?.bandwidthNm, nm, () => phrase('assumed.band', { width: nm })),
      quantumEfficiency: known(sensor.quantumEfficiency, TYPICAL.quantumEfficiency, () =>
        phrase('assumed.quantum-efficiency', { share: TYPICAL.quantumEfficiency }),
      ),
      transmission: TYPICAL.transmission,
    },
    readNoiseE: known(sensor.readNoiseE, TYPICAL.readNoiseE, () =>
      phrase('assumed.read-noise', { electrons: TYPICAL.readNoiseE }),
    ),
    fullWellE: known(sensor.fullWellE, TYPICAL.fullWellE, () =>
      phrase('assumed.full-well', { electrons: TYPICAL.fullWellE }),
    ),
    darkEPerSPx: known(sensor.darkEPerSPx, TYPICAL.darkEPerSPx, () =>
      phrase('assumed.dark-current', { perSecond: TYPICAL.darkEPerSPx }),
    ),
    measured: band?.skyEPerSPx === undefined ? null : { ePerSPx: band.skyEPerSPx, on: band.skyOn ?? null },
    assumed,
  };
}

export interface SkyThere {
  /** As it is seen where the object stands [mag/arcsec²]. */
  skyMagArcsec2: number;
  /** Magnitudes that the Moon takes from the dark sky there; a measured background is taken to be of a moonless night. */
  brighteningMag: number;
}
export interface ExposureCriteria {
  /** Noise accepted beyond what sky and dark current give. */
  noiseIncrease: number;
  /** Brightest star that must not fill its pixel. */
  brightestMag: number;
  /** Width of its image, full at half maximum. */
  fwhmArcsec: number;
}

export interface FilterAdvice {
  filter: string;
  skyEPerSPx: number;
  from: 'measured' | 'estimate';
  minimumS: number;
  schools: { id: '3x' | '5x' | '10x'; seconds: number }[];
  clipS: number;
  recommendedS: number;
  verdict: ReturnType<typeof sub>['verdict'];
  working: ReturnType<typeof sub>['working'];
  /** Noise a frame of so many seconds has beyond sky and dark, as a share. */
  addedAt: (seconds: number) => number;
}

/** Share of a Gaussian star's light in its brightest pixel, the star in the middle of it; a square pixel, flat inside. */
const peakShare = (scaleArcsecPerPx: number, fwhmArcsec: number) =>
  Math.min(1, ((4 * Math.LN2) / Math.PI) * (scaleArcsecPerPx / fwhmArcsec) ** 2);

/** What one filter asks of an exposure under this sky. */
export function adviseFilter(light: FilterLight, sky: SkyThere, criteria: ExposureCriteria): FilterAdvice {
  const i = light.instrument;
  const skyEPerSPx = light.measured
    ? light.measured.ePerSPx * 10 ** (0.4 * sky.brighteningMag)
    : surfaceElectrons(i, sky.skyMagArcsec2);
  const starEPerS =
    PHOTONS_MAG_0 *
    10 ** (-0.4 * criteria.brightestMag) *
    areaCm2(i) *
    i.bandwidthNm *
    i.quantumEfficiency *
    i.transmission;
  const rates = { readNoiseE: light.readNoiseE, skyEPerSPx, darkEPerSPx: light.darkEPerSPx };
  const got = sub({
    ...rates,
    noiseIncrease: criteria.noiseIncrease,
    fullWellE: light.fullWellE,
    starEPerSPeak: starEPerS * peakShare(i.scaleArcsecPerPx, criteria.fwhmArcsec),
  });
  return {
    filter: light.filter,
    skyEPerSPx,
    from: light.measured ? 'measured' : 'estimate',
    minimumS: got.minimumS,
    schools: got.schools,
    clipS: got.clipS!,
    recommendedS: got.recommendedS,
    verdict: got.verdict,
    working: got.working,
    addedAt: (seconds) => addedNoise(rates, seconds),
  };
}

/**
 * Time that frames of one length need to be as deep as the same sky in frames of another: noise of the sum goes with the
 * square root of the time.
 * @returns time with `seconds` over time with `against`; below 1 where `seconds` is the better
 */
export const sameDepth = (a: Pick<FilterAdvice, 'addedAt'>, seconds: number, against: number): number =>
  ((1 + a.addedAt(seconds)) / (1 + a.addedAt(against))) ** 2;

/** Beyond this a lost frame costs too much of a night; common practice, no source. */
const LONGEST_S = 600;
/**
 * The longest usual frame that stars and flexure allow, for who wants few files; never shorter than the advised one.
 * @param flexureS where stars would trail; null without such a limit
 */
export const longestS = (a: Pick<FilterAdvice, 'clipS' | 'recommendedS'>, flexureS: number | null): number =>
  Math.max(a.recommendedS, HABITUAL_S.findLast((s) => s <= Math.min(a.clipS, flexureS ?? Infinity, LONGEST_S)) ?? 0);
