import type { YearNight } from '../sky/index.ts';
import { finishing, nightsOfSeason, OPEN_SHARE } from './finishing.ts';

/** Minutes of open shutter are counted in steps of this length where two sorts of filters share the nights [min]. */
export const STEP_MIN = 10;

export interface SharedNight {
  /** Open shutter of a clear night with the Moon down, and with it up [min]. */
  moonless: number;
  moonlit: number;
}
/**
 * Chance that broad filters and narrow ones are both finished by each night, if moonlit hours go to the narrow ones and moonless
 * hours to the broad ones first. Exact for nights that are clear each by itself, in steps of ten minutes: of a night rounded
 * down, of what is needed rounded up.
 */
export function finishedBoth(
  need: { broadMinutes: number; narrowMinutes: number },
  nights: readonly SharedNight[],
  clearFraction: number,
): number[] {
  const broad = Math.ceil(need.broadMinutes / STEP_MIN);
  const narrow = Math.ceil(need.narrowMinutes / STEP_MIN);
  const width = narrow + 1;
  // chance of what is still needed, broad by narrow
  let chances = new Float64Array((broad + 1) * width);
  chances[broad * width + narrow] = 1;
  return nights.map(({ moonless, moonlit }) => {
    const dark = Math.floor(moonless / STEP_MIN);
    const lit = Math.floor(moonlit / STEP_MIN);
    const next = new Float64Array(chances.length);
    for (let b = 0; b <= broad; b++)
      for (let n = 0; n <= narrow; n++) {
        const p = chances[b * width + n]!;
        if (p === 0) continue;
        next[b * width + n]! += p * (1 - clearFraction);
        const left = Math.max(0, b - dark);
        // moonless hours that the broad ones leave are the narrow ones’ too
        const over = Math.max(0, dark - b);
        next[left * width + Math.max(0, n - lit - over)]! += p * clearFraction;
      }
    chances = next;
    return Math.min(1, chances[0]!);
  });
}

/** One rig as a forecast sees it. */
export interface RigYear {
  nights: readonly YearNight[];
  clearFraction: number;
  /** Part of its hours that are the project’s, 0…1. */
  share: number;
}
export interface HelpsInput {
  broadMinutes: number;
  narrowMinutes: number;
  deadline: string | null;
  own: RigYear;
  /** The same with twice the weight. */
  shareDoubled: number;
  /** Evenings as they would be if it were taken down to a lower altitude; null: that is not lower. */
  lower: { toDeg: number; nights: readonly YearNight[] } | null;
  others: readonly (RigYear & { rig: string })[];
}
export interface Outlook {
  chance: number;
  p50: string | null;
}
/** Something that could be done, and what would come of it. */
export type Help = Outlook &
  ({ kind: 'weight' } | { kind: 'lines' } | { kind: 'lower'; toDeg: number } | { kind: 'rig'; rig: string });

/** So much more of a chance, or so many days sooner, is worth being told. */
const LEAST_GAIN = 0.03;
const LEAST_DAYS = 7;

const outlook = (of: RigYear, input: HelpsInput): Outlook => {
  const { chance, p50 } = finishing({
    nights: of.nights.map((n) => ({ ...n, hours: of.share * n.hours, moonlessHours: of.share * n.moonlessHours })),
    up: of.nights,
    needMinutes: input.broadMinutes + input.narrowMinutes,
    narrow: input.broadMinutes === 0,
    clearFraction: of.clearFraction,
    deadline: input.deadline,
  });
  return { chance, p50 };
};

/** The narrow filters under the Moon, the broad ones without it. */
function linesUnderMoon(input: HelpsInput): Outlook {
  const { own } = input;
  const season = nightsOfSeason(own.nights, input.deadline);
  const open = 60 * OPEN_SHARE * own.share;
  const byNight = finishedBoth(
    input,
    season.map((n) => ({ moonless: open * n.moonlessHours, moonlit: open * (n.hours - n.moonlessHours) })),
    own.clearFraction,
  );
  const at = byNight.findIndex((p) => p >= 0.5);
  return { chance: byNight.at(-1) ?? 0, p50: at < 0 ? null : season[at]!.date };
}

const days = (a: string | null, b: string | null) =>
  a === null || b === null ? 0 : (Date.parse(a) - Date.parse(b)) / 86_400_000;

/**
 * What would help a project most, each by itself: twice its weight, its narrow filters under the Moon, a lower limit, another
 * rig. Only what helps is told, the most first.
 */
export function whatHelps(input: HelpsInput): { now: Outlook; helps: Help[] } {
  const now = outlook(input.own, input);
  const tried: Help[] = [
    { kind: 'weight', ...outlook({ ...input.own, share: input.shareDoubled }, input) },
    ...(input.broadMinutes > 0 && input.narrowMinutes > 0
      ? [{ kind: 'lines' as const, ...linesUnderMoon(input) }]
      : []),
    ...(input.lower
      ? [
          {
            kind: 'lower' as const,
            toDeg: input.lower.toDeg,
            ...outlook({ ...input.own, nights: input.lower.nights }, input),
          },
        ]
      : []),
    ...input.others.map((o) => ({ kind: 'rig' as const, rig: o.rig, ...outlook(o, input) })),
  ];
  const gain = (h: Outlook) => h.chance - now.chance;
  const helps = tried
    .filter((h) => gain(h) >= LEAST_GAIN || (gain(h) > -LEAST_GAIN / 3 && days(now.p50, h.p50) >= LEAST_DAYS))
    .sort((a, b) => gain(b) - gain(a) || days(a.p50, b.p50));
  return { now, helps };
}
