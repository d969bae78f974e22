import { z } from 'zod';
import { define, explained, InvalidInput, type SpokenVerdict, type WorkingStep } from '../../calculation/index.ts';
import { readPicture, type FitsPicture } from '../../exchange/index.ts';
import { makeVerdict, phrase } from '../../phrases/index.ts';
import { median } from '../../statistics/index.ts';
import { colourCells, type Mosaic } from './colourCells.ts';
import { dustSpots, type DustSpot } from './dust.ts';
import { edgeDips } from './edges.ts';
import { Flare, flareOf } from './flare.ts';
import { groupsAbove, type Group } from './groups.ts';
import { PictureHeader, pictureHeader } from './header.ts';
import { skyMap, skyOver, type SkyMap } from './sky.ts';
import { meanStars } from './meanStars.ts';
import { ninePieces, shrunk, tonesOf, type SmallPicture } from './smallPictures.ts';
import { measuredStars, type MeasuredStar } from './stars.ts';

export const MeasureInput = z.strictObject({ file: z.string().min(1).max(4096) });
const size = z.number().nullable();
const count = z.int().min(0);
export const MeasuredCell = z.strictObject({
  row: z.int(),
  col: z.int(),
  stars: count,
  used: count,
  hfdPx: size,
  eccentricity: size,
  angleDeg: size,
  background: z.number(),
});
export type MeasuredCell = z.infer<typeof MeasuredCell>;
export const ListedStar = z.strictObject({
  x: z.number(),
  y: z.number(),
  hfdPx: z.number(),
  fwhmPx: size,
  eccentricity: size,
  angleDeg: size,
});
export type ListedStar = z.infer<typeof ListedStar>;

export const MeasureOutput = z.strictObject({
  header: PictureHeader,
  widthPx: z.int(),
  heightPx: z.int(),
  background: z.number(),
  noise: z.number(),
  stars: count,
  used: count,
  radiusPx: z.number(),
  hfdPx: size,
  fwhmPx: size,
  eccentricity: size,
  elongationAngleDeg: size,
  saturatedFraction: z.number(),
  coreRatio: size,
  edgeDips: z.strictObject({ left: z.number(), right: z.number(), bottom: z.number(), top: z.number() }),
  grid: z.array(MeasuredCell).length(9),
  /** Straight streaks across a good part of the picture: satellites, aircraft. */
  trails: count,
  /** How stars lean to one side; null where too few tell it. */
  flare: Flare.nullable(),
  /** Measured in cells of two by two of a colour sensor. */
  colourCells: z.boolean(),
  list: z.array(ListedStar).optional(),
  ...explained,
});
export type MeasureOutput = z.input<typeof MeasureOutput>;

/** A star’s highest pixel stands so many times the noise above the sky. */
const STAR_PEAK = 10;
/** A star has at least so many pixels above the noise. */
const STAR_PIXELS = 5;
/** A hot pixel holds more of its group than this. */
const MOST_IN_ONE = 0.6;
/** Of a full pixel. */
const FULL = 0.98;
/** So many pixels of one highest value, so many times the noise above the sky, are full ones. */
const SHARED_MAXIMUM = { pixels: 10, noise: 50 };
/** Wider than this and without a core: a ring or a disk, far out of focus. */
export const HOLLOW = { hfdPx: 6, coreRatio: 1.1 };

const isStar = (noise: number) => (g: Group) =>
  g.pixels >= STAR_PIXELS && g.peak >= STAR_PEAK * noise && g.peak <= MOST_IN_ONE * g.flux;
/** Long and thin, over a twelfth of the picture’s diagonal at least. Common practice, no source. */
const isTrail = (diagonal: number) => (g: Group) => g.long * Math.sqrt(12) > diagonal / 12 && g.long > 12 * g.short;

/** From which value on a pixel is full, in the picture’s own numbers. */
function saturatedFrom(p: FitsPicture, mosaic: Mosaic, sky: SkyMap, background: number): number {
  const headline = p.cards.get('SATURATE');
  const top = typeof headline === 'number' ? headline : p.ceiling;
  const byType = top === null ? Infinity : FULL * top - p.pedestal;
  let [most, shared] = [-Infinity, 0];
  const { values } = mosaic;
  for (const v of values) {
    if (v > most) {
      most = v;
      shared = 1;
    } else if (v === most) shared++;
  }
  const flatTop = shared >= SHARED_MAXIMUM.pixels && most - background >= SHARED_MAXIMUM.noise * sky.noise;
  return Math.min(byType, flatTop ? most : Infinity);
}

