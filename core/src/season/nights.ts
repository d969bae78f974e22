import {
  addDays,
  angleDeg,
  darkSpell,
  horizonAt,
  moonPhaseAngleDeg,
  nightFrame,
  SUN_ALTITUDE,
  unit,
  worthAt,
  type Darkness,
  type NightFrame,
  type Site,
} from '../sky/index.ts';
import type { MoonRule } from '../sequence/index.ts';
import type { AllocateInput, Slot } from './schemas.ts';

const MIN_MS = 60_000;
/** Step at which an object is looked at within a slot [ms]. */
const LOOK_MS = 5 * MIN_MS;
/** An object that stands free for less of a slot does not have it; common practice, no source. */
const FREE_SHARE = 0.5;

export interface SeasonRig {
  id: string;
  site: Site;
  /** Chance that a night is clear, 0…1. */
  clearOf: (night: string) => number;
}
/** What competes for hours. */
export interface SeasonProject {
  id: string;
  member: string;
  weight: number;
  /** Rigs that can take it. */
  rigs: readonly string[];
  raDeg: number;
  decDeg: number;
  minimumAltitudeDeg: number;
  /** Open shutter still wanted through narrow filters, and through the others [min]. */
  narrowMinutes: number;
  broadMinutes: number;
  /** Only within these [ms], if any are named: a transit, a deadline. */
  spells?: readonly (readonly [number, number])[] | undefined;
  /** When the Moon lets it be taken; left out: it only costs what it takes of the light. */
  moon?: MoonRule | null | undefined;
}
/** A slot with what is known of its sky. */
export interface SeasonSlot extends Slot {
  fromMs: number;
  untilMs: number;
  /** Chance of clear sky; its minutes are those it lasts, times this. */
  clear: number;
  /** Lit share of the Moon’s disk that night, and share of the slot with the Moon up. */
  moonlit: number;
  moonUp: number;
}
export interface SeasonSpan {
  from: string;
  nights: number;
  /** Length of a slot, about: the dark hours are cut in equal parts [min]. */
  slotMinutes: number;
  darkness?: Darkness | undefined;
}
export interface SeasonField extends Pick<AllocateInput, 'projects'> {
  slots: SeasonSlot[];
}

/** One night at one site, shared by its rigs. */
interface Dark {
  frame: NightFrame;
  dark: readonly [number, number] | null;
  moonlit: number;
}

/** Equal parts of a night’s dark hours, each about as long as is wished. */
function cut(from: number, until: number, slotMinutes: number): [number, number][] {
  const parts = Math.max(1, Math.round((until - from) / (slotMinutes * MIN_MS)));
  const at = (k: number) => Math.round(from + (k * (until - from)) / parts);
  return Array.from({ length: parts }, (_, k) => [at(k), at(k + 1)]);
}
/** Middles of even steps through a slot [ms]. */
function looks({ fromMs, untilMs }: Pick<SeasonSlot, 'fromMs' | 'untilMs'>): number[] {
  const n = Math.max(1, Math.round((untilMs - fromMs) / LOOK_MS));
  return Array.from({ length: n }, (_, k) => fromMs + ((k + 0.5) * (untilMs - fromMs)) / n);
}

/**
 * The coming nights as a question who has which hours: dark hours cut in slots, each with the minutes that may be expected of it,
 * and for every project the slots in which it stands free for half the time at least, with their mean worth: height, and what the
 * Moon takes of it through the filters that are still wanted.
 * @param taken  hours that are not to be given [ms]
 */
