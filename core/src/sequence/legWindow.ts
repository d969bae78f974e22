import { phrase, type Phrase } from '../phrases/index.ts';
import type { NightOutput, TargetOutput } from '../sky/index.ts';
import type { Bound, Leg, Twilight, Watches } from './nightPlan.ts';
import type { MoonRule } from './plan.ts';

/** What the sky does for one leg: the night at the site, and its object through it. */
export interface LegSky {
  night: NightOutput;
  target: TargetOutput;
}
/** A leg’s hours [ms], or why it has none. */
export type LegWindow =
  | { startMs: number; endMs: number; flipAtMs: number | null; trouble: null }
  | { startMs: null; endMs: null; flipAtMs: null; trouble: Phrase };

const MIN_MS = 60_000;
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
function spellsOf(track: Track, value: (p: Track[number]) => number): [number, number][] {
  const spells: [number, number][] = [];
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
  if (from !== null) spells.push([from, Date.parse(track.at(-1)!.time)]);
  return spells;
}

/** Where a roof parts the hours in two, the longer ones: a leg does not expose through what hides its object. */
const longest = (windows: TargetOutput['windows']) => {
  const span = (w: (typeof windows)[number]) => Date.parse(w.end) - Date.parse(w.start);
  return windows.reduce<(typeof windows)[number] | null>((best, w) => (best && span(best) >= span(w) ? best : w), null);
};

function boundMs(bound: Bound, side: 'from' | 'until', { night, target }: LegSky): number | null {
  if (bound.by === 'clock') return Date.parse(bound.at);
  const base = ((): number | null => {
    switch (bound.by) {
      case 'free':
        return ms(longest(target.windows)?.[side === 'from' ? 'start' : 'end']);
      case 'darkness':
        return twilightMs(night, bound.which, side === 'from' ? 'dusk' : 'dawn');
      case 'altitude': {
        const spells = spellsOf(target.track, (p) => p.altitudeDeg - bound.deg);
        return (side === 'from' ? spells[0]?.[0] : spells.at(-1)?.[1]) ?? null;
      }
      case 'moon':
        return ms(side === 'from' ? night.moon.set : night.moon.rise);
    }
  })();
  return base === null ? null : base + bound.offsetMin * MIN_MS;
}

const MISSING = {
  free: 'plan.leg-never-free',
  darkness: 'plan.leg-no-darkness',
  altitude: 'plan.leg-never-so-high',
  moon: 'plan.leg-moon-does-not',
} as const;

/** The hours of a leg in this night, with the meridian in them. */
export function legWindow(leg: Pick<Leg, 'from' | 'until' | 'meridian'>, sky: LegSky, watches: Watches): LegWindow {
  const none = (trouble: Phrase): LegWindow => ({ startMs: null, endMs: null, flipAtMs: null, trouble });
  const [from, until] = [boundMs(leg.from, 'from', sky), boundMs(leg.until, 'until', sky)];
  for (const [at, bound] of [
    [from, leg.from],
    [until, leg.until],
  ] as const)
    if (at === null && bound.by !== 'clock')
      return none(phrase(MISSING[bound.by], bound.by === 'altitude' ? { altitudeDeg: bound.deg } : {}));
  const sun = watches.sunStops ? twilightMs(sky.night, watches.sunStops, 'dawn') : null;
  const startMs = from!;
  let endMs = Math.min(until!, sun ?? Infinity);
  const transit = Date.parse(sky.target.transit);
  const crosses = transit > startMs && transit < endMs;
  if (crosses && leg.meridian === 'stop') endMs = transit;
  if (endMs <= startMs) return none(phrase('plan.leg-ends-before'));
  return { startMs, endMs, flipAtMs: crosses && leg.meridian === 'flip' ? transit : null, trouble: null };
}

/** Spells in either of two lists [ms], in order and apart from each other. */
function either(a: readonly [number, number][], b: readonly [number, number][]): [number, number][] {
  const joined: [number, number][] = [];
  for (const [from, to] of [...a, ...b].sort((x, y) => x[0] - y[0])) {
    const last = joined.at(-1);
    if (last && from <= last[1]) last[1] = Math.max(last[1], to);
    else joined.push([from, to]);
  }
  return joined;
}

/** Spells with the Moon down, by the rule of the night itself: its upper limb, with refraction [ms]. */
function moonDown(night: NightOutput): [number, number][] {
  const spells: [number, number][] = [];
  let from = -8.64e15;
  for (const { start, end } of night.moon.up) {
    if (Date.parse(start) > from) spells.push([from, Date.parse(start)]);
    from = Date.parse(end);
  }
  return [...spells, [from, 8.64e15]];
}

/** Spells of a night in which a filter may be used under its Moon rule [ms]; null: always. */
export function moonSpells(rule: MoonRule | undefined, { night, target }: LegSky): [number, number][] | null {
  if (!rule || rule.by === 'any') return null;
  const down = moonDown(night);
  if (rule.by === 'down') return down;
  return either(
    down,
    spellsOf(target.track, (p) => p.moonSeparationDeg - rule.deg),
  );
}
