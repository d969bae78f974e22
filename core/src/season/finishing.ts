import type { YearNight } from '../sky/index.ts';
import { forecast } from './forecast.ts';

/** An object that is up for less of a night is out of season; common practice, no source [h]. */
const SHORTEST_H = 1;
/** So many nights out of season in a row end it: the Moon takes no such gap, but summer may [nights]. */
const GAP_NIGHTS = 10;
/** Share of the hours an object is up in which the shutter is open; common practice, no source. */
export const OPEN_SHARE = 0.8;

export interface FinishingInput {
  /** Evening by evening from the present one on, as `sky.year` gives them. */
  nights: readonly YearNight[];
  /** The same as the object is up, where the nights above are only a share of them; left out: they are all of them. */
  up?: readonly YearNight[];
  /** Open shutter that is still wanted [min]. */
  needMinutes: number;
  /** Nothing but narrow filters are wanted: hours with the Moon up count too. */
  narrow: boolean;
  /** Share of nights that are clear. */
  clearFraction: number;
  /** The last night on which it is of use; left out: any. */
  deadline?: string | null;
}
export interface Finishing {
  /** First and last night of the season that is on, or comes next; null where there is none in the nights that are known. */
  season: { first: string; last: string; now: boolean } | null;
  /** Chance of being finished in it. */
  chance: number;
  /** By which night it is finished in 10, 50 and 90 of 100. */
  p10: string | null;
  p50: string | null;
  p90: string | null;
  /** If every night were clear [min]. */
  mostMinutes: number;
}

/** The season an object is in, or the next one: the nights in which it is up for an hour at least. */
function seasonOf(nights: readonly YearNight[]): [number, number] | null {
  const up = (i: number) => nights[i]!.hours >= SHORTEST_H;
  const first = nights.findIndex((_, i) => up(i));
  if (first < 0) return null;
  let last = first;
  for (let i = first; i < nights.length && i - last <= GAP_NIGHTS; i++) if (up(i)) last = i;
  return [first, last];
}

/** A chance as people say it, in a hundred: what is not certain is not said to be, nor what may be that it cannot. */
export const inHundred = (chance: number): number =>
  chance >= 1 - 1e-9 ? 100 : chance <= 1e-9 ? 0 : Math.min(99, Math.max(1, Math.round(100 * chance)));

/** The nights of the season that is on, or comes next, as far as they are of use. */
export function nightsOfSeason(all: readonly YearNight[], deadline: string | null): readonly YearNight[] {
  const nights = deadline === null ? all : all.filter((n) => n.date <= deadline);
  const season = seasonOf(nights);
  return season ? nights.slice(season[0], season[1] + 1) : [];
}

/**
 * When a project will be finished in the season its object is in, or comes to next, if it has the rig to itself: night by night
 * what it is up for, moonlit hours only for narrow filters, each night clear or not.
 */
export function finishing({
  nights: all,
  up = all,
  needMinutes,
  narrow,
  clearFraction,
  deadline = null,
}: FinishingInput): Finishing {
  const until = (of: readonly YearNight[]) => (deadline === null ? of : of.filter((n) => n.date <= deadline));
  const nights = until(all);
  const season = seasonOf(until(up));
  if (!season)
    return { season: null, chance: needMinutes > 0 ? 0 : 1, p10: null, p50: null, p90: null, mostMinutes: 0 };
  const [first, last] = season;
  const of = nights.slice(first, last + 1).map((n) => ({
    date: n.date,
    minutes: Math.floor(60 * OPEN_SHARE * (narrow ? n.hours : n.moonlessHours)),
  }));
  const found = forecast({
    needMinutes: Math.ceil(needMinutes),
    nights: of.map(({ minutes }) => ({ minutes })),
    clearFraction,
  });
  const at = (i: number | null) => (i === null ? null : of[i]!.date);
  return {
    season: { first: of[0]!.date, last: of.at(-1)!.date, now: first === 0 },
    chance: found.chance,
    p10: at(found.p10),
    p50: at(found.p50),
    p90: at(found.p90),
    mostMinutes: of.reduce((s, n) => s + n.minutes, 0),
  };
}
