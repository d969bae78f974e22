import { curve } from '../focus/index.ts';
import {
  beginning,
  companionOf,
  happened,
  isOver,
  movesMount,
  nextStep,
  nextStretch,
  rulesOf,
  stillWanted,
  turnsOf,
  wheelLeftAt,
  withOthersFrames,
  type EngineState,
  type LegHours,
  type Rules,
  type Step,
} from '../sequence/index.ts';
import { DEVICES, type FrameMeasure, type Observatory } from './devices.ts';
import { FrameJudge } from './frameJudge.ts';
import type { RunEvent, RunFocus, RunFrame, RunLeg, RunPlan, RunResult } from './run.ts';
import { runSummary } from './runSummary.ts';

const POLL_MS = 60_000;
/** Share of a limit below which it is opened again; common practice, no source. */
const AIR_SLACK = 0.85;
const FOCUS_POINTS = 9;
/** Focus runs tried in a row before going on as well as may be. */
const FOCUS_ATTEMPTS = 3;
/** A wide frame calls for focus only when the last focus run is older than this. */
const REFOCUS_AFTER_MS = 5 * 60_000;

/** How often a device is asked, and how long between [ms]; common practice, no source. */
const CONNECT_ATTEMPTS = 4;
const CONNECT_AGAIN_MS = 15_000;
const MIN_MS = 60_000;
const STEP_WORDS: Record<RunPlan['opening' | 'closing'][number]['step'], string> = {
  connect: 'camera, wheel, focuser, mount, guider and weather connected',
  cool: 'camera cooled to its set point',
  home: 'mount found its home',
  focus: 'first focus, in the focus field',
  solve: 'pointing solved and synchronised',
  flats: 'flats in the dawn',
  park: 'mount parked',
  warm: 'camera warmed',
  disconnect: 'everything disconnected',
};

const WAITS = {
  meridian: 'waiting for the meridian',
  moon: 'the Moon leaves no filter to use yet',
  end: 'no whole frame fits any more',
  'shut-soon': 'no whole frame fits any more',
  'second-camera': 'the second camera ends its frame before the mount moves',
};

