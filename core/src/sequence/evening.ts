import { worthAt } from '../sky/index.ts';

/** One object that could be worked tonight, as `sky.target` describes it, and what it still needs. */
export interface EveningCandidate {
  id: string;
  windows: readonly { start: string; end: string }[];
  track: readonly { time: string; altitudeDeg: number; moonAltitudeDeg: number; moonSeparationDeg: number }[];
  /** Open-shutter minutes still wanted; 0 leaves it out. */
  needMinutes: number;
  /** Nothing but narrow filters: the Moon hardly matters. */
  narrowband: boolean;
}
export interface EveningPick {
  id: string;
  start: string;
  end: string;
}
interface Slot {
  start: number;
  end: number;
  /** Worth of the slot for each candidate, −Infinity where it cannot be worked. */
  worth: number[];
}

/** What of some windows is still to come at a moment [ms]. */
export const ahead = <W extends { start: string; end: string }>(windows: readonly W[], fromMs: number): W[] =>
  windows
    .filter((w) => Date.parse(w.end) > fromMs)
    .map((w) => (Date.parse(w.start) >= fromMs ? w : { ...w, start: new Date(fromMs).toISOString() }));

const STEP_MS = 10 * 60_000;
/** Changing the object costs as much as this many slots at the zenith: slewing, centring, focusing. */
const CHANGE_COST = 1.5;
/** A stay shorter than this is not worth setting up for. */
export const SHORTEST_STAY_MS = 40 * 60_000;

/**
 * Who should have which hours of one night on one rig: the order that gathers the most altitude-weighted time, with a
 * price on every change of object, nobody beyond its need, and nothing while the rig is taken. Solved exactly on slots of
 * ten minutes by dynamic programming; a need that is met inside a stay ends it, and the rest is shared out again.
 * @param moonlit lit share of the Moon's disk, 0…1
 * @param taken spells in which the rig is spoken for
 */
export function orderEvening(
  candidates: readonly EveningCandidate[],
  moonlit: number,
  taken: readonly { start: string; end: string }[] = [],
): EveningPick[] {
  const able = candidates.filter((c) => c.needMinutes > 0 && c.windows.length > 0);
  if (able.length === 0) return [];
  const slots = slotsOf(able, moonlit, taken);
  const given = new Array<number>(slots.length).fill(-2); // −2 open, −1 idle for good
  const left = able.map((c) => c.needMinutes * 60_000);
  for (let round = 0; round <= able.length; round++) {
    const path = best(slots, given, left);
    const over = spendUntilMet(path, slots, left);
    if (over < 0) return picksOf(path, slots, able);
    // the stays of the satisfied object stand; everything else is open again
    path.forEach((who, k) => {
      if (who === over) given[k] = over;
    });
    left[over] = 0;
  }
  return picksOf(best(slots, given, left), slots, able);
}

function slotsOf(able: EveningCandidate[], moonlit: number, taken: readonly { start: string; end: string }[]): Slot[] {
  const times = able.flatMap((c) => c.windows.flatMap((w) => [Date.parse(w.start), Date.parse(w.end)]));
  const [from, to] = [Math.min(...times), Math.max(...times)];
  const busy = taken.map((t) => [Date.parse(t.start), Date.parse(t.end)] as const);
  const spells = able.map((c) => c.windows.map((w) => [Date.parse(w.start), Date.parse(w.end)] as const));
  const tracks = able.map((c) => c.track.map((t) => Date.parse(t.time)));
  const slots: Slot[] = [];
  for (let start = from; start + STEP_MS <= to + 1; start += STEP_MS) {
    const end = start + STEP_MS;
    const free = !busy.some(([a, b]) => a < end && b > start);
    const worth = able.map((c, i) =>
      free && spells[i]!.some(([a, b]) => a <= start + 1 && b >= end - 1)
        ? worthAt(c.track[nearest(tracks[i]!, start + STEP_MS / 2)]!, moonlit, c.narrowband)
        : -Infinity,
    );
    slots.push({ start, end, worth });
  }
  return slots;
}

/** Which of some times is the nearest to one. */
function nearest(times: readonly number[], ms: number): number {
  let found = 0;
  for (let i = 1; i < times.length; i++) if (Math.abs(times[i]! - ms) < Math.abs(times[found]! - ms)) found = i;
  return found;
}

/** Best path through the slots: −1 idle, else the candidate's place. */
function best(slots: Slot[], given: number[], left: number[]): number[] {
  const states = left.length + 1; // the last one is idle
  const idle = left.length;
  const allowed = (k: number, s: number) => {
    const fixed = given[k]!;
    if (fixed >= 0) return s === fixed;
    return s === idle || (left[s]! > 0 && slots[k]!.worth[s]! > -Infinity);
  };
  let score: number[] = Array.from({ length: states }, (_, s) => (s === idle ? 0 : -CHANGE_COST));
  const back: number[][] = [];
  slots.forEach((slot, k) => {
    const from: number[] = [];
    const next = Array.from({ length: states }, (_, s) => {
      let choice = s;
      for (let p = 0; p < states; p++) {
        const cost = (q: number) => score[q]! - (q === s || s === idle ? 0 : k === 0 ? 0 : CHANGE_COST);
        if (cost(p) > cost(choice)) choice = p;
      }
      from[s] = choice;
      if (!allowed(k, s)) return -1e9;
      const gain = s === idle || given[k]! >= 0 ? 0 : slot.worth[s]!;
      return score[choice]! - (choice === s || s === idle || k === 0 ? 0 : CHANGE_COST) + gain;
    });
    back.push(from);
    score = next;
  });
  let s = score.indexOf(Math.max(...score));
  const path = new Array<number>(slots.length);
  for (let k = slots.length - 1; k >= 0; k--) {
    path[k] = s === idle ? -1 : s;
    s = back[k]![s]!;
  }
  return path;
}

/** Cuts a path where an object's need is met; the place of the first object cut, or −1. */
function spendUntilMet(path: number[], slots: Slot[], left: number[]): number {
  const spent = left.map(() => 0);
  let over = -1;
  path.forEach((who, k) => {
    if (who < 0 || left[who] === 0) return;
    if (spent[who]! >= left[who]!) {
      if (over < 0) over = who;
      if (who === over) path[k] = -1;
    } else spent[who]! += slots[k]!.end - slots[k]!.start;
  });
  return over;
}

function picksOf(path: number[], slots: Slot[], able: EveningCandidate[]): EveningPick[] {
  const picks: EveningPick[] = [];
  let from = 0;
  for (let k = 1; k <= path.length; k++) {
    if (k < path.length && path[k] === path[from]) continue;
    const [start, end] = [slots[from]!.start, slots[k - 1]!.end];
    if (path[from]! >= 0 && end - start >= SHORTEST_STAY_MS)
      picks.push({ id: able[path[from]!]!.id, start: new Date(start).toISOString(), end: new Date(end).toISOString() });
    from = k;
  }
  return picks;
}
