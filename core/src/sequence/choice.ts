import type { FilterPlan, Order, TimelineInput } from './schemas.ts';

/** Frames of a filter that are still wanted; infinite without a quota. */
export const stillWanted = (f: Pick<FilterPlan, 'quota' | 'done'>, taken: number): number =>
  f.quota === undefined ? Infinity : f.quota - f.done - taken;

/**
 * Which filter comes next: rolling takes the next in the list after the last frame's, block the first, lagging the one
 * whose share of its quota is least. Always among those with quota left.
 * @param taken frames of this run, by place in the list
 * @param last place of the last frame's filter, −1 before the first
 * @param open whether a filter may be used now; left out: all may
 * @returns place in the list, or −1 when nothing is wanted any more
 */
export function nextFilter(
  order: Order,
  filters: readonly FilterPlan[],
  taken: readonly number[],
  last: number,
  open?: (filterIndex: number) => boolean,
): number {
  const n = filters.length;
  if (order === 'rolling') {
    for (let k = 1; k <= n; k++) {
      const i = (last + k + n) % n;
      if (stillWanted(filters[i]!, taken[i]!) > 0 && (!open || open(i))) return i;
    }
    return -1;
  }
  let best = -1;
  let least = Infinity;
  for (let i = 0; i < n; i++) {
    const f = filters[i]!;
    if (!(stillWanted(f, taken[i]!) > 0) || (open && !open(i))) continue;
    if (order === 'block') return i;
    const share = (f.done + taken[i]!) / f.quota!;
    if (share < least) [best, least] = [i, share];
  }
  return best;
}

/** What has happened so far, as far as the next frame's preparation depends on it. Times in ms. */
export interface SequenceState {
  /** Taken in this run, by place. */
  taken: readonly number[];
  last: number;
  /** Place the wheel stands at, −1 before the first frame. */
  wheel: number;
  needsSlew: boolean;
  started: boolean;
  lastFocusEnd: number;
  /** What the focuser’s sensor read then [°C]; undefined where nothing was measured. */
  lastFocusC?: number | undefined;
  framesSinceDither: number;
}

export interface Preparation {
  slew: boolean;
  flip: boolean;
  filter: boolean;
  focus: boolean;
  guide: boolean;
  dither: boolean;
}

type Rules = Pick<TimelineInput, 'order' | 'dither' | 'focus'>;

/** How long a focus run holds [ms]: by time, and by the cooling that is expected where nothing is measured; null: for ever. */
export interface FocusHolds {
  byTimeMs: number | null;
  byCoolingMs: number | null;
}
/** For ever without such a rule, and where every change of filter focuses anyway. */
export function focusHolds(focus: TimelineInput['focus']): FocusHolds {
  if (focus.policy === 'every-change') return { byTimeMs: null, byCoolingMs: null };
  const cooling = Math.abs(focus.coolingCPerHour ?? 0);
  return {
    byTimeMs: focus.everyMin === undefined ? null : focus.everyMin * 60_000,
    byCoolingMs: focus.everyC === undefined || cooling === 0 ? null : (focus.everyC / cooling) * 3_600_000,
  };
}

/** Rounding of sums: what is due exactly now is due. */
const SLACK = 1e-6;

/**
 * Has focus to be renewed by time or temperature? Where a sensor told the temperature at the last focus run and tells it
 * now, their difference decides; else the cooling that is expected does.
 */
export function focusWornOut(
  rule: TimelineInput['focus'],
  s: Pick<SequenceState, 'lastFocusEnd' | 'lastFocusC'>,
  now: number,
  holds: FocusHolds,
  temperatureC?: number,
): boolean {
  const since = now - s.lastFocusEnd;
  const over = (ms: number | null) => ms !== null && since >= ms - SLACK;
  if (over(holds.byTimeMs)) return true;
  if (temperatureC === undefined || s.lastFocusC === undefined) return over(holds.byCoolingMs);
  return (
    rule.policy !== 'every-change' &&
    rule.everyC !== undefined &&
    Math.abs(temperatureC - s.lastFocusC) >= rule.everyC - SLACK
  );
}

/**
 * What must be done before a frame through the filter at `place`, started at `now` [ms].
 * @param flip  the mount still points from the side it leaves at the meridian
 */
export function preparation(
  rules: Rules,
  s: SequenceState,
  filterIndex: number,
  now: number,
  flip = false,
  holds = focusHolds(rules.focus),
  temperatureC?: number,
): Preparation {
  const slew = s.needsSlew && !flip;
  const filter = s.wheel >= 0 && s.wheel !== filterIndex;
  const { focus: rule } = rules;
  const focus =
    (!s.started && rule.atStart) ||
    (flip && rule.afterFlip) ||
    (filter && rule.policy !== 'offsets') ||
    focusWornOut(rule, s, now, holds, temperatureC);
  const due =
    rules.dither.perRound && rules.order === 'rolling'
      ? s.last >= 0 && filterIndex <= s.last && s.framesSinceDither > 0
      : rules.dither.everyFrames > 0 && s.framesSinceDither >= rules.dither.everyFrames;
  return { slew, flip, filter, focus, guide: slew || flip, dither: due && !slew && !flip };
}
