import { nightFrame, sunCrossings, SUN_ALTITUDE, type Site } from '../sky/index.ts';

/**
 * Brightness of the clear sky overhead by the altitude of the Sun [°, mag/arcsec²]: illuminances of the ground of 400,
 * 3.4 and 0.008 lx at 0°, −6° and −12° (almanac tables, from memory) taken as those of an even sky, 12.58 mag/arcsec² for
 * a candela a square metre. Good to about a magnitude; a flat that was measured takes its place.
 */
const SKY = [
  [0, 7.3],
  [-6, 12.5],
  [-12, 19],
  [-18, 21.6],
] as const;
export function twilightMag(sunAltitudeDeg: number): number {
  if (sunAltitudeDeg >= SKY[0][0]) return SKY[0][1];
  for (let i = 1; i < SKY.length; i++) {
    const [[h1, m1], [h2, m2]] = [SKY[i - 1]!, SKY[i]!];
    if (sunAltitudeDeg >= h2) return m1 + ((m2 - m1) * (h1 - sunAltitudeDeg)) / (h1 - h2);
  }
  return SKY.at(-1)![1];
}

/** Light of one filter: how fast a pixel fills where the Sun stands at an altitude, and how full it shall be. */
export interface TwilightFilter {
  filter: string;
  /** Electrons, or counts, a second. */
  perS: number;
  atSunDeg: number;
  /** In the same units. */
  wanted: number;
}
export interface TwilightCriteria {
  site: Site;
  /** Local date of the evening. */
  date: string;
  when: 'dusk' | 'dawn';
  filters: readonly TwilightFilter[];
  /** Flats by filter. */
  count: number;
  /** Exposures allowed: a shutter’s shade at the short end, stars at the long one [s]. */
  shortestS: number;
  longestS: number;
  /** Reading out, and moving a little so that stars fall elsewhere [s]. */
  betweenS: number;
}
export interface TwilightTurn {
  filter: string;
  frames: number;
  /** First and last shutter [ms]; null where none could be taken. */
  startMs: number | null;
  endMs: number | null;
  firstS: number | null;
  lastS: number | null;
  sunDeg: number | null;
}
/** How fast a filter fills with the Sun at an altitude [per s]. */
export const rateAt = (f: TwilightFilter, sunDeg: number): number =>
  f.perS * 10 ** (0.4 * (twilightMag(f.atSunDeg) - twilightMag(sunDeg)));

/** Longest waited for a filter’s turn, in steps of this [ms]. */
const STEP_MS = 5000;

/**
 * When each filter’s flats are taken in twilight, one filter after the other. At dusk those that let the least light
 * through come first, while the sky is bright; at dawn last. Each exposure is as long as the sky asks for at its middle.
 * @returns in the order they are taken; filters for which the sky was too dark or too bright by then come with fewer frames
 */
export function twilightFlats(criteria: TwilightCriteria): TwilightTurn[] {
  const night = nightFrame(criteria.site, criteria.date);
  const sun = (ms: number) => night.sky.sunAltitudeDeg(ms);
  const { down, up } = sunCrossings(night, SUN_ALTITUDE.sunset);
  const dark = sunCrossings(night, SUN_ALTITUDE.astronomical);
  const dusk = criteria.when === 'dusk';
  const none = (f: TwilightFilter): TwilightTurn => ({
    filter: f.filter,
    frames: 0,
    startMs: null,
    endMs: null,
    firstS: null,
    lastS: null,
    sunDeg: null,
  });
  // the share that fills a pixel in one second, in the same light
  const need = (f: TwilightFilter) => rateAt(f, -6) / f.wanted;
  const order = [...criteria.filters].sort((a, b) => (dusk ? need(a) - need(b) : need(b) - need(a)));
  const [from, to] = dusk ? [down, dark.down ?? night.middle] : [dark.up ?? night.middle, up];
  if (from === null || to === null) return order.map(none);
  let at = from;
  return order.map((f) => {
    const turn = none(f);
    // at dusk exposures grow: wait until they are long enough; at dawn they shrink: until they are short enough
    while (at < to && (dusk ? exposureAt(f, at, sun) < criteria.shortestS : exposureAt(f, at, sun) > criteria.longestS))
      at += STEP_MS;
    while (turn.frames < criteria.count && at < to) {
      const s = exposureAt(f, at, sun);
      if (s < criteria.shortestS || s > criteria.longestS) break;
      turn.startMs ??= at;
      turn.firstS ??= s;
      turn.sunDeg ??= sun(at);
      turn.lastS = s;
      turn.frames++;
      at += 1000 * (s + criteria.betweenS);
      turn.endMs = at - 1000 * criteria.betweenS;
    }
    return turn;
  });
}

/** Exposure begun at a moment that fills to the wanted level; the light at its middle counts [s]. */
function exposureAt(f: TwilightFilter, ms: number, sun: (ms: number) => number): number {
  let s = f.wanted / rateAt(f, sun(ms));
  for (let k = 0; k < 4 && s < 600; k++) s = f.wanted / rateAt(f, sun(ms + 500 * s));
  return s;
}
