import { SkyWatch, type RunEvent } from '../observatory/index.ts';
import { phrase, words, type Code, type PlainPhrase } from '../phrases/index.ts';
import {
  applyEvent,
  both,
  outside,
  withLeg,
  type EngineEvent,
  type LegInNight,
  type Steadiness,
} from '../sequence/index.ts';
import type { Act, Ask, Said } from './events.ts';
import type { RunState, Task, WorkedLeg } from './state.ts';

/** A request that was not answered by then is given up: so long beyond what it takes [ms]. */
export const PATIENCE_MS = 180_000;

/** What a second camera goes by. */
export interface Lead {
  /** The leg the lead is at; null: none. */
  planIndex: number | null;
  /** When its mount stands and moves next, for that leg. */
  ahead: () => Steadiness;
}

/** One step at work: its own copy of the state, what it asks for, and what it says. */
export class Work {
  readonly s: RunState;
  readonly acts: Act[] = [];
  readonly says: Said[] = [];
  private readonly tasks: Task[];
  /** Of a second camera: what its lead is at. */
  readonly lead: Lead | null;

  constructor(s: RunState, lead: Lead | null = null) {
    this.s = { ...s };
    this.tasks = [...s.tasks];
    this.lead = lead;
  }
  /** The state after the step. */
  done(): RunState {
    return { ...this.s, tasks: this.tasks };
  }

  get leg(): WorkedLeg {
    return this.s.legs[this.s.legIndex]!;
  }
  get top(): Task | undefined {
    return this.tasks.at(-1);
  }
  has(which: (task: Task) => boolean): boolean {
    return this.tasks.some(which);
  }
  pop(): void {
    this.tasks.pop();
  }
  replace(task: Task): void {
    this.tasks[this.tasks.length - 1] = task;
  }
  /** To be done in this order, before whatever is at hand goes on. */
  first(...tasks: readonly Task[]): void {
    for (let i = tasks.length - 1; i >= 0; i--) this.tasks.push(tasks[i]!);
  }
  /** Lets everything go above a place, and writes down what took time until now. */
  private drop(at: number): void {
    // what was broken off is not what it would have been: an exposure that failed had no open shutter
    for (const x of this.tasks.slice(at + 1).toReversed())
      if (x.t === 'took') this.took('wait', phrase('run.interrupted'), x.startMs);
    this.tasks.length = at + 1;
  }
  /** The night is opened, and not being closed yet: what is to be done is asked of the legs. */
  get isAtLegs(): boolean {
    return this.has((x) => x.t === 'night') && !this.has((x) => x.t === 'steps');
  }
  /** The night is being closed already. */
  get isClosing(): boolean {
    return !this.has((t) => t.t === 'guard' && t.stage === 'night');
  }
  /** Lets everything go up to the night’s next decision, where the legs are at work. @returns whether they are */
  backToNight(): boolean {
    if (!this.isAtLegs) return false;
    this.drop(this.tasks.findLastIndex((x) => x.t === 'night'));
    return true;
  }
  /** Lets everything go up to the night’s guard, while it stands: the closing comes next. */
  endNight(): void {
    const at = this.tasks.findLastIndex((x) => x.t === 'guard' && x.stage === 'night');
    if (at >= 0) this.drop(at);
  }
  /** What is at hand cannot be done: the stage ends here, the night is closed, and the next stage is tried. */
  giveUp(code: Code, values: PlainPhrase['values'] = {}): void {
    this.note(code, values);
    this.s.closed = true;
    // what is closed now is tried anew
    this.s.failures = {};
    this.drop(this.tasks.findLastIndex((x) => x.t === 'guard'));
    this.first({ t: 'given-up' });
  }
  /** Stops the mount or the rotator where it is, or ends an exposure. */
  abort(device: 'mount' | 'camera' | 'rotator'): void {
    this.acts.push({ device, do: 'abort', id: ++this.s.acts, deadlineMs: this.s.nowMs + PATIENCE_MS });
  }
  /** Stops what moves or is exposed, and waits for nothing. */
  letGo(): void {
    const { waitingFor } = this.s;
    if (waitingFor?.do === 'expose') this.abort('camera');
    if (waitingFor?.device === 'mount' && waitingFor.do !== 'connect') this.abort('mount');
    if (waitingFor?.do === 'rotate') this.abort('rotator');
    this.s.waitingFor = null;
    this.s.measure = null;
  }
  changeLeg(change: Partial<LegInNight>): void {
    this.s.legs = withLeg(this.s.legs, this.s.legIndex, change);
  }
  /** The leg at work has no more hours in this spell. */
  endSpell(): void {
    const { nowMs } = this.s;
    const { hours } = this.leg;
    const spell = hours.find(([a, b]) => a <= nowMs && nowMs < b);
    if (spell) this.changeLeg({ hours: both(hours, outside([[nowMs - 1, spell[1]]])) });
  }
  /** Tells a leg, the one at work where none is named, what happened. */
  happened(event: EngineEvent, legIndex = this.s.legIndex): void {
    this.s.legs = withLeg(this.s.legs, legIndex, { state: applyEvent(this.s.legs[legIndex]!.state, event) });
  }
  /** The same for every leg it concerns. */
  happenedTo(which: (leg: WorkedLeg) => boolean, event: EngineEvent): void {
    this.s.legs.forEach((l, i) => {
      if (which(l)) this.happened(event, i);
    });
  }
  /** When the lead moves the mount next, now where it does already; infinite without one. */
  nextMoveMs(): number {
    const ahead = this.lead?.ahead();
    return ahead ? (ahead.shutUntilMs === null ? ahead.shutsAtMs : this.s.nowMs) : Infinity;
  }