/** One leg while it is worked. */
interface WorkedLeg extends RunLeg {
  rules: Rules;
  state: EngineState;
  hours: LegHours;
  judges: FrameJudge;
}

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
  private focused: { filter: string; position: number; temperatureC: number } | null = null;
  /** Smallest star width the last focus run saw, in focus or not. */
  private smallestPx: number | null = null;
  /** Set when a frame came out wide: the next one is preceded by a focus run. */
  private refocus = false;
  private readonly legs: WorkedLeg[];
  /** The leg at work; before the first one, that one. */
  private leg: WorkedLeg;
  /** A leg is at work: what is written down belongs to it. */
  private working = false;
  /** Wind or damp keeps it closed. */
  private airShut = false;
  /** The night was given up. */
  private closed = false;

  constructor(plan: RunPlan, o: Observatory) {
    this.plan = plan;
    this.o = o;
    this.legs = plan.legs.map((leg) => {
      const rules = { ...rulesOf(leg.timeline), follows: leg.moving !== undefined };
      const hours = {
        startMs: rules.startMs,
        endMs: rules.endMs,
        role: leg.role,
        finished: false,
        ...turnsOf(leg.turnMin),
      };
      const companion = leg.waitsFor && companionOf(leg.waitsFor, rules);
      return { ...leg, rules, state: { ...beginning(rules), companion }, hours, judges: new FrameJudge() };
    });
    this.leg = this.legs[0]!;
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
    if (end > start)
      this.events.push({
        ...(this.working ? { leg: this.leg.place } : {}),
        kind,
        start: this.iso(start),
        end: this.iso(end),
        text,
        ...more,
      });
  }

  private note(text: string) {
    const at = this.iso(this.o.clock.now());
    this.events.push({ kind: 'note', start: at, end: at, text });
  }

  async run(): Promise<RunResult> {
    const { clock, mount, guider } = this.o;
    const start = this.iso(clock.now());
    await this.steps('opening', this.plan.opening);
    for (;;) {
      const next = this.closed ? { do: 'close' as const } : nextStretch(this.legs.map((l) => l.hours), clock.now()); // prettier-ignore
      if (next.do === 'close') break;
      if (next.do === 'wait')
        await this.timed('wait', 'waiting for the next leg', () => clock.sleep(next.untilMs - clock.now()));
      else {
        this.working = true;
        await this.work(this.legs[next.place]!, next);
        this.working = false;
      }
    }
    await guider.stop();
    await mount.park();
    if (this.plan.closing.length) await this.steps('closing', this.plan.closing);
    else {
      if (clock.now() < this.plan.endMs && !this.closed)
        await this.timed('wait', 'every quota is reached', () => clock.sleep(this.plan.endMs - clock.now()));
      this.note('mount parked, camera warming');
    }
    const { events, frames, focusRuns } = this;
    const taken = this.legs.map((l) => ({ projectId: l.projectId, timeline: l.timeline, taken: l.state.taken }));
    return runSummary(taken, start, this.iso(clock.now()), { events, frames, focusRuns });
  }

  /** The ordered steps around the legs, each not before its moment. */
  private async steps(kind: 'opening' | 'closing', steps: RunPlan['opening'] | RunPlan['closing']) {
    const { clock } = this.o;
    for (const s of steps) {
      const early = (s.notBeforeMs ?? 0) - clock.now();
      if (early > 0) await this.timed('wait', kind === 'opening' ? 'waiting for dusk' : 'waiting for dawn', () => clock.sleep(early)); // prettier-ignore
      const until = clock.now() + s.minutes * MIN_MS;
      if (s.step === 'connect') await this.connect();
      if (this.closed && kind === 'opening') return;
      if (s.step === 'focus') await this.firstFocus(this.leg.timeline.filters[0]!.name, 'field' in s ? s.field : null);
      const rest = until - clock.now();
      if (rest > 0) await this.timed(kind, STEP_WORDS[s.step], () => clock.sleep(rest));
    }
  }

  private async firstFocus(filter: string, field: RunPlan['opening'][number]['field']) {
    const { wheel, mount } = this.o;
    if (field) await this.timed('slew', `to the focus field, altitude ${field.altitudeDeg}°, azimuth ${field.azimuthDeg}°`, () => mount.slewToField(field)); // prettier-ignore
    if (wheel.current() !== filter) await this.timed('filter', `${wheel.current()} to ${filter}`, () => wheel.select(filter), { filter }); // prettier-ignore
    await this.focus(filter);
  }

  /** Works one leg until a moment, or until nothing of it is wanted. */
  private async work(leg: WorkedLeg, { untilMs, inTurns }: { untilMs: number; inTurns: boolean }) {
    const { clock, guider } = this.o;
    const another = this.leg !== leg;
    this.leg = leg;
    // what the opening focused need not be focused again
    if (this.frames.length === 0 && this.focused)
      leg.rules = { ...leg.rules, focus: { ...leg.rules.focus, atStart: false } };
    const resumed = leg.state.started;
    leg.hours.turns++;
    const takenBefore = this.frames.length;
    if (this.frames.length || this.focused) wheelLeftAt(leg.rules, leg.state, this.o.wheel.current());
    // another object: point, guide and, by the leg's rule, focus anew
    if (another || resumed) await guider.stop();
    if (resumed) happened(leg.state, { what: 'shut' });
    else leg.state.lastFocusEnd = clock.now();
    const shared = withOthersFrames(this.legs, leg);
    const rules = { ...shared, endMs: Math.min(leg.rules.endMs, untilMs) };
    /** Others wait for their turn: nothing is waited for once frames were taken. */
    const leavesEarly = () => inTurns && this.frames.length > takenBefore;
    for (;;) {
      const step = nextStep(rules, leg.state, this.conditions());
      if (leavesEarly() && isOver(step)) break;
      if (step.do === 'stop' || this.closed) break;
      if (step.do === 'frame') await this.frame(step);
      else if (step.do === 'focus') await this.focusAlone(step);
      else if (step.why === 'cloud') await this.waitShut(step.untilMs, rules.endMs);
      else await this.timed('wait', WAITS[step.why], () => clock.sleep(step.untilMs - clock.now()), step.why === 'second-camera' ? { because: step.why } : {}); // prettier-ignore
    }
    const satisfied = rules.filters.every((f, i) => stillWanted(f, leg.state.taken[i]!) <= 0);
    leg.hours.finished = satisfied || clock.now() >= leg.hours.endMs;
    // nothing more of it fits into this turn, and nothing else comes before the turn ends
    const left = rules.endMs - clock.now();
    if (!satisfied && !leavesEarly() && !this.closed && left > 0)
      await this.timed('wait', WAITS.end, () => clock.sleep(left));
  }

  /** What the roof and the last frames say; nobody knows when a cloud will come or go. */
  private conditions() {
    const nowMs = this.o.clock.now();
    const clear = this.shutBecause() === null;
    // a follower knows what its lead will do; nobody knows it of a cloud
    const moves = this.leg.moving?.find(([from, until]) => from <= nowMs && nowMs < until);
    return {
      nowMs,
      shutUntilMs: clear ? (moves?.[1] ?? null) : nowMs + POLL_MS,
      shutsAtMs: this.nextMoveMs(),
      focusNow: this.refocus,
    };
  }

  /** Waits for the sky, or while the lead moves the mount. */
  private async waitShut(untilMs: number, end: number) {
    const { clock } = this.o;
    const because = this.shutBecause();
    if (because === 'cloud') return this.waitOutCloud(end);
    if (because) return this.waitOutAir(because, end);
    await this.timed('wait', 'the lead moves the mount', () => clock.sleep(untilMs - clock.now()));
    happened(this.leg.state, { what: 'shut' });
  }

  /** When the lead moves the mount next; infinite without one. */
  private nextMoveMs(): number {
    const nowMs = this.o.clock.now();
    return this.leg.moving?.find(([from]) => from > nowMs)?.[0] ?? Infinity;
  }

  /** What keeps the sky shut, by the sensors on the roof and the plan’s limits; null where nothing does. */
  private shutBecause(): 'cloud' | 'wind' | 'damp' | null {
    const { wind, damp } = this.plan.watches;
    const now = this.o.weather.read();
    if (!now.clear) return 'cloud';
    // once shut, it opens only when the air is well below its limit again
    const slack = this.airShut ? AIR_SLACK : 1;
    if (wind && (now.windMS ?? 0) > wind.aboveMS * slack) return 'wind';
    if (damp && 100 * (now.humidity ?? 0) > damp.abovePercent * slack) return 'damp';
    return null;
  }

  private async waitOutAir(because: 'wind' | 'damp', end: number) {
    const { clock, guider, weather } = this.o;
    const { windMS = 0, humidity = 0 } = weather.read();
    const said =
      because === 'wind' ? `wind of ${windMS.toFixed(0)} m/s` : `humidity of ${(100 * humidity).toFixed(0)} %`;
    await guider.stop();
    if (this.plan.watches[because]!.then === 'close') {
      this.closed = true;
      this.note(`${said}: the night is closed`);
      return;
    }
    this.airShut = true;
    await this.timed('wait', `${said}: shutter closed`, async () => {
      while (this.shutBecause() === because && clock.now() < end)
        await clock.sleep(Math.min(POLL_MS, end - clock.now()));
    });
    this.airShut = false;
    happened(this.leg.state, { what: 'shut' });
  }

  private async waitOutCloud(end: number) {
    const { clock, weather, guider } = this.o;
    await guider.stop();
    const longest = this.plan.watches.cloudClosesAfterMin;
    const givenUpMs = longest === null ? Infinity : clock.now() + longest * MIN_MS;
    await this.timed('cloud', 'cloud: shutter closed, guiding stopped', async () => {
      while (!weather.read().clear && clock.now() < end && clock.now() < givenUpMs)
        await clock.sleep(Math.min(POLL_MS, end - clock.now(), givenUpMs - clock.now()));
    });
    if (!weather.read().clear && clock.now() >= givenUpMs) {
      this.closed = true;
      this.note(`under cloud for ${longest} min: the night is closed`);
    }
    happened(this.leg.state, { what: 'shut' });
  }

  /** Points at the leg’s target; what is not near enough is tried once more, then taken as it is, and said. */
  private async centre(target: WorkedLeg['target']) {
    const { mount } = this.o;
    const within = this.leg.centreWithinArcmin;
    for (const again of [false, true]) {
      let off: number | void = undefined;
      await this.timed('slew', again ? `centring on ${target.name} again` : `centred on ${target.name}`, async () => {
        off = await mount.slewAndCentre(target, within);
      });
      const left = (off as number | undefined) ?? 0;
      if (left <= within) return;
      this.note(`${target.name} is ${left.toFixed(1)}′ off the middle, ${within.toFixed(1)}′ are wanted`);
    }
  }

  /** Connects in order; a device that does not answer is asked again, and without it the night does not begin. */
  private async connect() {
    const { clock } = this.o;
    for (const device of DEVICES) {
      for (let asked = 1; this.o.connect && !(await this.o.connect(device)); asked++) {
        if (asked === CONNECT_ATTEMPTS) {
          this.note(`the ${device} does not answer after ${asked} attempts: the night is not begun`);
          this.closed = true;
          return;
        }
        await this.timed('wait', `the ${device} does not answer: asked again`, () => clock.sleep(CONNECT_AGAIN_MS));
      }
    }
  }

  /** A camera that follows focuses in one of the lead’s pauses, and exposes in the next. */
  private async focusAlone({ place }: Step & { do: 'focus' }) {
    const { timeline, state } = this.leg;
    const { wheel, clock } = this.o;
    const { name } = timeline.filters[place]!;
    if (wheel.current() !== name) await this.timed('filter', `${wheel.current()} to ${name}`, () => wheel.select(name), { filter: name }); // prettier-ignore
    await this.focus(name);
    happened(state, { what: 'focused', atMs: clock.now(), place });
  }

  private async frame({ place, frame, prepared: p }: Step & { do: 'frame' }) {
    const { timeline, target, guiding, state } = this.leg;
    const { mount, guider, wheel, camera, clock } = this.o;
    const filter = timeline.filters[place]!;
    if (p.flip) await this.timed('flip', 'meridian flip, centred again', () => mount.flip());
    if (p.slew) await this.centre(target);
    if (wheel.current() !== filter.name) {
      const begun = state.wheel >= 0;
      await this.timed('filter', `${wheel.current()} to ${filter.name}`, () => wheel.select(filter.name), {
        filter: filter.name,
      });
      if (!begun) this.note(`wheel set to ${filter.name} before the first frame`);
    }
    if (p.focus) await this.focus(filter.name);
    else await this.applyOffset(filter.name);
    if (p.guide && guiding) await this.timed('guide', 'guiding', () => guider.start());
    if (p.dither) await this.timed('dither', 'moved a few pixels, settled', () => guider.dither());
    // preparing took its time: the sky has shut, or the lead would move during the frame
    if (this.shutBecause() || clock.now() + 1000 * filter.exposureS > this.nextMoveMs()) return;
    const named = { filter: filter.name, frame };
    const start = clock.now();
    if (movesMount(p)) state.companion?.stands(start);
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
    happened(state, { what: 'exposed', place, prepared: p, counts });
    this.lookWhere(measure!);
  }

  /** A bumped telescope, or one that slips, is centred before the next frame. */
  private lookWhere({ offArcmin = 0 }: FrameMeasure) {
    const limit = this.plan.watches.recentreAboveArcmin;
    // a follower rides along: pointing is the lead’s
    if (limit === null || offArcmin <= limit || this.leg.moving) return;
    this.note(`${offArcmin.toFixed(1)}′ from where it should point: centring again`);
    happened(this.leg.state, { what: 'shut' });
  }

  /** Whether the frame counts; why not, and what follows from it, is written down. */
  private judge(named: { filter: string; frame: number }, exposureS: number, m: FrameMeasure, start: number): boolean {
    const { focuser } = this.o;
    const refusal = this.leg.judges.judge(named.filter, m, this.smallestPx);
    if (refusal?.code === 'wide' && start - this.leg.state.lastFocusEnd > REFOCUS_AFTER_MS) {
      this.refocus = true;
      this.note(`${named.filter} frame came out wide: focusing before the next`);
    }
    const { offArcmin: _where, ...kept } = m;
    this.frames.push({
      leg: this.leg.place,
      ...named,
      start: this.iso(start),
      exposureS,
      ...kept,
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
    const { overheads, end } = this.leg.timeline;
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
    happened(this.leg.state, { what: 'focused', atMs: clock.now() });
  }

  /** One pass through the positions around a centre, kept as a focus run whatever came of it. */
  private async sweep(filter: string, centre: number) {
    const { focuser, camera, clock } = this.o;
    const { focusReachSteps } = this.plan;
    const { timeline } = this.leg;
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
