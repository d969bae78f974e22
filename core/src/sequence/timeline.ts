import type { z } from 'zod';
import { define, type SpokenVerdict, type WorkingStep } from '../calculation/index.ts';
import { nextFilter, preparation, type Preparation, type SequenceState } from './choice.ts';
import {
  EventKind,
  TimelineInput,
  TimelineOutput,
  type FilterPlan,
  type Overheads,
  type TimelineEvent,
} from './schemas.ts';
import { instantWriter } from './instants.ts';
import { judge, phrase } from '../phrases/index.ts';

type Kind = z.infer<typeof EventKind>;

interface Piece {
  kind: Kind;
  ms: number;
}

/** An event before its times are written out [ms]. */
interface Span {
  kind: Kind;
  start: number;
  end: number;
  filter?: string;
  frame?: number;
}

/** The parts of one frame's piece, in the order they happen; parts of no length are left out, but for focus, whose moment counts. */
function pieceOf(p: Preparation, o: Overheads, exposureS: number): Piece[] {
  const piece: Piece[] = [];
  const part = (on: boolean, kind: Kind, seconds: number) => {
    if (on && (seconds > 0 || kind === 'focus')) piece.push({ kind, ms: seconds * 1000 });
  };
  part(p.flip, 'flip', o.flipS);
  part(p.slew, 'slew', o.slewCentreS);
  part(p.filter, 'filter', o.filterChangeS);
  part(p.focus, 'focus', o.autofocusS);
  part(p.guide, 'guide', o.guideStartS);
  part(p.dither, 'dither', o.ditherS);
  part(true, 'expose', exposureS);
  part(true, 'download', o.downloadS);
  return piece;
}

/** Cloud spells that matter, in order, joined where they touch. */
function mergedSpells(input: TimelineInput, start: number, end: number): [number, number][] {
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

/**
 * Lays a plan out over its night second by second: every event follows the one before without gap or overlap, and a
 * frame whose whole piece cannot end before the next barrier does not start.
 */
export function timeline(input: TimelineInput): TimelineOutput {
  const start = Date.parse(input.start);
  const end = Date.parse(input.end);
  const { filters, order, overheads } = input;
  const flipRaw = input.flipAt ? Date.parse(input.flipAt) : null;
  const flipAt = flipRaw !== null && flipRaw > start && flipRaw < end ? flipRaw : null;
  const spells = mergedSpells(input, start, end);

  const events: Span[] = [];
  const wait = (from: number, to: number) => {
    const last = events.at(-1);
    if (last?.kind === 'wait' && last.end === from) last.end = to;
    else if (to > from) events.push({ kind: 'wait', start: from, end: to });
  };
  const state: SequenceState = {
    taken: filters.map(() => 0),
    last: -1,
    wheel: -1,
    needsSlew: true,
    needsFlip: false,
    started: false,
    lastFocusEnd: start,
    framesSinceDither: 0,
  };
  let now = start;
  let spell = 0;
  let flipOpen = flipAt !== null;
  while (now < end) {
    if (spell < spells.length && now >= spells[spell]![0]) {
      wait(now, spells[spell]![1]);
      now = spells[spell]![1];
      spell++;
      state.needsSlew = true;
      continue;
    }
    if (flipOpen && now >= flipAt!) {
      flipOpen = false;
      state.needsFlip = state.started;
    }
    const place = nextFilter(order, filters, state.taken, state.last);
    if (place < 0) break;
    const filter = filters[place]!;
    const prepared = preparation(input, state, place, now);
    const piece = pieceOf(prepared, overheads, filter.exposureS);
    const length = piece.reduce((s, p) => s + p.ms, 0);
    const barrier = Math.min(end, flipOpen ? flipAt! : Infinity, spells[spell]?.[0] ?? Infinity);
    if (now + length > barrier + 1e-3) {
      wait(now, barrier);
      now = barrier;
      continue;
    }
    const frame = filter.done + state.taken[place]! + 1;
    for (const p of piece) {
      const named = p.kind === 'filter' || p.kind === 'focus' || p.kind === 'expose' || p.kind === 'download';
      const numbered = p.kind === 'expose' || p.kind === 'download';
      if (p.ms > 0) {
        const event: Span = { kind: p.kind, start: now, end: now + p.ms };
        if (named) event.filter = filter.name;
        if (numbered) event.frame = frame;
        events.push(event);
      }
      now += p.ms;
      if (p.kind === 'focus') state.lastFocusEnd = now;
    }
    state.taken[place]! += 1;
    state.last = place;
    state.wheel = place;
    state.started = true;
    state.needsSlew = false;
    state.needsFlip = false;
    state.framesSinceDither = prepared.dither || prepared.slew || prepared.flip ? 1 : state.framesSinceDither + 1;
  }
  wait(now, end);
  return summarise(input, events, state, end - start);
}

function summarise(input: TimelineInput, events: Span[], state: SequenceState, spanMs: number): TimelineOutput {
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
  taken: number[],
  efficiency: number,
  rounds: number,
  waitS: number,
): SpokenVerdict {
  const total = taken.reduce((s, n) => s + n, 0);
  if (total === 0) return judge('bad', phrase('sequence.nothing-fits'));
  const empty = input.filters.filter((f, i) => taken[i] === 0 && (f.quota === undefined || f.quota > f.done));
  const done = input.filters.every((f, i) => f.quota !== undefined && f.done + taken[i]! >= f.quota);
  const tail = done
    ? waitS > 1800
      ? phrase('sequence.quotas-reached-early', { leftHours: waitS / 3600 })
      : phrase('sequence.quotas-reached')
    : empty.length
      ? phrase('sequence.nothing-for', { filters: empty.map((f) => f.name) })
      : phrase('sequence.rounds', { rounds });
  const frames = phrase('sequence.frames', {
    total,
    perFilter: input.filters.map((f, i) => `${f.name} ${taken[i]}`),
    openPercent: 100 * efficiency,
  });
  return judge(empty.length ? 'caution' : 'good', frames, tail);
}

export const sequenceTimeline = define({
  name: 'sequence.timeline',
  summary: 'A plan laid out event by event, with what each filter gets and where the time goes',
  sources: ['Bookkeeping; order of preparation is common practice, no source'],
  input: TimelineInput,
  output: TimelineOutput,
  compute: timeline,
});
