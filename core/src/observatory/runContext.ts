import { phrase, words, type Code, type PlainPhrase } from '../phrases/index.ts';
import {
  applyEvent,
  legInitialState,
  rulesOf,
  turnsOf,
  withLeg,
  type AtWork,
  type EngineEvent,
  type LegInNight,
} from '../sequence/index.ts';
import type { Observatory } from './devices.ts';
import { FrameJudge } from './frameJudge.ts';
import type { RunEvent, RunFocus, RunFrame, RunLeg, RunPlan } from './run.ts';
import { SkyWatch } from './skyWatch.ts';

/** One leg while it is worked. */
export interface WorkedLeg extends LegInNight, Omit<RunLeg, 'hours' | 'role' | 'goal'> {
  judges: FrameJudge;
}

/** What a run knows of itself: its legs and who is at work, the focus it found, what shuts it, and what it wrote down. */
export class RunContext {
  readonly plan: RunPlan;
  readonly o: Observatory;
  readonly events: RunEvent[] = [];
  readonly frames: RunFrame[] = [];
  readonly focusRuns: RunFocus[] = [];
  readonly watcher: SkyWatch | null;
  legs: readonly WorkedLeg[];
  /** The leg at work; before the first one, that one. */
  legIndex = 0;
  at: AtWork = { legIndex: null, turnEndsMs: -Infinity };
  focused: { filter: string; position: number; temperatureC: number } | null = null;
  /** Smallest star width the last focus run saw, in focus or not. */
  smallestPx: number | null = null;
  /** Set when a frame came out wide: the next one is preceded by a focus run. */
  refocus = false;
  /** A leg is at work: what is written down belongs to it. */
  working = false;
  /** Since when the sky has been under cloud without a break [ms]. */
  cloudSinceMs: number | null = null;
  /** Wind or damp keeps it closed. */
  airShut = false;
  /** The night was given up. */
  closed = false;

  constructor(plan: RunPlan, o: Observatory) {
    this.plan = plan;
    this.o = o;
    const openedMs = o.clock.now();
    this.legs = plan.legs.map((leg) => {
      const rules = { ...rulesOf(leg.timeline), follows: leg.moving !== undefined };
      const waitsFor = leg.waitsFor ? { input: leg.waitsFor, goal: leg.followerOf ?? '' } : null;
      return {
        ...leg,
        hours: leg.hours ?? [[rules.startMs, rules.endMs]],
        rules,
        focusAtStart: rules.focus.atStart,
        state: legInitialState(rules, openedMs, waitsFor),
        judges: new FrameJudge(),
        ...turnsOf(leg.turnMin),
      };
    });
    this.watcher = plan.site ? new SkyWatch(plan.site, (o.clock.now() + plan.endMs) / 2) : null;
  }

  get leg(): WorkedLeg {
    return this.legs[this.legIndex]!;
  }
  changeLeg(change: Partial<LegInNight>): void {
    this.legs = withLeg(this.legs, this.legIndex, change);
  }
  /** Tells a leg, the one at work where none is named, what happened. */
  happened(event: EngineEvent, legIndex = this.legIndex): void {
    this.legs = withLeg(this.legs, legIndex, { state: applyEvent(this.legs[legIndex]!.state, event) });
  }
  /** The same for every leg it concerns. */
  happenedTo(which: (leg: WorkedLeg) => boolean, event: EngineEvent): void {
    this.legs.forEach((l, i) => {
      if (which(l)) this.happened(event, i);
    });
  }

  /** When the lead moves the mount next; infinite without one. */
  nextMoveMs(leg = this.leg): number {
    const nowMs = this.o.clock.now();
    return leg.moving?.find(([from]) => from > nowMs)?.[0] ?? Infinity;
  }

  readonly iso = (ms: number): string => new Date(Math.round(ms)).toISOString();

  /** Does something that takes time and writes it down. */
  async timed(
    kind: RunEvent['kind'],
    what: PlainPhrase,
    work: () => Promise<unknown>,
    more: Partial<RunEvent> = {},
  ): Promise<void> {
    const start = this.o.clock.now();
    await work();
    const end = this.o.clock.now();
    if (end > start)
      this.events.push({
        ...(this.working ? { leg: this.leg.planIndex } : {}),
        kind,
        start: this.iso(start),
        end: this.iso(end),
        text: words(what),
        phrase: what,
        ...more,
      });
  }

  note(code: Code, values: PlainPhrase['values'] = {}): void {
    const at = this.iso(this.o.clock.now());
    const spoken = phrase(code, values);
    this.events.push({ kind: 'note', start: at, end: at, text: words(spoken), phrase: spoken });
  }

  /** Turns the wheel where it stands elsewhere. @returns whether it had to */
  async turnWheel(filter: string): Promise<boolean> {
    const { wheel } = this.o;
    const from = wheel.current();
    if (from === filter) return false;
    await this.timed('filter', phrase('run.filter', { from, to: filter }), () => wheel.select(filter), { filter });
    return true;
  }
}
