import { longOverShort } from '../quantities/index.ts';
import { FEW_SHARE, LONG_ECCENTRICITY, WIDE_TIMES } from '../record/index.ts';
import { quantile } from 'simple-statistics';
import { z } from 'zod';
import { phrase, type Phrase } from '../phrases/index.ts';
import { median } from '../statistics/index.ts';
import { Flare } from './measure/flare.ts';
import type { MeasureOutput } from './measure/measure.ts';

/** Places of stars kept of a picture: enough to tell a shift by, few enough for thousands of frames. */
const MOST_PLACES = 40;
/** What is kept of a measured picture: all but its header, the working, and of its stars more than the places of some. */
const bounded = z.number().min(-1e12).max(1e12);
const size = z.number().min(0).max(1e6).nullable();
const eccentricity = z.number().min(0).max(1).nullable();
const angle = z.number().min(-360).max(360).nullable();
const count = z.int().min(0).max(1e7);
const edge = z.int().positive().max(1e6);
export const FrameMeasures = z.strictObject({
  widthPx: edge,
  heightPx: edge,
  background: bounded,
  noise: z.number().min(0).max(1e12),
  stars: count,
  used: count,
  hfdPx: size,
  fwhmPx: size,
  eccentricity,
  elongationAngleDeg: angle,
  saturatedFraction: z.number().min(0).max(1),
  coreRatio: bounded.nullable(),
  edgeDips: z.strictObject({ left: bounded, right: bounded, bottom: bounded, top: bounded }),
  grid: z
    .array(
      z.strictObject({
        row: z.int().min(0).max(2),
        col: z.int().min(0).max(2),
        stars: count,
        used: count,
        hfdPx: size,
        eccentricity,
        angleDeg: angle,
        background: bounded,
      }),
    )
    .length(9),
  trails: count,
  colourCells: z.boolean(),
  /** Missing in what was measured before it was looked at. */
  flare: Flare.nullable().optional(),
  /** Where the brightest clean stars lie, x and y [px], by which frames are held against one another. */
  places: z
    .array(z.tuple([bounded, bounded]))
    .max(MOST_PLACES)
    .optional(),
});
export type FrameMeasures = z.infer<typeof FrameMeasures>;
/** Of a measured picture, what is kept, with digits enough for any eye. */
export function frameLook(m: MeasureOutput): FrameMeasures {
  const { header: _h, list = [], working: _w, verdict: _v, radiusPx: _r, ...kept } = m;
  const places = list.slice(0, MOST_PLACES).map((s) => [s.x, s.y]);
  return JSON.parse(
    JSON.stringify({ ...kept, places }, (_, v: unknown) =>
      typeof v === 'number' && !Number.isInteger(v) ? Number(v.toPrecision(6)) : v,
    ),
  ) as FrameMeasures;
}

/** A frame of a night, as far as suggestions need it. */
export interface LookedFrame {
  id: string;
  filter: string;
  exposureS: number;
  look: FrameMeasures | null;
  /** Object and angle it shows, to tell the sky from the optics; null or left out where that is not known. */
  field?: string | null;
}
/** How far a frame may stray from its fellows. */
export const FrameLimits = z.strictObject({
  /** Half flux diameter over the median of its filter. */
  wide: z.number(),
  /** Stars over the filter’s richer frames. */
  few: z.number(),
  eccentricity: z.number(),
});
export type FrameLimits = z.infer<typeof FrameLimits>;
/** Common practice, no source; people’s own decisions move them. */
export const USUAL_LIMITS: FrameLimits = { wide: WIDE_TIMES, few: FEW_SHARE, eccentricity: LONG_ECCENTRICITY };
/** Sky noise squared over that of a dark frame, and stars left, at which cloud is taken for certain. */
const CLOUD = { noiseSquared: 1.5, stars: 0.85 };
/** Fewer frames alike say nothing of what is usual. */
const ENOUGH = 4;

/** What frames through one filter, of one length, are usually like. */
export interface Standard {
  hfdPx: number;
  stars: number;
  noise: number;
  background: number;
}
const kindOf = (f: Pick<LookedFrame, 'filter' | 'exposureS' | 'look'>) =>
  `${f.filter} ${f.exposureS} ${f.look?.widthPx}`;

/** The usual frame of each filter and length of a night; left out where there are too few of them. */
export function standardsOf(frames: readonly LookedFrame[]): (f: LookedFrame) => Standard | null {
  const alike = new Map<string, FrameMeasures[]>();
  for (const f of frames) {
    if (!f.look) continue;
    const there = alike.get(kindOf(f));
    if (there) there.push(f.look);
    else alike.set(kindOf(f), [f.look]);
  }
  const known = new Map<string, Standard>();
  for (const [kind, looks] of alike) {
    const widths = looks.flatMap((l) => (l.hfdPx === null ? [] : [l.hfdPx]));
    if (looks.length < ENOUGH || widths.length < ENOUGH) continue;
    const of = (share: number, what: (l: FrameMeasures) => number) => quantile(looks.map(what), share);
    known.set(kind, {
      hfdPx: median(widths),
      stars: of(0.8, (l) => l.stars),
      noise: of(0.2, (l) => l.noise),
      background: of(0.2, (l) => l.background),
    });
  }
  return (f) => known.get(kindOf(f)) ?? null;
}

