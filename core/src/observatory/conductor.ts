import { curve } from '../focus/index.ts';
import { beginning, happened, nextStep, rulesOf, type EngineState, type Rules, type Step } from '../sequence/index.ts';
import type { FrameMeasure, Observatory } from './devices.ts';
import { FrameJudge } from './frameJudge.ts';
import type { RunEvent, RunFocus, RunFrame, RunPlan, RunResult } from './run.ts';
import { runSummary } from './runSummary.ts';

const POLL_MS = 60_000;
const FOCUS_POINTS = 9;
/** Focus runs tried in a row before going on as well as may be. */
const FOCUS_ATTEMPTS = 3;
/** A wide frame calls for focus only when the last focus run is older than this. */
const REFOCUS_AFTER_MS = 5 * 60_000;

/**
 * Carries a plan out on an observatory: prepares, exposes, judges each frame, waits out cloud, flips, refocuses.
 * Knows only what the devices say; the order of filters counts accepted frames.
 */
export async function conduct(plan: RunPlan, o: Observatory): Promise<RunResult> {
  return new Conductor(plan, o).run();
}

class Conductor {
  private readonly plan: RunPlan;
  private readonly o: Observatory;
  private readonly events: RunEvent[] = [];
  private readonly frames: RunFrame[] = [];
  private readonly focusRuns: RunFocus[] = [];
  private readonly judges = new FrameJudge();
  private focused: { filter: string; position: number; temperatureC: number } | null = null;
  /** Smallest star width the last focus run saw, in focus or not. */
  private smallestPx: number | null = null;
  /** Set when a frame came out wide: the next one is preceded by a focus run. */
  private refocus = false;
  private readonly rules: Rules;
  private readonly state: EngineState;

  constructor(plan: RunPlan, o: Observatory) {
    this.plan = plan;
    this.o = o;
    this.rules = rulesOf(plan.timeline);
    this.state = beginning(this.rules);
  }

  private iso = (ms: number) => new Date(ms).toISOString();

  /** Does something that takes time and writes it down. */
  private async timed(
    kind: RunEvent['kind'],
    text: string,
    work: () => Promise<unknown>,
    more: Partial<RunEvent> = {},
  ) {
    const start = this.o.clock.now();
    await work();
    const end = this.o.clock.now();
    if (end > start) this.events.push({ kind, start: this.iso(start), end: this.iso(end), text, ...more });
  }

  private note(text: string) {
    const at = this.iso(this.o.clock.now());
    this.events.push({ kind: 'note', start: at, end: at, text });
  }

  async run(): Promise<RunResult> {
    const { timeline } = this.plan;
    const { clock, mount, guider } = this.o;
    const end = this.rules.endMs;
    for (;;) {
      const step = nextStep(this.rules, this.state, this.conditions());
      if (step.do === 'stop') break;
      if (step.do === 'frame') await this.frame(step);
      else if (step.why === 'cloud') await this.waitOutCloud(end);
      else
        await this.timed(
          'wait',
          step.why === 'meridian' ? 'waiting for the meridian' : 'no whole frame fits any more',
          () => clock.sleep(step.untilMs - clock.now()),
        );
    }
    await guider.stop();
    await mount.park();
    if (clock.now() < end) await this.timed('wait', 'every quota is reached', () => clock.sleep(end - clock.now()));
    this.note('mount parked, camera warming');
    const { events, frames, focusRuns } = this;
    return runSummary(timeline, this.iso(clock.now()), this.state.taken, { events, frames, focusRuns });
  }

  /** What the roof and the last frames say; nobody knows when a cloud will come or go. */
  private conditions() {
    const nowMs = this.o.clock.now();
    const clear = this.o.weather.read().clear;
    return {
      nowMs,
      shutUntilMs: clear ? null : nowMs + POLL_MS,
      shutsAtMs: Infinity,
      focusNow: this.refocus,
    };
  }

  private async waitOutCloud(end: number) {
    const { clock, weather, guider } = this.o;
    await guider.stop();
    await this.timed('cloud', 'cloud: shutter closed, guiding stopped', async () => {
      while (!weather.read().clear && clock.now() < end) await clock.sleep(Math.min(POLL_MS, end - clock.now()));
    });
    happened(this.state, { what: 'shut' });
  }