export function seasonField(
  rigs: readonly SeasonRig[],
  projects: readonly SeasonProject[],
  span: SeasonSpan,
  taken: (rig: string) => readonly (readonly [number, number])[] = () => [],
): SeasonField {
  const darkness = SUN_ALTITUDE[span.darkness ?? 'astronomical'];
  const dates = Array.from({ length: span.nights }, (_, n) => addDays(span.from, n));
  const bySite = new Map<string, Map<string, Dark>>();
  const darkAt = (site: Site, date: string): Dark => {
    const key = JSON.stringify(site);
    const nights = bySite.get(key) ?? new Map<string, Dark>();
    bySite.set(key, nights);
    const there = nights.get(date);
    if (there) return there;
    const frame = nightFrame(site, date);
    const moonlit = (1 + Math.cos((moonPhaseAngleDeg(frame.sky, frame.middle) * Math.PI) / 180)) / 2;
    const made = { frame, dark: darkSpell(frame, darkness), moonlit };
    nights.set(date, made);
    return made;
  };
  const slots: SeasonSlot[] = [];
  const rigOf = new Map(rigs.map((r) => [r.id, r]));
  for (const night of dates)
    for (const rig of rigs) {
      const { dark, frame, moonlit } = darkAt(rig.site, night);
      if (!dark) continue;
      const clear = rig.clearOf(night);
      cut(dark[0], dark[1], span.slotMinutes).forEach(([fromMs, untilMs], order) => {
        const minutes = (clear * (untilMs - fromMs)) / MIN_MS;
        if (minutes <= 0 || taken(rig.id).some(([a, b]) => a < untilMs && b > fromMs)) return;
        const at = looks({ fromMs, untilMs });
        const moonUp = at.filter((ms) => frame.sky.moonUpDeg(ms) > 0).length / at.length;
        const id = `${night} ${rig.id} ${order}`;
        slots.push({ id, night, rig: rig.id, order, minutes, fromMs, untilMs, clear, moonlit, moonUp });
      });
    }
  return {
    slots,
    projects: projects.map((p) => {
      const eligible = slots.flatMap((slot) => {
        if (!p.rigs.includes(slot.rig)) return [];
        if (p.spells && !p.spells.some(([a, b]) => a <= slot.fromMs && slot.untilMs <= b)) return [];
        const { site } = rigOf.get(slot.rig)!;
        const quality = qualityOf(p, slot, site, darkAt(site, slot.night));
        return quality === null ? [] : [{ slot: slot.id, quality }];
      });
      return { id: p.id, member: p.member, weight: p.weight, needMinutes: p.narrowMinutes + p.broadMinutes, eligible };
    }),
  };
}

/** As the rule of a filter in a plan: while it is down, or while it is down or so far from the object. */
const moonAllows = (rule: MoonRule | null | undefined, up: boolean, separationDeg: number): boolean =>
  !rule || rule.by === 'any' || !up || (rule.by === 'apart' && separationDeg >= rule.deg);

/** Mean worth of a slot for a project, through whichever of its filters it is worth most; null where it stands free too shortly. */
function qualityOf(p: SeasonProject, slot: SeasonSlot, site: Site, { frame, moonlit }: Dark): number | null {
  const { sky } = frame;
  const star = sky.apparent(p.raDeg, p.decDeg);
  const at = looks(slot);
  let [free, narrow, broad] = [0, 0, 0];
  for (const ms of at) {
    const { altitudeDeg, azimuthDeg } = sky.altAz(star, ms);
    if (altitudeDeg < Math.max(p.minimumAltitudeDeg, horizonAt(site.horizon, azimuthDeg))) continue;
    const moonSeparationDeg = angleDeg(star, unit(sky.moonVector(ms)));
    if (!moonAllows(p.moon, sky.moonUpDeg(ms) > 0, moonSeparationDeg)) continue;
    free++;
    const place = { altitudeDeg, moonAltitudeDeg: sky.moonAltitudeDeg(ms), moonSeparationDeg };
    if (p.narrowMinutes > 0) narrow += worthAt(place, moonlit, true);
    if (p.broadMinutes > 0) broad += worthAt(place, moonlit, false);
  }
  return free / at.length < FREE_SHARE ? null : Math.min(1, Math.max(narrow, broad) / at.length);
}
