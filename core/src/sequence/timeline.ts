import type { z } from 'zod';
import { define, type SpokenVerdict, type WorkingStep } from '../calculation/index.ts';
import type { SequenceState } from './choice.ts';
import { play, type Listener } from './play.ts';
import { partsOf, preparedMs, rulesOf, type Rules } from './rules.ts';
import { EventKind, TimelineInput, TimelineOutput, type FilterPlan, type TimelineEvent } from './schemas.ts';
import { instantWriter } from './instants.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

type Kind = z.infer<typeof EventKind>;

/** An event before its times are written out [ms]. */
export interface Span {
  kind: Kind;
  start: number;
  end: number;
  filter?: string;
  frame?: number;
  because?: 'second-camera';
}

/** Cloud spells that matter, in order, joined where they touch. */
export function mergedSpells(input: Pick<TimelineInput, 'blocked'>, start: number, end: number): [number, number][] {
  const spells = input.blocked
    .map((b): [number, number] => [Math.max(start, Date.parse(b.start)), Math.min(end, Date.parse(b.end))])
    .filter(([a, b]) => b > a)
    .sort((a, b) => a[0] - b[0]);
  const merged: [number, number][] = [];
  for (const [a, b] of spells) {
    const last = merged.at(-1);
    if (last && a <= last[1]) last[1] = Math.max(last[1], b);
    else merged.push([a, b]);
  }
  return merged;
}

/** Whole passes through the filters that still had quota at the start. */
export function completeRounds(filters: readonly FilterPlan[], taken: readonly number[]): number {
  const open = filters
    .map((f, i) => ({ f, n: taken[i]! }))
    .filter(({ f }) => f.quota === undefined || f.quota > f.done);
  if (open.length === 0) return 0;
  const quotas = open.map(({ f }) => f.quota);
  const least = quotas.some((q) => q === undefined) ? null : Math.min(...(quotas as number[]));
  return Math.floor(Math.min(...open.map(({ f, n }) => (least === null ? n : n / (f.quota! / least)))) + 1e-9);
}

/** Writes down what a played plan is made of. */
export function recorder(rules: Rules, events: Span[]): Listener {
  return {
    frame(step, startMs) {
      const filter = rules.filters[step.filterIndex]!.name;
      let now = startMs;
      for (const { kind, ms } of partsOf(rules, step)) {
        if (ms <= 0) continue;
        const numbered = kind === 'expose' || kind === 'download';
        const event: Span = { kind, start: now, end: now + ms };
        if (numbered || kind === 'filter' || kind === 'focus') event.filter = filter;
        if (numbered) event.frame = step.frame;
        events.push(event);
        now += ms;
      }
    },
    focus({ filterIndex, prepared }, startMs) {
      const filter = rules.filters[filterIndex]!.name;
      const turned = startMs + preparedMs(rules, { ...prepared, flip: false, slew: false }, 'filter');
      if (turned > startMs) events.push({ kind: 'filter', start: startMs, end: turned, filter });
      if (rules.takesMs.focus > 0)
        events.push({ kind: 'focus', start: turned, end: turned + rules.takesMs.focus, filter });
    },
    wait(from, to, forSecondCamera) {
      const last = events.at(-1);
      const because = forSecondCamera ? 'second-camera' : undefined;
      if (last?.kind === 'wait' && last.end === from && last.because === because) last.end = to;
      else if (to > from) events.push({ kind: 'wait', start: from, end: to, ...(because && { because }) });
    },
  };
}

/**
 * Lays a plan out over its night second by second: every event follows the one before without gap or overlap, and a
 * frame whose whole piece cannot end before the next barrier does not start.
 * @param mayFill  a filter out of its turn may use what is left before a barrier, as in a night of several legs
 */
