import {
  initialState,
  applyEvent,
  nextStep,
  partsOf,
  play,
  rulesOf,
  type Companion,
  type EngineState,
  type Rules,
} from './engine.ts';
import type { PlanSettings } from './plan.ts';
import type { Overheads, TimelineInput, TimelineOutput } from './schemas.ts';
import { recorder, summarise, type Span } from './timeline.ts';

/**
 * A second camera on the same mount, while a leg is worked, by two schools (common practice, no source). Where the lead
 * sets the pace, the follower begins no frame that the lead’s next dither, slew or flip would spoil, so nothing of the lead
 * is ever waited for. Where the mount waits, the follower begins as soon as the mount stands still and the lead’s next move
 * waits until that frame is read out: it costs the lead minutes instead of the follower. In both the follower is laid out
 * over the lead’s moves as they came to be.
 */

/** What the mount does not move during. */
const STEADY: ReadonlySet<string> = new Set(['expose', 'download', 'filter', 'focus']);

/** Left to a waited-for frame beyond its length: no read-out takes the same time twice. Common practice, no source. */
const SPARE_MS = 1000;

/** Spells in which the mount moves or nobody guides it [ms]: all that is not steady between two moments. */
export function movingSpells(
  events: readonly { kind: string; start: string; end: string; because?: string }[],
  startMs: number,
  endMs: number,
): [number, number][] {
  const moving: [number, number][] = [];
  let steadyUntil = startMs;
  for (const e of events) {
    if (!STEADY.has(e.kind) && e.because !== 'second-camera') continue;
    const from = Date.parse(e.start);
    if (from > steadyUntil) moving.push([steadyUntil, from]);
    steadyUntil = Math.max(steadyUntil, Date.parse(e.end));
  }
  if (steadyUntil < endMs) moving.push([steadyUntil, endMs]);
  return moving;
}

/** The mount is the lead’s: for the follower only its own wheel, focuser and read-out take time, and nothing dithers. */
export const followingOverheads = (o: Overheads): Overheads => ({
  ...o,
  ditherS: 0,
  slewCentreS: 0,
  flipS: 0,
  guideStartS: 0,
});

/** Lays a follower’s frames out beside a lead that is laid out already. */
export function followLead(input: TimelineInput, lead: Pick<TimelineOutput, 'events'>): TimelineOutput {
  const rules = { ...rulesOf(input), follows: true };
  const events: Span[] = [];
  const moving = movingSpells(lead.events, rules.startMs, rules.endMs);
  const state = play(rules, moving, recorder(rules, events), initialState(rules));
  return summarise(input, events, state, rules.endMs - rules.startMs);
}

/**
 * What a lead knows of a second camera it waits for: how it exposes frame after frame while the mount stands still. After
 * the first, a frame is begun only if half of it is done when the lead wants to move: else waiting for it costs more than
 * it brings. Frames that would reach across the lead’s meridian or end are not begun, so neither is ever waited past.
 * @param input the follower’s plan in the hours of its leg
 * @param lead end of the leg and its flip, if there is one [ms]
 */
export function companionOf(input: TimelineInput, lead: { endMs: number; flipAtMs: number | null }): Companion {
  const own = { ...rulesOf(input), follows: true };
  const state = initialState(own);
  let others: readonly Companion[] = [];
  /** What it took beside other legs for the same project is there already: it is not waited for twice. */
  const rulesNow = () => {
    if (others.length === 0) return own;
    const takenBy = (f: { name: string; exposureS: number }) =>
      others.reduce((s, c) => s + c.taken(f.name, f.exposureS), 0);
    return { ...own, filters: own.filters.map((f) => ({ ...f, done: f.done + takenBy(f) })) };
  };
  // it has nothing under way until the mount stands
  let freeMs = Infinity;
  /** The lead waits to move: nothing more is begun. */
  let held = false;
  let firstSinceMove = true;
  return {
    taken(name, exposureS) {
      const i = own.filters.findIndex((f) => f.name === name && f.exposureS === exposureS);
      return i < 0 ? 0 : state.taken[i]!;
    },
    share(list) {
      others = list;
    },
    busyUntilMs(nowMs) {
      const rules = rulesNow();
      while (freeMs < nowMs && !held) {
        const flipMs = lead.flipAtMs !== null && lead.flipAtMs > freeMs ? lead.flipAtMs : Infinity;
        const shutsAtMs = Math.min(lead.endMs, flipMs);
        const step = nextStep(rules, state, { nowMs: freeMs, shutUntilMs: null, shutsAtMs });
        if (step.do === 'wait' || step.do === 'stop') return nowMs;
        const { place, prepared } = step;
        const { filter, focus } = rules.takesMs;
        const focusedMs = freeMs + (prepared.filter ? filter : 0) + focus;
        if (step.do === 'focus') applyEvent(state, { what: 'focused', atMs: (freeMs = focusedMs), place });
        else {
          const longMs = partsOf(rules, step).reduce((s, p) => s + p.ms, 0);
          if (!firstSinceMove && freeMs + longMs / 2 > nowMs) return nowMs;
          firstSinceMove = false;
          freeMs = Math.ceil(freeMs + longMs) + SPARE_MS;
          if (prepared.focus) applyEvent(state, { what: 'focused', atMs: focusedMs });
          applyEvent(state, { what: 'exposed', place, prepared, counts: true });
        }
      }
      if (freeMs === Infinity) return nowMs;
      held = freeMs >= nowMs;
      return freeMs;
    },
    stands(atMs) {
      freeMs = atMs;
      held = false;
      firstSinceMove = true;
    },
    lost() {
      freeMs = Infinity;
    },
  };
}

/** How a leg of a night begins, the night being opened at a moment, with the second camera that is waited for. */
export const legInitialState = (rules: Rules, openedMs: number, waitsFor: TimelineInput | null): EngineState => ({
  ...initialState(rules),
  lastFocusEnd: Math.max(rules.startMs, openedMs),
  companion: waitsFor ? companionOf(waitsFor, rules) : undefined,
});

/** Tells the second cameras of a night’s legs of each other, where they work for the same project. */
export function shareCompanions(legs: readonly { companion?: Companion | undefined; goal: string }[]): void {
  for (const { companion, goal } of legs)
    companion?.share(
      legs.flatMap((l) => (l.companion && l.companion !== companion && l.goal === goal ? [l.companion] : [])),
    );
}

/**
 * The follower’s exposure that fills what the lead leaves between two dithers, nearest to the one wished for.
 * @returns exposure [s] and how many of it fit; null where the lead does not dither, or too often for any
 */
export function fittingExposure(
  lead: Pick<PlanSettings, 'filters' | 'dither' | 'order'>,
  of: { leadDownloadS: number; downloadS: number; wishedS: number },
): { exposureS: number; frames: number; blockS: number } | null {
  const longest = Math.max(...lead.filters.map((f) => f.exposureS));
  const rounds = lead.dither.perRound && lead.order === 'rolling';
  if (!rounds && lead.dither.everyFrames === 0) return null;
  const blockS = rounds
    ? lead.filters.reduce((s, f) => s + f.exposureS + of.leadDownloadS, 0)
    : lead.dither.everyFrames * (longest + of.leadDownloadS);
  const frames = Math.max(1, Math.round(blockS / (of.wishedS + of.downloadS)));
  const exposureS = Math.floor(blockS / frames - of.downloadS);
  return exposureS >= 1 ? { exposureS, frames, blockS } : null;
}
