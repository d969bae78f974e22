import { beginning, play, rulesOf } from './engine.ts';
import type { PlanSettings } from './plan.ts';
import type { Overheads, TimelineInput, TimelineOutput } from './schemas.ts';
import { recorder, summarise, type Span } from './timeline.ts';

/**
 * A second camera on the same mount, while a leg is worked. The lead sets the pace: the follower begins no frame that the
 * lead’s next dither, slew or flip would spoil, so nothing of the lead is ever waited for. (The other school lets the mount
 * wait for whoever exposes longest; it costs the lead minutes instead of the follower. Common practice, no source.)
 */

/** What the mount does not move during. */
const STEADY: ReadonlySet<string> = new Set(['expose', 'download', 'filter', 'focus']);

/** Spells in which the mount moves or nobody guides it [ms]: all that is not steady between two moments. */
export function movingSpells(
  events: readonly { kind: string; start: string; end: string }[],
  startMs: number,
  endMs: number,
): [number, number][] {
  const moving: [number, number][] = [];
  let steadyUntil = startMs;
  for (const e of events) {
    if (!STEADY.has(e.kind)) continue;
    const from = Date.parse(e.start);
    if (from > steadyUntil) moving.push([steadyUntil, from]);
    steadyUntil = Math.max(steadyUntil, Date.parse(e.end));
  }
  if (steadyUntil < endMs) moving.push([steadyUntil, endMs]);
  return moving;
}

/** The mount is the lead’s: for the follower only its own wheel, focuser and read-out take time, and nothing dithers. */
export const followingOverheads = (o: Overheads): Overheads => ({ ...o, ditherS: 0, slewCentreS: 0, flipS: 0, guideStartS: 0 }); // prettier-ignore

/** Lays a follower’s frames out beside a lead that is laid out already. */
export function followLead(input: TimelineInput, lead: Pick<TimelineOutput, 'events'>): TimelineOutput {
  const rules = { ...rulesOf(input), follows: true };
  const events: Span[] = [];
  const moving = movingSpells(lead.events, rules.startMs, rules.endMs);
  const state = play(rules, moving, recorder(rules, events), beginning(rules));
  return summarise(input, events, state, rules.endMs - rules.startMs);
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
