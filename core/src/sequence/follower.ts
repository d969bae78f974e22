import { companionOf } from './companion.ts';
import { initialState, type EngineState } from './engineState.ts';
import type { PlanSettings } from './plan.ts';
import type { Overheads, TimelineInput, TimelineOutput } from './schemas.ts';
import { play } from './play.ts';
import { rulesOf, type Rules } from './rules.ts';
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

/** Whether the mount stands, and is guided, while something of this kind is done. */
export const steady = ({ kind, because }: { kind: string; because?: string | undefined }): boolean =>
  STEADY.has(kind) || because === 'second-camera';
/** Until when a second camera has to wait [ms], where it has, and when the mount moves next after that. */
export interface Steadiness {
  shutUntilMs: number | null;
  shutsAtMs: number;
}

/** Spells in which the mount moves or nobody guides it [ms]: all that is not steady between two moments. */
export function movingSpells(
  events: readonly { kind: string; start: string; end: string; because?: string }[],
  startMs: number,
  endMs: number,
): [number, number][] {
  const moving: [number, number][] = [];
  let steadyUntil = startMs;
  for (const e of events) {
    if (!steady(e)) continue;
    const from = Date.parse(e.start);
    if (from > steadyUntil) moving.push([steadyUntil, from]);
    steadyUntil = Math.max(steadyUntil, Date.parse(e.end));
  }
  if (steadyUntil < endMs) moving.push([steadyUntil, endMs]);
  return moving;
}

/**
 * Share of a second camera's time that goes to waiting for the lead [0–1], from its first step to its last exposure: what comes
 * after that is wanted no more.
 * @returns null where it exposes nothing
 */
export function waitedShare(events: readonly { kind: string; start: string; end: string }[]): number | null {
  const last = events.findLast((e) => e.kind === 'expose');
  if (!last) return null;
  const until = Date.parse(last.end);
  const waitedMs = events
    .filter((e) => e.kind === 'wait' && Date.parse(e.start) < until)
    .reduce((s, e) => s + Date.parse(e.end) - Date.parse(e.start), 0);
  return waitedMs / (until - Date.parse(events[0]!.start));
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

/** How a leg of a night begins, the night being opened at a moment, with the second camera that is waited for. */
export const legInitialState = (
  rules: Rules,
  openedMs: number,
  waitsFor: { input: TimelineInput; goal: string } | null,
): EngineState => ({
  ...initialState(rules),
  lastFocusEnd: Math.max(rules.startMs, openedMs),
  companion: waitsFor ? companionOf(waitsFor.input, rules, waitsFor.goal) : undefined,
});

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