/** How a frame compares with its fellows; null where either is not known. */
export interface Strays {
  wide: number | null;
  few: number;
  eccentricity: number | null;
  noiseSquared: number;
}
export const straysOf = (look: FrameMeasures, usual: Standard): Strays => ({
  wide: look.hfdPx === null ? null : look.hfdPx / usual.hfdPx,
  few: usual.stars > 0 ? look.stars / usual.stars : 1,
  eccentricity: look.eccentricity,
  noiseSquared: usual.noise > 0 ? (look.noise / usual.noise) ** 2 : 1,
});

export interface SuggestedRefusal {
  code: 'wide' | 'few' | 'cloud' | 'long';
  reason: Phrase;
  /** Open shutter that would be lost [s]. */
  costsS: number;
}

/** What speaks against a frame; null where nothing does, or nothing is known of its fellows. */
export function suggestRefusal(f: LookedFrame, usual: Standard | null, limits: FrameLimits): SuggestedRefusal | null {
  const { look } = f;
  if (!look || !usual) return null;
  const s = straysOf(look, usual);
  const against = (code: SuggestedRefusal['code'], reason: Phrase) => ({ code, reason, costsS: f.exposureS });
  if (s.noiseSquared >= CLOUD.noiseSquared && s.few <= CLOUD.stars)
    return against(
      'cloud',
      phrase('look.cloud', { fewerPercent: 100 * (1 - s.few), brighterPercent: 100 * (s.noiseSquared - 1) }),
    );
  if (s.few < limits.few)
    return against('few', phrase('look.few', { stars: look.stars, usual: Math.round(usual.stars) }));
  if (s.wide !== null && s.wide > limits.wide)
    return against('wide', phrase('look.wide', { hfdPx: look.hfdPx!, usualPx: usual.hfdPx }));
  if (s.eccentricity !== null && s.eccentricity > limits.eccentricity)
    return against('long', phrase('look.long', { ratio: longOverShort(s.eccentricity) }));
  return null;
}

/** A person’s word on a frame, with how the frame compared. */
export const Judgement = z.strictObject({
  filter: z.string(),
  accepted: z.boolean(),
  wide: z.number().nullable(),
  few: z.number(),
  eccentricity: z.number().nullable(),
});
export type Judgement = z.infer<typeof Judgement>;
/** So many words of people, some each way, before they move a limit. */
export const LEARN_FROM = { all: 12, each: 4 };
/** A limit is moved only for so many decisions more that agree with it. */
const WORTH = 2;
/** How far a limit may be moved. */
const BOUNDS = { wide: [1.1, 2.5], few: [0.1, 0.9], eccentricity: [0.4, 0.85] } as const;

/**
 * The limits that agree with most of what people decided, for one filter; where several agree as well, the one nearest to
 * the usual limit. A frame refused for another cause counts against no limit that it keeps to.
 * @returns null while too little was decided
 */
export function learnLimits(judgements: readonly Judgement[], filter: string): FrameLimits | null {
  const own = judgements.filter((j) => j.filter === filter);
  const kept = own.filter((j) => j.accepted);
  const refused = own.filter((j) => !j.accepted);
  if (own.length < LEARN_FROM.all || kept.length < LEARN_FROM.each || refused.length < LEARN_FROM.each) return null;
  const limits = { ...USUAL_LIMITS };
  // twice round: what one limit explains is no reason to move another
  for (const key of [...KEYS, ...KEYS]) limits[key] = bestLimit(key, limits, own);
  return limits;
}

const KEYS = ['wide', 'few', 'eccentricity'] as const;
type Key = (typeof KEYS)[number];
const crosses = (j: Judgement, key: Key, limit: number) =>
  j[key] !== null && (key === 'few' ? j[key] < limit : j[key] > limit);

function bestLimit(key: Key, others: FrameLimits, own: readonly Judgement[]): number {
  const elsewhere = own.map((j) => KEYS.some((k) => k !== key && crosses(j, k, others[k])));
  const wrong = (t: number) => own.filter((j, i) => (elsewhere[i]! || crosses(j, key, t)) === j.accepted).length;
  const values = own.flatMap((j) => j[key] ?? []).sort((a, b) => a - b);
  const middles = values.slice(1).map((v, i) => (v + values[i]!) / 2);
  const [least, most] = BOUNDS[key];
  const usual = USUAL_LIMITS[key];
  let best = { limit: usual, wrong: wrong(usual) - WORTH };
  for (const limit of middles) {
    if (limit < least || limit > most) continue;
    const errs = wrong(limit);
    const nearer = Math.abs(limit - usual) < Math.abs(best.limit - usual);
    if (errs < best.wrong || (errs === best.wrong && best.limit !== usual && nearer)) best = { limit, wrong: errs };
  }
  return best.limit;
}
