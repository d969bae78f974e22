import { focusHolds, type FocusHolds, type Preparation } from './choice.ts';
import type { EventKind, FilterPlan, Order, Overheads, TimelineInput } from './schemas.ts';

/**
 * What a leg is worked by. The engine is the one place that knows what a night does next: rules, state and conditions give
 * the next step; what happened gives the next state. The timeline and the risk play it with durations that are known, the
 * rehearsal and a run with what devices report. Times are milliseconds since 1970, UTC.
 */
export interface Rules {
  startMs: number;
  endMs: number;
  /** When the target crosses the meridian; null when it does not inside the plan. */
  flipAtMs: number | null;
  filters: readonly FilterPlan[];
  order: Order;
  dither: TimelineInput['dither'];
  focus: TimelineInput['focus'];
  /** What each thing takes [ms]. */
  takesMs: Record<Prepare | 'download', number>;
  /** How long a focus run holds, by time and by the cooling that is expected. */
  focusHolds: FocusHolds;
  /** By place, the spells in which a filter may be used [ms], null: always. Left out where every filter always may. */
  duringMs: readonly (readonly (readonly [number, number])[] | null)[] | null;
  /** The mount is another camera’s: what does not fit before its next move is not waited for, and focus comes by itself. */
  follows?: boolean;
}
/** What may have to come before a frame, in the order it is done in. Schedule, risk and run all take it from here. */
export const PREPARE = ['flip', 'slew', 'filter', 'focus', 'guide', 'dither'] as const;
export type Prepare = (typeof PREPARE)[number];

export interface Part {
  kind: Exclude<EventKind, 'wait'>;
  ms: number;
}

/** Rounding of sums of milliseconds: a frame that ends exactly at a barrier fits. */
const SLACK_MS = 1e-3;

export function rulesOf(input: TimelineInput): Rules {
  const [startMs, endMs] = [Date.parse(input.start), Date.parse(input.end)];
  const flip = input.flipAt ? Date.parse(input.flipAt) : null;
  return {
    startMs,
    endMs,
    flipAtMs: flip !== null && flip > startMs && flip < endMs ? flip : null,
    filters: input.filters,
    order: input.order,
    dither: input.dither,
    focus: input.focus,
    takesMs: takesMs(input.overheads),
    focusHolds: focusHolds(input.focus),
    duringMs: input.filters.some((f) => f.during)
      ? input.filters.map((f) => f.during?.map((s) => [Date.parse(s.start), Date.parse(s.end)] as const) ?? null)
      : null,
  };
}
const takesMs = (o: Overheads): Rules['takesMs'] => ({
  flip: 1000 * o.flipS,
  slew: 1000 * o.slewCentreS,
  filter: 1000 * o.filterChangeS,
  focus: 1000 * o.autofocusS,
  guide: 1000 * o.guideStartS,
  dither: 1000 * o.ditherS,
  download: 1000 * o.downloadS,
});

/** Whether something before the frame turns the mount away from where it stands, if only by some pixels. */
export const movesMount = (p: Preparation): boolean => p.dither || p.slew || p.flip;

/** How long what comes before a frame takes, up to and with one kind of it [ms]. */
export function preparedMs({ takesMs }: Pick<Rules, 'takesMs'>, p: Preparation, upTo: Prepare = 'dither'): number {
  let ms = 0;
  for (const kind of PREPARE) {
    if (p[kind]) ms += takesMs[kind];
    if (kind === upTo) break;
  }
  return ms;
}

/** How long a frame takes with all that comes before and after it [ms]. */
export const frameMs = (rules: Rules, filterIndex: number, p: Preparation): number =>
  preparedMs(rules, p) + 1000 * rules.filters[filterIndex]!.exposureS + rules.takesMs.download;

/** All the parts of a frame with their lengths, in the order they happen. */
export function partsOf(rules: Rules, frame: { filterIndex: number; prepared: Preparation }): Part[] {
  const before = PREPARE.filter((kind) => frame.prepared[kind]).map((kind): Part => ({
    kind,
    ms: rules.takesMs[kind],
  }));
  return [
    ...before,
    { kind: 'expose', ms: 1000 * rules.filters[frame.filterIndex]!.exposureS },
    { kind: 'download', ms: rules.takesMs.download },
  ];
}

/** Does something that takes so long end before the next barrier? Both in ms. */
export const fitsBefore = (nowMs: number, takesMs: number, barrierMs: number): boolean =>
  nowMs + takesMs <= barrierMs + SLACK_MS;
