import { curve } from '../focus/index.ts';
import { phrase } from '../phrases/index.ts';
import type { Step } from '../sequence/index.ts';
import type { RunContext } from './runContext.ts';

const FOCUS_POINTS = 9;
/** Focus runs tried in a row before going on as well as may be. */
const FOCUS_ATTEMPTS = 3;

/** Moves by the offsets' difference, and by the temperature since the last focus run. */
export async function applyOffset(c: RunContext, filter: string): Promise<void> {
  const { offsets } = c.plan;
  if (!offsets || !c.focused) return;
  const { focuser } = c.o;
  const step = (offsets.steps[filter] ?? 0) - (offsets.steps[c.focused.filter] ?? 0);
  const warm = offsets.temperatureStepsPerC * (focuser.temperatureC() - c.focused.temperatureC);
  await focuser.moveTo(c.focused.position + step + warm);
}

/** A focus run; when the bottom lies beyond its reach, again around the smallest star it saw. */
export async function focus(c: RunContext, filter: string): Promise<void> {
  await focusRun(c, filter);
  c.happened({ what: 'focused', ...measuredNow(c) });
}

/** A camera that follows focuses in one of the lead’s pauses, and exposes in the next. */
export async function focusAlone(c: RunContext, { filterIndex }: Step & { do: 'focus' }): Promise<void> {
  const { name } = c.leg.timeline.filters[filterIndex]!;
  await c.turnWheel(name);
  await focusRun(c, name);
  c.happened({ what: 'focused', ...measuredNow(c), filterIndex });
}

const measuredNow = ({ o }: RunContext) => ({ atMs: o.clock.now(), temperatureC: o.focuser.temperatureC() });

async function focusRun(c: RunContext, filter: string): Promise<void> {
  const { focuser, clock } = c.o;
  const { overheads, end } = c.leg.timeline;
  await applyOffset(c, filter);
  for (let attempt = 1; attempt <= FOCUS_ATTEMPTS; attempt++) {
    const { points, temperatureC, fit } = await sweep(c, filter, focuser.position());
    const smallest = points.reduce((a, b) => (b.hfd < a.hfd ? b : a));
    c.smallestPx = fit.usable ? fit.minHfd : Math.min(smallest.hfd, c.smallestPx ?? Infinity);
    if (fit.usable) {
      await focuser.moveTo(fit.position);
      c.focused = { filter, position: fit.position, temperatureC };
      break;
    }
    const again = attempt < FOCUS_ATTEMPTS && clock.now() + overheads.autofocusS * 1000 < Date.parse(end);
    await focuser.moveTo(smallest.position);
    c.note(again ? 'run.focus-again' : 'run.focus-stayed', { reason: fit.reason, position: smallest.position });
    if (!again) break;
  }
  c.refocus = false;
}

/** One pass through the positions around a centre, kept as a focus run whatever came of it. */
async function sweep(c: RunContext, filter: string, centre: number) {
  const { focuser, camera, clock } = c.o;
  const { focusReachSteps } = c.plan;
  const { autofocusS } = c.leg.timeline.overheads;
  const start = clock.now();
  const points: { position: number; hfd: number }[] = [];
  const temperatureC = focuser.temperatureC();
  const pass = async () => {
    for (let k = 0; k < FOCUS_POINTS; k++) {
      await focuser.moveTo(centre + ((2 * k) / (FOCUS_POINTS - 1) - 1) * focusReachSteps);
      const m = await camera.focusFrame();
      points.push({ position: focuser.position(), hfd: Math.round(m.hfdPx * 1000) / 1000 });
      await clock.sleep((autofocusS * 1000) / FOCUS_POINTS);
    }
  };
  await c.timed('focus', phrase('run.focus', { filter }), pass, { filter });
  const fit = curve({ points });
  c.focusRuns.push({
    filter,
    time: c.iso(start),
    temperatureC,
    position: fit.position,
    hfd: fit.minHfd,
    error: fit.positionError,
    usable: fit.usable,
    points,
  });
  return { points, temperatureC, fit };
}