const rounded = (v: number, digits: number) => Number(v.toPrecision(digits));
const medianOf = (all: readonly (number | null)[]) => {
  const there = all.filter((v) => v !== null);
  return there.length ? median(there) : null;
};
/** Of directions that are the same turned by half a circle. */
function medianAngleDeg(stars: readonly { angleDeg: number | null }[]): number | null {
  const angles = stars.flatMap((s) => (s.angleDeg === null ? [] : [(s.angleDeg * Math.PI) / 90]));
  if (angles.length === 0) return null;
  const deg = (Math.atan2(median(angles.map(Math.sin)), median(angles.map(Math.cos))) * 90) / Math.PI;
  return ((deg % 180) + 180) % 180;
}

/**
 * What a picture shows: sky, noise, stars with size and shape, over the whole of it and in nine cells. Values are physical,
 * lengths in pixels of the sensor, x along NAXIS1 and y along NAXIS2 from the first pixel. A colour sensor behind its
 * filter cells (BAYERPAT) is measured in cells of two by two.
 * Widths are medians of the hundred brightest clean stars of each cell; a median over that many holds to some percent.
 * @throws InvalidInput naming what the file lacks
 */
export function measurePicture(bytes: Uint8Array, path = 'file'): MeasureOutput {
  const read = readPicture(bytes);
  if (!read.ok) throw InvalidInput.at(path, read.message);
  return measureValues(read.value);
}

/** A picture measured, with what an eye wants of it: the whole of it small, and nine pieces as they are. */
export interface LookedAt {
  measure: MeasureOutput;
  small: SmallPicture;
  pieces: SmallPicture[];
  /** The mean star of nine parts, enlarged; none where no size was found. */
  stars: SmallPicture[];
  /** Round dark spots as of dust. */
  dust: DustSpot[];
}
/** Longest side of the small picture [px]. */
const SMALL_PX = 144;
/** Side of each of the nine pieces that are shown [px]. */
const PIECE_PX = 96;

/** Measures, and cuts out small pictures on the way: the values are overwritten by measuring. @throws InvalidInput */
export function lookAtPicture(bytes: Uint8Array): LookedAt {
  const read = readPicture(bytes);
  if (!read.ok) throw InvalidInput.at('file', read.message);
  const { pedestal } = read.value;
  let whole: ReturnType<typeof shrunk> | null = null;
  let pieces: SmallPicture[] = [];
  let stars: SmallPicture[] = [];
  let dust: DustSpot[] = [];
  const measure = measureValues(read.value, {
    before: (m) => {
      whole = shrunk(m.values, m.w, m.h, SMALL_PX);
      dust = dustSpots(m.values, m.w, m.h).map((d) => ({
        ...d,
        x: d.x * m.cell,
        y: d.y * m.cell,
        diameterPx: d.diameterPx * m.cell,
      }));
    },
    after: (m, noise, used, hfd) => {
      if (noise > 0) pieces = ninePieces(m.values, m.w, m.h, noise, PIECE_PX);
      if (hfd !== null) stars = meanStars(m.values, m.w, m.h, used, hfd);
    },
  });
  const { widthPx, heightPx, means } = whole!;
  const tones = tonesOf(means, measure.background - pedestal, measure.noise || 1);
  return { measure, small: { widthPx, heightPx, tones }, pieces, stars, dust };
}

