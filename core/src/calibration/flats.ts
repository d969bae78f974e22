import { phrase, type Phrase } from '../phrases/index.ts';

/** Where a flat is well exposed, as shares of the full count; common practice, no source. */
export const FLAT_LEVEL = { least: 0.2, wanted: 0.45, most: 0.7 } as const;

export interface PanelFlat {
  /** Middle level of one test flat, and of a bias or the shortest dark [counts]. */
  level: number;
  bias: number;
  exposureS: number;
  /** Largest count. */
  full: number;
  /** Wanted share of the full count. */
  wanted: number;
  /** A mechanical shutter shades shorter ones; a flickering panel bands them [s]. */
  shortestS: number;
}
export interface PanelExposure {
  /** Null where the test flat tells nothing: full, or as dark as the bias. */
  exposureS: number | null;
  level: 'good' | 'caution' | 'bad';
  phrase: Phrase;
}
/** The exposure that brings a steady panel to the wanted level: counts above the bias grow with time. */
export function panelExposure(f: PanelFlat): PanelExposure {
  if (f.level >= 0.95 * f.full)
    return { exposureS: null, level: 'bad', phrase: phrase('flat.full', { tryS: f.exposureS / 8 }) };
  if (f.level - f.bias < 0.005 * f.full)
    return { exposureS: null, level: 'bad', phrase: phrase('flat.dark', { tryS: f.exposureS * 20 }) };
  const exposureS = (f.exposureS * (f.wanted * f.full - f.bias)) / (f.level - f.bias);
  if (exposureS < f.shortestS)
    return {
      exposureS,
      level: 'caution',
      phrase: phrase('flat.too-bright', { exposureS, shortestS: f.shortestS, times: f.shortestS / exposureS }),
    };
  return { exposureS, level: 'good', phrase: phrase('flat.panel', { exposureS, wantedPercent: 100 * f.wanted }) };
}

/** A flat that was brought in. */
export interface TakenFlat {
  filter: string;
  exposureS: number;
  /** Middle level [counts]. */
  level: number;
}
export interface FlatsReading {
  filter: string;
  frames: number;
  /** Lowest and highest level as shares of the full count. */
  lowest: number;
  highest: number;
  level: 'good' | 'caution' | 'bad';
  phrases: Phrase[];
  /** Largest departure from the straight line of counts over time, as a share; null with fewer than three exposures. */
  bend: number | null;
}
/** Up to so much a camera is straight; common practice, no source. */
const STRAIGHT = 0.01;

/**
 * Whether flats are well exposed, and, where they have three exposures or more under one light, whether counts grow with
 * time as they should. The bias is the line's own where no dark tells it.
 */
export function readFlats(flats: readonly TakenFlat[], full: number, bias: number | null): FlatsReading[] {
  return [...new Set(flats.map((f) => f.filter))].map((filter) => {
    const own = flats.filter((f) => f.filter === filter);
    const shares = own.map((f) => f.level / full);
    const [lowest, highest] = [Math.min(...shares), Math.max(...shares)];
    const phrases: Phrase[] = [];
    if (highest > FLAT_LEVEL.most)
      phrases.push(phrase('flat.high', { highestPercent: 100 * highest, mostPercent: 100 * FLAT_LEVEL.most }));
    if (lowest < FLAT_LEVEL.least)
      phrases.push(phrase('flat.low', { lowestPercent: 100 * lowest, leastPercent: 100 * FLAT_LEVEL.least }));
    const bend = bendOf(own, bias);
    if (bend !== null)
      phrases.push(
        bend > STRAIGHT
          ? phrase('flat.bent', { bendPercent: 100 * bend })
          : phrase('flat.straight', { bendPercent: 100 * bend }),
      );
    if (phrases.length === 0)
      phrases.push(phrase('flat.fine', { lowestPercent: 100 * lowest, highestPercent: 100 * highest }));
    const level =
      highest >= 0.95
        ? 'bad'
        : highest > FLAT_LEVEL.most || lowest < FLAT_LEVEL.least || (bend ?? 0) > STRAIGHT
          ? 'caution'
          : 'good';
    return { filter, frames: own.length, lowest, highest, level, phrases, bend };
  });
}

/** Largest departure from a straight line by exposure, as a share of the level above the bias. */
function bendOf(flats: readonly TakenFlat[], bias: number | null): number | null {
  if (new Set(flats.map((f) => f.exposureS)).size < 3) return null;
  const n = flats.length;
  const mean = (v: readonly number[]) => v.reduce((s, x) => s + x, 0) / v.length;
  const [t, y] = [flats.map((f) => f.exposureS), flats.map((f) => f.level)];
  let zero = bias ?? 0;
  let rate: number;
  if (bias === null) {
    const [mt, my] = [mean(t), mean(y)];
    rate = t.reduce((s, x, i) => s + (x - mt) * (y[i]! - my), 0) / t.reduce((s, x) => s + (x - mt) ** 2, 0);
    zero = my - rate * mt;
  } else rate = t.reduce((s, x, i) => s + x * (y[i]! - bias), 0) / t.reduce((s, x) => s + x * x, 0);
  let worst = 0;
  for (let i = 0; i < n; i++) {
    const straight = rate * t[i]!;
    if (straight > 0) worst = Math.max(worst, Math.abs(y[i]! - zero - straight) / straight);
  }
  return worst;
}
