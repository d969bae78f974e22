import { curve } from '../focus/index.ts';
import { phrase } from '../phrases/index.ts';
import type { Task } from './state.ts';
import { ask, iso, say, timed, type Work } from './work.ts';

type Of<T extends Task['t']> = Task & { t: T };
const FOCUS_POINTS = 9;
/** Focus runs tried in a row before going on as well as may be. */
const FOCUS_ATTEMPTS = 3;

/** A wheel that stands elsewhere than it was turned to is turned again so often. */
const TURNS = 3;

/** Turns the wheel where it stands elsewhere. */
export function wheel(w: Work, { filter, first, tries = 0 }: Of<'wheel'>): void {
  w.pop();
  const from = w.s.readings.wheel;
  if (from === filter) return;
  const { filterChangeS } = w.leg.timeline.overheads;
  const turned = ask({ device: 'wheel', do: 'turn', filter }, 1000 * filterChangeS);
  w.first(timed('filter', phrase('run.filter', { from, to: filter }), [turned], { filter }), {
    t: 'wheel-stands',
    filter,
    first,
    tries: tries + 1,
  });
}
/** Where it stands now is what counts, not what it was asked. */
export function wheelStands(
  w: Work,
  { filter, first, tries }: Of<'wheel-stands'>,
  failed: (w: Work, device: 'wheel', what: 'stands', reason: string) => void,
): void {
  const stands = w.s.readings.wheel;
  if (stands === filter) {
    w.pop();
    w.s.failures = { ...w.s.failures, 'wheel stands': 0 };
    if (first) w.note('run.wheel-set', { filter });
    return;
  }
  w.note('run.wheel-elsewhere', { filter, stands });
  if (tries < TURNS) w.replace({ t: 'wheel', filter, first, tries });
  else failed(w, 'wheel', 'stands', `it stands at ${stands}`);
}

/** So much of a focus run’s reach a focuser goes too far down, to come up to where it is wanted; common practice, no source. */
const TOO_FAR = 0.5;
/** Moves it to a place from below: whatever play its gears have is taken up the same way each time. */
function moves(w: Work, position: number): Task[] {
  const to = (p: number) => ask({ device: 'focuser', do: 'move', position: p });
  if (Math.round(position) >= w.s.readings.position) return [to(position)];
  return [to(position - TOO_FAR * w.s.plan.focusReachSteps), to(position)];
}

/** Moves by the offsets’ difference, and by the temperature since the last focus run. */
export function offset(w: Work, { filter }: Of<'offset'>): void {
  w.pop();
  const { plan, focused, readings } = w.s;
  if (!plan.offsets || !focused) return;
  const by = (plan.offsets.steps[filter] ?? 0) - (plan.offsets.steps[focused.filter] ?? 0);
  const warm = plan.offsets.temperatureStepsPerC * (readings.temperatureC - focused.temperatureC);
  w.first(...moves(w, focused.position + by + warm));
}

/** A focus run; when the bottom lies beyond its reach, again around the smallest star it saw. */
export function focus(w: Work, { filter, filterIndex }: Of<'focus'>): void {
  w.replace({ t: 'focused', filterIndex });
  w.first({ t: 'offset', filter }, { t: 'sweep', filter, attempt: 1 }, { t: 'focus-over' });
}
export function focused(w: Work, { filterIndex }: Of<'focused'>): void {
  w.pop();
  const measured = { atMs: w.s.nowMs, temperatureC: w.s.readings.temperatureC };
  w.happened({ what: 'focused', ...measured, ...(filterIndex === null ? {} : { filterIndex }) });
}
/** One pass through the positions around where the focuser stands. */
export function sweep(w: Work, { filter, attempt }: Of<'sweep'>): void {
  const { readings, nowMs } = w.s;
  w.s.points = [];
  w.replace({ t: 'swept', filter, attempt, startMs: nowMs, temperatureC: readings.temperatureC });
  const everyMs = (w.leg.timeline.overheads.autofocusS * 1000) / FOCUS_POINTS;
  w.first(
    timed('focus', phrase('run.focus', { filter }), [{ t: 'point', centre: readings.position, k: 0, everyMs }], {
      filter,
    }),
  );
}
export function point(w: Work, { centre, k, everyMs }: Of<'point'>): void {
  if (k === FOCUS_POINTS) return w.pop();
  w.replace({ t: 'point', centre, k: k + 1, everyMs });
  const position = centre + ((2 * k) / (FOCUS_POINTS - 1) - 1) * w.s.plan.focusReachSteps;
  w.first(
    ...moves(w, position),
    ask({ device: 'camera', do: 'focus-frame' }, everyMs),
    { t: 'keep-point' },
    // a point takes its time, whatever of it the camera takes
    { t: 'until', ms: w.s.nowMs + everyMs },
  );
}
export function keepPoint(w: Work): void {
  w.pop();
  const { hfdPx } = w.s.answer as { hfdPx: number };
  w.s.points = [...w.s.points, { position: w.s.readings.position, hfd: Math.round(hfdPx * 1000) / 1000 }];
}
/** What the pass says: kept as a focus run whatever came of it. */
export function swept(w: Work, { filter, attempt, startMs, temperatureC }: Of<'swept'>): void {
  w.pop();
  const points = [...w.s.points];
  w.s.points = [];
  const fit = curve({ points });
  const { position, minHfd: hfd, positionError: error, usable, reason } = fit;
  w.says.push({ said: 'focus', filter, time: iso(startMs), temperatureC, position, hfd, error, usable, points });
  const smallest = points.reduce((a, b) => (b.hfd < a.hfd ? b : a));
  w.s.smallestPx = usable ? hfd : Math.min(smallest.hfd, w.s.smallestPx ?? Infinity);
  if (usable) {
    w.first(...moves(w, position), { t: 'in-focus', filter, position, temperatureC });
    return;
  }
  const { overheads, end } = w.leg.timeline;
  const again = attempt < FOCUS_ATTEMPTS && w.s.nowMs + overheads.autofocusS * 1000 < Date.parse(end);
  w.first(
    ...moves(w, smallest.position),
    say(again ? 'run.focus-again' : 'run.focus-stayed', { reason, position: smallest.position }),
    ...(again ? [{ t: 'sweep' as const, filter, attempt: attempt + 1 }] : []),
  );
}
export function inFocus(w: Work, { t: _t, ...where }: Of<'in-focus'>): void {
  w.pop();
  w.s.focused = where;
}
export function focusOver(w: Work): void {
  w.pop();
  w.s.refocus = false;
}