export function timeline(input: TimelineInput, mayFill = false): TimelineOutput {
  const rules = rulesOf(input);
  const events: Span[] = [];
  const state = play(
    rules,
    mergedSpells(input, rules.startMs, rules.endMs),
    recorder(rules, events),
    undefined,
    mayFill,
  );
  return summarise(input, events, state, rules.endMs - rules.startMs);
}

/** What the events of a plan come to. */
export function summarise(input: TimelineInput, events: Span[], state: SequenceState, spanMs: number): TimelineOutput {
  const kinds = EventKind.options.filter((k) => k !== 'expose');
  const overheadS = Object.fromEntries(kinds.map((k) => [k, 0])) as Record<(typeof kinds)[number], number>;
  let openShutterS = 0;
  for (const e of events) {
    const s = (e.end - e.start) / 1000;
    if (e.kind === 'expose') openShutterS += s;
    else overheadS[e.kind] += s;
  }
  const efficiency = openShutterS / (spanMs / 1000);
  const rounds = completeRounds(input.filters, state.taken);
  const iso = instantWriter();
  // each event begins where the one before ended: half the dates need not be written twice
  let previous = { ms: Number.NaN, text: '' };
  const listed: TimelineEvent[] = events.map((e) => {
    const start = e.start === previous.ms ? previous.text : iso(e.start);
    previous = { ms: e.end, text: iso(e.end) };
    const out: TimelineEvent = { kind: e.kind, start, end: previous.text };
    if (e.filter !== undefined) out.filter = e.filter;
    if (e.frame !== undefined) out.frame = e.frame;
    if (e.because !== undefined) out.because = e.because;
    return out;
  });
  const working: WorkingStep[] = [
    { label: 'Open shutter', formula: 'Σ exposures', value: openShutterS / 60, unit: 'min' },
    ...kinds
      .filter((k) => overheadS[k] > 0)
      .map((k) => ({ label: `Lost to ${k}`, formula: `Σ ${k}`, value: overheadS[k] / 60, unit: 'min' })),
    { label: 'Efficiency', formula: 'open shutter/(end − start)', value: 100 * efficiency, unit: '%' },
  ];
  return {
    events: listed,
    frames: Object.fromEntries(input.filters.map((f, i) => [f.name, state.taken[i]!])),
    openShutterS,
    efficiency,
    overheadS,
    completeRounds: rounds,
    working,
    verdict: verdictOf(input, state.taken, efficiency, rounds, overheadS.wait),
  };
}

function verdictOf(
  input: TimelineInput,
  taken: readonly number[],
  efficiency: number,
  rounds: number,
  waitS: number,
): SpokenVerdict {
  const total = taken.reduce((s, n) => s + n, 0);
  if (total === 0) return makeVerdict('bad', phrase('sequence.nothing-fits'));
  const empty = input.filters.filter((f, i) => taken[i] === 0 && (f.quota === undefined || f.quota > f.done));
  const done = input.filters.every((f, i) => f.quota !== undefined && f.done + taken[i]! >= f.quota);
  // of one filter a round is a frame, and has been said
  const inRounds = input.filters.length > 1 ? [phrase('sequence.rounds', { rounds })] : [];
  const tail = done
    ? waitS > 1800
      ? [phrase('sequence.quotas-reached-early', { leftHours: waitS / 3600 })]
      : [phrase('sequence.quotas-reached')]
    : empty.length
      ? [phrase('sequence.nothing-for', { filters: empty.map((f) => f.name) })]
      : inRounds;
  const frames = phrase('sequence.frames', {
    total,
    perFilter: input.filters.map((f, i) => `${f.name} ${taken[i]}`),
    openPercent: 100 * efficiency,
  });
  return makeVerdict(empty.length ? 'caution' : 'good', frames, ...tail);
}

export const sequenceTimeline = define({
  name: 'sequence.timeline',
  summary: 'A plan laid out event by event, with what each filter gets and where the time goes',
  sources: ['Bookkeeping; order of preparation is common practice, no source'],
  input: TimelineInput,
  output: TimelineOutput,
  compute: (input) => timeline(input),
});