  note(code: Code, values: PlainPhrase['values'] = {}): void {
    const at = iso(this.s.nowMs);
    const spoken = phrase(code, values);
    this.says.push({ said: 'event', kind: 'note', start: at, end: at, text: words(spoken), phrase: spoken });
  }
  took(kind: RunEvent['kind'], what: PlainPhrase, startMs: number, more: Partial<RunEvent> = {}): void {
    if (this.s.nowMs <= startMs) return;
    this.says.push({
      said: 'event',
      ...(this.s.working ? { leg: this.leg.planIndex } : {}),
      kind,
      start: iso(startMs),
      end: iso(this.s.nowMs),
      text: words(what),
      phrase: what,
      ...more,
    });
  }
  request(ask: Ask, forMs: number): number {
    const id = ++this.s.acts;
    const deadlineMs = this.s.nowMs + forMs + PATIENCE_MS;
    this.acts.push({ ...ask, id, deadlineMs });
    this.s.waitingFor = { id, device: ask.device, do: ask.do, deadlineMs };
    return id;
  }
}

export const iso = (ms: number): string => new Date(Math.round(ms)).toISOString();
/** Work that takes time and is written down. */
export const timed = (
  kind: RunEvent['kind'],
  what: PlainPhrase,
  work: readonly Task[],
  more?: Partial<RunEvent>,
): Task => ({ t: 'timed', kind, what, work, ...(more ? { more } : {}) });
/** @param forMs how long it takes where all is well */
export const ask = (what: Ask, forMs = 0): Task => ({ t: 'ask', ask: what, forMs, id: null });
export const say = (code: Code, values: PlainPhrase['values'] = {}): Task => ({ t: 'say', code, values });

/** Skies by where and when: what a plan says of both never changes. */
const watches = new Map<string, SkyWatch>();
const MOST_WATCHES = 20;
/** Looks at the sky over the plan’s site; null where it names none. */
export function watchOf({ plan, startMs }: Pick<RunState, 'plan' | 'startMs'>): SkyWatch | null {
  if (!plan.site) return null;
  const middle = (startMs + plan.endMs) / 2;
  const key = JSON.stringify([plan.site, middle]);
  const known = watches.get(key);
  if (known) return known;
  const made = new SkyWatch(plan.site, middle);
  if (watches.size >= MOST_WATCHES) watches.clear();
  watches.set(key, made);
  return made;
}
