import { phrase, type Code, type Phrase } from '../phrases/index.ts';
import type { NightOutput, TargetOutput } from '../sky/index.ts';
import { ALWAYS, both, either, joined, lengthMs, outside, type Interval } from './intervals.ts';
import type { Bound, Leg, Twilight, Watches } from './nightPlan.ts';
import type { MoonRule } from './plan.ts';

/** What the sky does for one leg: the night at the site, and its object through it. */
export interface LegSky {
  night: NightOutput;
  target: TargetOutput;
}
/** When a leg may work: everything it asks for holds, in one or several pieces; or why it never may. */
export type LegHours =
  | { hours: readonly Interval[]; flipAtMs: number | null; remark: Phrase | null; trouble: null }
  | { hours: readonly []; flipAtMs: null; remark: null; trouble: Phrase };

const MIN_MS = 60_000;
/** Less than this of its hours lost to altitude or twilight is not worth a word [min]; common practice, no source. */
const WORTH_SAYING_MIN = 10;
const ms = (iso: string | null | undefined) => (iso ? Date.parse(iso) : null);

/** When the Sun sinks to (dusk) or rises to (dawn) a twilight’s altitude [ms]; null where it does not. */
export function twilightMs(night: NightOutput, which: Twilight, side: 'dusk' | 'dawn'): number | null {
  if (which === 'sunset') return ms(side === 'dusk' ? night.sunset : night.sunrise);
  return ms(side === 'dusk' ? night[`${which}Dusk`] : night[`${which}Dawn`]);
}

type Track = TargetOutput['track'];
/**
 * Spells in which something along the track holds [ms], crossings by straight lines between its points: with points every
 * 5 min an altitude is wrong by 0.004° at most, a second or two of time.
 */
function spellsOf(track: Track, value: (p: Track[number]) => number): Interval[] {
  const spells: Interval[] = [];
  let from: number | null = null;
  track.forEach((p, k) => {
    const [now, v] = [Date.parse(p.time), value(p)];
    const before = k > 0 ? { t: Date.parse(track[k - 1]!.time), v: value(track[k - 1]!) } : null;
    const cross = before && before.v < 0 !== v < 0 ? before.t + ((now - before.t) * before.v) / (before.v - v) : null;
    if (v >= 0 && from === null) from = cross ?? now;
    if (v < 0 && from !== null) {
      spells.push([from, cross ?? now]);
      from = null;
    }
  });
  const last = track.at(-1);
  if (from !== null && last && Date.parse(last.time) > from) spells.push([from, Date.parse(last.time)]);
  return spells;
}

/**
 * Spells between the wished altitudes: from rising to the one until sinking to the other. What stands that high already
 * when the Sun sets has risen; an end at the track’s own end is none of the object’s and is not moved by an offset.
 */
function altitudeSpells(leg: Pick<Leg, 'from' | 'until'>, track: Track): Interval[] | null {
  const from = leg.from.by === 'altitude' ? leg.from : null;
  const until = leg.until.by === 'altitude' ? leg.until : null;
  if (!from && !until) return null;
  const above = (deg: number) => spellsOf(track, (p) => p.altitudeDeg - deg);
  const [rise, sink] = [from?.deg ?? until!.deg, until?.deg ?? from!.deg];
  const [firstMs, lastMs] = [Date.parse(track[0]?.time ?? ''), Date.parse(track.at(-1)?.time ?? '')];
  return joined(
    above(Math.min(rise, sink)).flatMap(([a, b]): Interval[] => {
      const high = both([[a, b]], above(Math.max(rise, sink)));
      if (high.length === 0) return [];
      const begin = rise > sink ? high[0]![0] : a;
      const end = sink > rise ? high.at(-1)![1] : b;
      return [
        [
          begin > firstMs ? begin + (from?.offsetMin ?? 0) * MIN_MS : begin,
          end < lastMs ? end + (until?.offsetMin ?? 0) * MIN_MS : end,
        ],
      ];
    }),
  );
}