  private async frame({ place, frame, prepared: p }: Step & { do: 'frame' }) {
    const { timeline, target } = this.plan;
    const { mount, guider, wheel, camera, clock } = this.o;
    const filter = timeline.filters[place]!;
    if (p.flip) await this.timed('flip', 'meridian flip, centred again', () => mount.flip());
    if (p.slew) await this.timed('slew', `centred on ${target.name}`, () => mount.slewAndCentre(target));
    if (wheel.current() !== filter.name) {
      const begun = this.state.wheel >= 0;
      await this.timed('filter', `${wheel.current()} to ${filter.name}`, () => wheel.select(filter.name), {
        filter: filter.name,
      });
      if (!begun) this.note(`wheel set to ${filter.name} before the first frame`);
    }
    if (p.focus) await this.focus(filter.name);
    else await this.applyOffset(filter.name);
    if (p.guide) await this.timed('guide', 'guiding', () => guider.start());
    if (p.dither) await this.timed('dither', 'moved a few pixels, settled', () => guider.dither());
    const named = { filter: filter.name, frame };
    const start = clock.now();
    let measure: FrameMeasure | null = null;
    await this.timed(
      'expose',
      `${filter.name} ${filter.exposureS} s`,
      async () => {
        measure = await camera.expose(filter.exposureS);
      },
      named,
    );
    await this.timed('download', 'read out', () => camera.download(), named);
    const counts = this.judge(named, filter.exposureS, measure!, start);
    happened(this.state, { what: 'exposed', place, prepared: p, counts });
  }

  /** Whether the frame counts; why not, and what follows from it, is written down. */
  private judge(named: { filter: string; frame: number }, exposureS: number, m: FrameMeasure, start: number): boolean {
    const { focuser } = this.o;
    const refusal = this.judges.judge(named.filter, m, this.smallestPx);
    if (refusal?.code === 'wide' && start - this.state.lastFocusEnd > REFOCUS_AFTER_MS) {
      this.refocus = true;
      this.note(`${named.filter} frame came out wide: focusing before the next`);
    }
    this.frames.push({
      ...named,
      start: this.iso(start),
      exposureS,
      ...m,
      focusPosition: focuser.position(),
      temperatureC: focuser.temperatureC(),
      accepted: refusal === null,
      reason: refusal?.text ?? '',
      refusal: refusal?.code ?? null,
    });
    return refusal === null;
  }

  /** Moves by the offsets' difference, and by the temperature since the last focus run. */
  private async applyOffset(filter: string) {
    const { offsets } = this.plan;
    if (!offsets || !this.focused) return;
    const { focuser } = this.o;
    const step = (offsets.steps[filter] ?? 0) - (offsets.steps[this.focused.filter] ?? 0);
    const warm = offsets.temperatureStepsPerC * (focuser.temperatureC() - this.focused.temperatureC);
    await focuser.moveTo(this.focused.position + step + warm);
  }

  /** A focus run; when the bottom lies beyond its reach, again around the smallest star it saw. */
  private async focus(filter: string) {
    const { focuser, clock } = this.o;
    const { overheads, end } = this.plan.timeline;
    await this.applyOffset(filter);
    for (let attempt = 1; attempt <= FOCUS_ATTEMPTS; attempt++) {
      const centre = focuser.position();
      const { points, temperatureC, fit } = await this.sweep(filter, centre);
      const smallest = points.reduce((a, b) => (b.hfd < a.hfd ? b : a));
      this.smallestPx = fit.usable ? fit.minHfd : Math.min(smallest.hfd, this.smallestPx ?? Infinity);
      if (fit.usable) {
        await focuser.moveTo(fit.position);
        this.focused = { filter, position: fit.position, temperatureC };
        break;
      }
      const again = attempt < FOCUS_ATTEMPTS && clock.now() + overheads.autofocusS * 1000 < Date.parse(end);
      await focuser.moveTo(smallest.position);
      this.note(
        `focus run not usable (${fit.reason}); ${again ? 'again around' : 'stayed at'} ${smallest.position.toFixed(0)}`,
      );
      if (!again) break;
    }
    this.refocus = false;
    happened(this.state, { what: 'focused', atMs: clock.now() });
  }

  /** One pass through the positions around a centre, kept as a focus run whatever came of it. */
  private async sweep(filter: string, centre: number) {
    const { focuser, camera, clock } = this.o;
    const { timeline, focusReachSteps } = this.plan;
    const start = clock.now();
    const points: { position: number; hfd: number }[] = [];
    const temperatureC = focuser.temperatureC();
    await this.timed(
      'focus',
      `focus run through ${filter}`,
      async () => {
        for (let k = 0; k < FOCUS_POINTS; k++) {
          await focuser.moveTo(centre + ((2 * k) / (FOCUS_POINTS - 1) - 1) * focusReachSteps);
          const m = await camera.focusFrame();
          points.push({ position: focuser.position(), hfd: Math.round(m.hfdPx * 1000) / 1000 });
          await clock.sleep((timeline.overheads.autofocusS * 1000) / FOCUS_POINTS);
        }
      },
      { filter },
    );
    const fit = curve({ points });
    this.focusRuns.push({
      filter,
      time: this.iso(start),
      temperatureC,
      position: fit.position,
      hfd: fit.minHfd,
      error: fit.positionError,
      usable: fit.usable,
      points,
    });
    return { points, temperatureC, fit };
  }
}