interface Onlooker {
  /** The picture as it was read. */
  before: (m: Mosaic) => unknown;
  /** The same with its sky taken off. */
  after: (m: Mosaic, noise: number, used: readonly MeasuredStar[], hfd: number | null) => unknown;
}
export function measureValues(picture: FitsPicture, onlooker?: Onlooker): MeasureOutput {
  const { widthPx, heightPx, pedestal } = picture;
  const mosaic = colourCells(picture);
  const { values, w, h, cell } = mosaic;
  onlooker?.before(mosaic);
  const sky = skyMap(values, w, h);
  const background = skyOver(sky, 0, w - 1, 0, h - 1);
  const dips = edgeDips(values, w, h, pedestal);
  const full = saturatedFrom(picture, mosaic, sky, background);
  const flat = sky.noise > 0;
  const groups = flat ? groupsAbove(values, w, h, sky, full) : [];
  const stars = groups.filter(isStar(sky.noise));
  const measured = measuredStars({ values, w, h }, groups, stars, sky.noise);
  const { used } = measured;
  const hfd = medianOf(used.map((s) => s.hfdPx));
  onlooker?.after(mosaic, flat ? sky.noise : 0, used, hfd);
  const coreRatio = medianOf(used.map((s) => s.coreRatio));
  const hollow = hfd !== null && coreRatio !== null && hfd * cell >= HOLLOW.hfdPx && coreRatio < HOLLOW.coreRatio;
  const shapeOf = <T>(v: T | null) => (hollow ? null : v);
  const scaled = (v: number | null) => (v === null ? null : v * cell);
  const cellOf = (x: number, y: number) =>
    3 * Math.min(2, Math.floor((3 * (y + 0.5)) / h)) + Math.min(2, Math.floor((3 * (x + 0.5)) / w));
  const grid = Array.from({ length: 9 }, (_, i): MeasuredCell => {
    const [row, col] = [Math.floor(i / 3), i % 3];
    const here = used.filter((s) => cellOf(s.x, s.y) === i);
    const level = skyOver(
      sky,
      (col * w) / 3 - 0.5,
      ((col + 1) * w) / 3 - 0.5,
      (row * h) / 3 - 0.5,
      ((row + 1) * h) / 3 - 0.5,
    );
    return {
      row,
      col,
      stars: stars.filter((s) => cellOf(s.x, s.y) === i).length,
      used: here.length,
      hfdPx: scaled(medianOf(here.map((s) => s.hfdPx))),
      eccentricity: shapeOf(medianOf(here.map((s) => s.eccentricity))),
      angleDeg: shapeOf(medianAngleDeg(here)),
      background: level + pedestal,
    };
  });
  const saturated = stars.filter((s) => s.saturated).length;
  const found = {
    stars: stars.length,
    used: used.length,
    background: background + pedestal,
    noise: sky.noise,
    hfdPx: scaled(hfd),
    fwhmPx: shapeOf(scaled(medianOf(used.map((s) => s.fwhmPx)))),
    eccentricity: shapeOf(medianOf(used.map((s) => s.eccentricity))),
  };
  return {
    header: pictureHeader(picture.cards),
    widthPx,
    heightPx,
    ...found,
    radiusPx: measured.radiusPx * cell,
    elongationAngleDeg: shapeOf(medianAngleDeg(used)),
    saturatedFraction: stars.length ? saturated / stars.length : 0,
    coreRatio,
    edgeDips: dips,
    grid,
    trails: groups.filter(isTrail(Math.hypot(w, h))).length,
    flare: hollow ? null : flareOf(used, w, h),
    colourCells: cell === 2,
    list: used.map((s) => listed(s, cell, hollow)),
    working: workingOf(found, measured.radiusPx * cell, sky),
    verdict: verdictOf(found, hollow),
  };
}

const listed = (s: MeasuredStar, cell: number, hollow: boolean): ListedStar => {
  // the middle of a cell of two lies half a pixel beyond its first
  const place = (v: number) => rounded(v * cell + (cell - 1) / 2, 7);
  const shape =
    s.fwhmPx === null || hollow
      ? null
      : {
          fwhmPx: rounded(s.fwhmPx * cell, 5),
          eccentricity: rounded(s.eccentricity!, 4),
          angleDeg: rounded(s.angleDeg!, 5),
        };
  return {
    x: place(s.x),
    y: place(s.y),
    hfdPx: rounded(s.hfdPx * cell, 5),
    ...(shape ?? { fwhmPx: null, eccentricity: null, angleDeg: null }),
  };
};

type Found = Pick<MeasureOutput, 'stars' | 'used' | 'background' | 'noise' | 'hfdPx' | 'fwhmPx' | 'eccentricity'>;
const workingOf = (f: Found, radiusPx: number, sky: SkyMap): WorkingStep[] => [
  {
    label: 'Sky',
    formula: `median of ${sky.columns} × ${sky.rows} tiles, clipped at 3σ`,
    value: f.background,
    unit: '',
  },
  { label: 'Noise', formula: 'median of the tiles’ standard deviations', value: f.noise, unit: '' },
  { label: 'Radius of the light of a star', formula: 'max(8, 1.5·HFD)', value: radiusPx, unit: 'px' },
  { label: 'Half flux diameter', formula: 'median of the stars used', value: f.hfdPx, unit: 'px' },
  {
    label: 'Width',
    formula: 'elliptical Moffat, √(long·short)',
    value: f.fwhmPx,
    unit: 'px',
    source: 'Moffat (1969), A&A 3, 455',
  },
];

function verdictOf(f: Found, hollow: boolean): SpokenVerdict {
  if (f.noise === 0) return makeVerdict('bad', phrase('frames.all-alike'));
  if (f.stars === 0) return makeVerdict('bad', phrase('frames.no-stars'));
  if (f.hfdPx === null) return makeVerdict('caution', phrase('frames.none-used', { stars: f.stars }));
  const headline = phrase('frames.measured', { stars: f.stars, hfdPx: f.hfdPx });
  return hollow ? makeVerdict('bad', headline, phrase('frames.hollow')) : makeVerdict('good', headline);
}

export const framesMeasure = define({
  name: 'frames.measure',
  summary: 'Sky, noise and the stars of a picture: how many, how wide, how round, over the whole and in nine cells',
  sources: [
    'FITS Standard 4.0 (2018)',
    'Moffat (1969), Astronomy & Astrophysics 3, 455',
    'Thresholds: common practice, no source',
  ],
  input: MeasureInput,
  output: MeasureOutput,
  compute: ({ file }, context) => {
    if (!context.file)
      throw InvalidInput.at('file', 'no path is taken here: send the picture itself, or use the shell');
    return measurePicture(context.file(file));
  },
});