/** Spells with the Moon down, by the rule of the night itself: its upper limb, with refraction. */
const moonDown = (night: NightOutput): Interval[] =>
  outside(night.moon.up.map(({ start, end }): Interval => [Date.parse(start), Date.parse(end)]));

function moonlessSpells({ from, until }: Pick<Leg, 'from' | 'until'>, night: NightOutput): Interval[] | null {
  if (from.by !== 'moon' && until.by !== 'moon') return null;
  const later = (b: Bound, by: number) => by + (b.by === 'moon' ? b.offsetMin : 0) * MIN_MS;
  return joined(moonDown(night).map(([a, b]): Interval => [later(from, a), later(until, b)]));
}

/**
 * When it is dark enough: by the twilight the leg names, else by those its own ends name, else astronomically. Never with
 * the Sun up.
 * @returns null where the Sun does not pass a twilight that is asked for
 */
function darkSpells(
  { from, until, darkness }: Pick<Leg, 'from' | 'until' | 'darkness'>,
  night: NightOutput,
): Interval[] | null {
  const spell = (which: Twilight): Interval | null => {
    const s = night.dark[which];
    return s && [Date.parse(s.start), Date.parse(s.end)];
  };
  const ends = [from, until].map((b) => (b.by === 'darkness' ? b : null));
  const limits = ends.map((b) => spell(darkness ?? (b ? 'sunset' : 'astronomical')));
  const wished = ends.map((b) => b && spell(b.which));
  if (limits.some((l) => l === null) || ends.some((b, i) => b && !wished[i])) return null;
  const at = (i: 0 | 1) => (wished[i] ? wished[i][i] + ends[i]!.offsetMin * MIN_MS : limits[i]![i]);
  return joined([[Math.max(limits[0]![0], at(0)), Math.min(limits[1]![1], at(1))]]);
}

/** Where the object stands above its limit and the horizon while the Sun is down; and, for “while it stands free”, when. */
const upSpells = (target: TargetOutput): Interval[] =>
  target.up.map(({ start, end }): Interval => [Date.parse(start), Date.parse(end)]);

/** The span between two clock times, as far as the leg names any. */
function clockSpan({ from, until }: Pick<Leg, 'from' | 'until'>): Interval[] {
  const span: Interval = [
    from.by === 'clock' ? Date.parse(from.at) : ALWAYS[0]![0],
    until.by === 'clock' ? Date.parse(until.at) : ALWAYS[0]![1],
  ];
  return joined([span]);
}

/** “Free, an hour later”: each spell begins, or ends, so much later or earlier, and never reaches beyond itself. */
function shifted(spells: readonly Interval[], { from, until }: Pick<Leg, 'from' | 'until'>): Interval[] {
  const later = from.by === 'free' ? Math.max(0, from.offsetMin) * MIN_MS : 0;
  const earlier = until.by === 'free' ? Math.min(0, until.offsetMin) * MIN_MS : 0;
  return joined(spells.map(([a, b]): Interval => [a + later, b + earlier]));
}

/**
 * The hours of a leg in this night: its bounds, the darkness it chose, its lowest altitude, the horizon, the Sun’s watch and
 * the present moment, all at once. Several spells a night are several pieces.
 * @param nowMs nothing before it is offered; left out: the whole night
 */
