import type { Preparation, SequenceState } from './choice.ts';
import type { Rules } from './rules.ts';

/** Where a leg stands: plain data, changed by nobody; what happens gives a new one. */
export interface EngineState extends SequenceState {
  /** From which side of its meridian flip the mount points at this object; none before it was first pointed, or since it went elsewhere. */
  side: 'before' | 'after' | null;
  /** Exposures begun in this run, by place: what counts and what was refused. */
  shot: readonly number[];
  /** Focus was renewed without a frame after it: the next one begins with it. */
  focusedAlone?: boolean;
  /** A second camera whose frame is waited for before the mount moves; none where nobody is waited for. */
  companion?: Companion | undefined;
}

/**
 * A second camera on the same mount whose frames are waited for, as the lead knows it: plain data, brought up to date
 * whenever the lead wants to move.
 */
export interface Companion {
  /** Its own rules, in the hours of its leg. */
  rules: Rules;
  /** End of the leg and its flip, if there is one [ms]. */
  lead: { endMs: number; flipAtMs: number | null };
  /** The project it works for: what it took beside another leg of it is not wanted twice. */
  goal: string;
  state: EngineState;
  /** When the frame it is at is read out [ms]; null: it has nothing under way until the mount stands. */
  freeMs: number | null;
  /** The lead waits to move: nothing more is begun. */
  held: boolean;
  firstSinceMove: boolean;
}

/** Before anything was done. */
export const initialState = (r: Rules): EngineState => ({
  taken: r.filters.map(() => 0),
  shot: r.filters.map(() => 0),
  last: -1,
  wheel: -1,
  needsSlew: true,
  side: null,
  started: false,
  lastFocusEnd: r.startMs,
  lastFocusC: undefined,
  framesSinceDither: 0,
  focusedAlone: false,
  companion: undefined,
});

/** What happened to a leg. */
export type EngineEvent =
  /** The sky was shut: what was pointed and guided must be so again. */
  | { what: 'shut' }
  /** The mount went to another object: it is pointed anew, from whichever side is right by then. */
  | { what: 'elsewhere' }
  /** The mount points at it from this side now, whether or not a frame follows. */
  | { what: 'pointed'; side: EngineState['side'] }
  /** A focus run ended, usable or not, at what temperature; through which filter, where no frame follows. */
  | { what: 'focused'; atMs: number; filterIndex?: number; temperatureC?: number }
  /** An exposure was taken after this preparation; one that was refused does not count towards its quota. */
  | { what: 'exposed'; filterIndex: number; prepared: Preparation; counts: boolean }
  /** The mount stands still from then on: a second camera may begin. */
  | { what: 'stands'; atMs: number }
  /** What a second camera has come to, when the lead asked for it. */
  | { what: 'second-camera'; companion: Companion };

function plusOne(counts: readonly number[], at: number): readonly number[] {
  const more = counts.slice();
  more[at]! += 1;
  return more;
}
/**
 * A state of which something changed. Written out: a rehearsed month makes millions of them, and spreading one into
 * another takes ten times as long.
 */
const changed = (s: EngineState, c: { [K in keyof EngineState]?: EngineState[K] | undefined }): EngineState => ({
  taken: c.taken ?? s.taken,
  shot: c.shot ?? s.shot,
  last: c.last ?? s.last,
  wheel: c.wheel ?? s.wheel,
  needsSlew: c.needsSlew ?? s.needsSlew,
  side: c.side === undefined ? s.side : c.side,
  started: c.started ?? s.started,
  lastFocusEnd: c.lastFocusEnd ?? s.lastFocusEnd,
  // what was measured belongs to when
  lastFocusC: c.lastFocusEnd === undefined ? s.lastFocusC : c.lastFocusC,
  framesSinceDither: c.framesSinceDither ?? s.framesSinceDither,
  focusedAlone: c.focusedAlone ?? s.focusedAlone ?? false,
  companion: c.companion ?? s.companion,
});
const lost = (c: Companion | undefined): Companion | undefined => c && { ...c, freeMs: null };

/** The state after something happened; the one before is left as it was. */
export function applyEvent(state: EngineState, e: EngineEvent): EngineState {
  switch (e.what) {
    case 'shut':
      return changed(state, { needsSlew: true, companion: lost(state.companion) });
    case 'elsewhere':
      return changed(state, { needsSlew: true, side: null, companion: lost(state.companion) });
    case 'pointed':
      return changed(state, { side: e.side });
    case 'focused':
      return changed(state, {
        lastFocusEnd: e.atMs,
        lastFocusC: e.temperatureC,
        wheel: e.filterIndex,
        focusedAlone: e.filterIndex === undefined ? undefined : true,
      });
    case 'exposed': {
      const { filterIndex, prepared } = e;
      return changed(state, {
        shot: plusOne(state.shot, filterIndex),
        taken: e.counts ? plusOne(state.taken, filterIndex) : state.taken,
        last: filterIndex,
        wheel: filterIndex,
        started: true,
        focusedAlone: false,
        needsSlew: false,
        framesSinceDither: prepared.dither || prepared.slew || prepared.flip ? 1 : state.framesSinceDither + 1,
      });
    }
    case 'stands':
      return state.companion
        ? changed(state, { companion: { ...state.companion, freeMs: e.atMs, held: false, firstSinceMove: true } })
        : state;
    case 'second-camera':
      return changed(state, { companion: e.companion });
  }
}

/** From which side of its flip an object is pointed at, at a moment. */
export const sideAt = (rules: Pick<Rules, 'flipAtMs'>, ms: number): EngineState['side'] =>
  rules.flipAtMs === null ? null : ms < rules.flipAtMs ? 'before' : 'after';

/** A leg that is begun finds the wheel where another left it: at one of its own filters, or somewhere else. */
export function wheelLeftAt(rules: Pick<Rules, 'filters'>, state: EngineState, filter: string): EngineState {
  const found = rules.filters.findIndex((f) => f.name === filter);
  const wheel = found >= 0 ? found : rules.filters.length;
  return state.wheel === wheel ? state : { ...state, wheel };
}
