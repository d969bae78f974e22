import { curve } from '../focus/index.ts';
import { nextFilter, preparation, type Preparation, type SequenceState } from '../sequence/index.ts';
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
  private readonly state: SequenceState;
  private readonly accepted: number[];
  private readonly number: number[];

  constructor(plan: RunPlan, o: Observatory) {
    this.plan = plan;
    this.o = o;
    const none = plan.timeline.filters.map(() => 0);
    this.accepted = [...none];
    this.number = [...none];
    this.state = {
      taken: this.accepted,
      last: -1,
      wheel: -1,
      needsSlew: true,
      needsFlip: false,
      started: false,
      lastFocusEnd: Date.parse(plan.timeline.start),
      framesSinceDither: 0,
    };
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
    const { clock, mount, guider, weather } = this.o;
    const end = Date.parse(timeline.end);
    const flipRaw = timeline.flipAt ? Date.parse(timeline.flipAt) : null;
    const flipAt = flipRaw !== null && flipRaw > Date.parse(timeline.start) && flipRaw < end ? flipRaw : null;
    let flipOpen = flipAt !== null;
    while (clock.now() < end) {
      if (!weather.read().clear) {
        await this.waitOutCloud(end);
        continue;
      }
      if (flipOpen && clock.now() >= flipAt!) {
        flipOpen = false;
        this.state.needsFlip = this.state.started;
      }
      const place = nextFilter(timeline.order, timeline.filters, this.accepted, this.state.last);
      if (place < 0) break;
      const barrier = Math.min(end, flipOpen ? flipAt! : Infinity);
      if (clock.now() + this.lengthMs(place) > barrier + 1) {
        const flip = barrier < end;
        await this.timed('wait', flip ? 'waiting for the meridian' : 'no whole frame fits any more', () =>
          clock.sleep(barrier - clock.now()),
        );
        continue;
      }
      await this.frame(place);
    }
    await guider.stop();
    await mount.park();
    if (clock.now() < end) await this.timed('wait', 'every quota is reached', () => clock.sleep(end - clock.now()));
    this.note('mount parked, camera warming');
    const { events, frames, focusRuns } = this;
    return runSummary(timeline, this.iso(clock.now()), this.accepted, { events, frames, focusRuns });
  }

  private lengthMs(place: number): number {
    const { timeline } = this.plan;
    const p = this.prepare(place);
    const h = timeline.overheads;
    const on = (flag: boolean, s: number) => (flag ? s : 0);
    return (
      1000 *
      (on(p.flip, h.flipS) +
        on(p.slew, h.slewCentreS) +
        on(p.filter, h.filterChangeS) +
        on(p.focus, h.autofocusS) +
        on(p.guide, h.guideStartS) +
        on(p.dither, h.ditherS) +
        timeline.filters[place]!.exposureS +
        h.downloadS)
    );
  }

  private prepare(place: number): Preparation {
    const p = preparation(this.plan.timeline, this.state, place, this.o.clock.now());
    return this.refocus ? { ...p, focus: true } : p;
  }

  private async waitOutCloud(end: number) {
    const { clock, weather, guider } = this.o;
    await guider.stop();
    await this.timed('cloud', 'cloud: shutter closed, guiding stopped', async () => {
      while (!weather.read().clear && clock.now() < end) await clock.sleep(Math.min(POLL_MS, end - clock.now()));
    });
    this.state.needsSlew = true;
  }

  private async frame(place: number) {
    const { timeline, target } = this.plan;
    const { mount, guider, wheel, focuser, camera, clock } = this.o;
    const filter = timeline.filters[place]!;
    const p = this.prepare(place);
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
    const number = ++this.number[place]!;
    const named = { filter: filter.name, frame: filter.done + number };
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
    this.judge(place, measure!, start, focuser.position());
    this.state.last = place;
    this.state.wheel = place;
    this.state.started = true;
    this.state.needsSlew = false;
    this.state.needsFlip = false;
    this.state.framesSinceDither = p.dither || p.slew || p.flip ? 1 : this.state.framesSinceDither + 1;
  }

  private judge(place: number, m: FrameMeasure, start: number, focusPosition: number) {
    const filter = this.plan.timeline.filters[place]!;
    const refusal = this.judges.judge(filter.name, m, this.smallestPx);
    if (!refusal) this.accepted[place]! += 1;
    else if (refusal.code === 'wide' && start - this.state.lastFocusEnd > REFOCUS_AFTER_MS) {
      this.refocus = true;
      this.note(`${filter.name} frame came out wide: focusing before the next`);
    }
    this.frames.push({
      filter: filter.name,
      frame: filter.done + this.number[place]!,
      start: this.iso(start),
      exposureS: filter.exposureS,
      ...m,
      focusPosition,
      temperatureC: this.o.focuser.temperatureC(),
      accepted: refusal === null,
      reason: refusal?.text ?? '',
      refusal: refusal?.code ?? null,
    });
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
      const { points, temperatureC } = await this.sweep(filter, centre);
      const fit = curve({ points });
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
    this.state.lastFocusEnd = clock.now();
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
    return { points, temperatureC };
  }
}