export function legHours(
  leg: Pick<Leg, 'from' | 'until' | 'meridian' | 'darkness'>,
  sky: LegSky,
  watches: Pick<Watches, 'sunStops'>,
  nowMs?: number,
): LegHours {
  const none = (code: Code, values: Phrase['values'] = {}): LegHours => ({
    hours: [],
    flipAtMs: null,
    remark: null,
    trouble: phrase(code, values),
  });
  const clock = clockSpan(leg);
  if (clock.length === 0) return none('plan.leg-ends-before');
  const dark = darkSpells(leg, sky.night);
  if (dark === null || dark.length === 0) return none(dark ? 'plan.leg-ends-before' : 'plan.leg-no-darkness');
  const altitude = altitudeSpells(leg, sky.target.track);
  if (altitude?.length === 0) return none('plan.leg-never-so-high', { altitudeDeg: neededDeg(leg) });
  const moonless = moonlessSpells(leg, sky.night);
  const sun = watches.sunStops ? twilightMs(sky.night, watches.sunStops, 'dawn') : null;
  const allowed = both(both(clock, altitude ?? ALWAYS), moonless ?? ALWAYS);
  const inTheDark = both(both(allowed, dark), joined([[ALWAYS[0]![0], sun ?? ALWAYS[0]![1]]]));
  const up = upSpells(sky.target);
  const free = shifted(both(up, dark), leg);
  // whole milliseconds, inside: a frame that ends exactly with the spell does so for whoever writes its times down
  let hours = joined(both(inTheDark, free).map(([a, b]): Interval => [Math.ceil(a), Math.floor(b)]));
  if (hours.length === 0) {
    if (inTheDark.length === 0)
      return none(moonless && both(dark, moonless).length === 0 ? 'plan.leg-moon-does-not' : 'plan.leg-not-dark-then');
    return none(both(up, dark).length === 0 ? 'plan.leg-never-free' : 'plan.leg-low-then');
  }
  const transit = Date.parse(sky.target.transit);
  const inside = hours.some(([a]) => a < transit) && hours.some(([, b]) => b > transit);
  if (inside && leg.meridian === 'stop') hours = both(hours, [[ALWAYS[0]![0], transit]]);
  if (nowMs !== undefined) {
    hours = both(hours, [[nowMs, ALWAYS[0]![1]]]);
    if (hours.length === 0) return none('plan.leg-is-over');
  }
  const crosses = inside && leg.meridian === 'flip' && transit > hours[0]![0];
  const wished = joined([
    [leg.from.by === 'clock' ? clock[0]![0] : dark[0]![0], leg.until.by === 'clock' ? clock[0]![1] : dark[0]![1]],
  ]);
  return {
    hours,
    flipAtMs: crosses ? transit : null,
    remark: remarkOf(leg, wished, inTheDark, hours, nowMs),
    trouble: null,
  };
}

const neededDeg = ({ from, until }: Pick<Leg, 'from' | 'until'>): number =>
  Math.max(from.by === 'altitude' ? from.deg : 0, until.by === 'altitude' ? until.deg : 0);

/** How much of hours named by clock or twilight goes to a Sun too high or an object too low. */
function remarkOf(
  { from, until }: Pick<Leg, 'from' | 'until'>,
  wished: readonly Interval[],
  inTheDark: readonly Interval[],
  hours: readonly Interval[],
  nowMs: number | undefined,
): Phrase | null {
  const named = (b: Bound) => b.by === 'clock' || b.by === 'darkness';
  if (!named(from) || !named(until)) return null;
  const ahead = (list: readonly Interval[]) =>
    lengthMs(nowMs === undefined ? list : both(list, [[nowMs, 8.64e15]])) / MIN_MS;
  const brightMin = ahead(wished) - ahead(inTheDark);
  const lowMin = ahead(inTheDark) - ahead(hours);
  if (lowMin >= WORTH_SAYING_MIN) return phrase('plan.leg-low-part', { lowMin });
  return brightMin >= WORTH_SAYING_MIN ? phrase('plan.leg-bright-part', { brightMin }) : null;
}

/** Spells of a night in which a filter may be used under its Moon rule [ms]; null: always. */
export function moonSpells(rule: MoonRule | undefined, { night, target }: LegSky): Interval[] | null {
  if (!rule || rule.by === 'any') return null;
  const down = moonDown(night);
  if (rule.by === 'down') return down;
  return either(
    down,
    spellsOf(target.track, (p) => p.moonSeparationDeg - rule.deg),
  );
}
