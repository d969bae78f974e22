import { curve } from '../focus/index.ts';
import {
  beginTurn,
  both,
  applyEvent,
  legInitialState,
  movesMount,
  outside,
  rulesOf,
  shareCompanions,
  sideAt,
  tellOthers,
  turnsOf,
  whoseTurn,
  type AtWork,
  type LegInNight,
  type Next,
  type Step,
} from '../sequence/index.ts';
import { SkyWatch } from './skyWatch.ts';
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

const WAITS: Record<(Next & { do: 'wait' })['why'], string> = {
  meridian: 'waiting for the meridian',
  moon: 'the Moon leaves no filter to use yet',
  end: 'no whole frame fits any more',
  'shut-soon': 'no whole frame fits any more',
  fixed: 'no whole frame fits before the fixed leg',
  'second-camera': 'the second camera ends its frame before the mount moves',
  cloud: 'the lead moves the mount',
  leg: 'waiting for the next leg',
};

/** One leg while it is worked. */
interface WorkedLeg extends LegInNight, Omit<RunLeg, 'hours' | 'role' | 'work'> {
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
  private readonly watcher: SkyWatch | null;
  /** The leg at work; before the first one, that one. */
  private leg: WorkedLeg;
  private at: AtWork = { place: null, turnEndsMs: -Infinity };
  /** A leg is at work: what is written down belongs to it. */
  private working = false;
  /** Since when the sky has been under cloud without a break [ms]. */
  private cloudSinceMs: number | null = null;
  /** Wind or damp keeps it closed. */
  private airShut = false;
  /** The night was given up. */
  private closed = false;

  constructor(plan: RunPlan, o: Observatory) {
    this.plan = plan;
    this.o = o;
    const openedMs = o.clock.now();
    this.legs = plan.legs.map((leg) => {
      const rules = { ...rulesOf(leg.timeline), follows: leg.moving !== undefined };
      return {
        ...leg,
        hours: leg.hours ?? [[rules.startMs, rules.endMs]],
        rules,
        focusAtStart: rules.focus.atStart,
        state: legInitialState(rules, openedMs, leg.waitsFor ?? null),
        judges: new FrameJudge(),
        ...turnsOf(leg.turnMin),
      };
    });
    shareCompanions(this.legs.map((l) => ({ companion: l.state.companion, goal: l.followerOf ?? '' })));
    this.watcher = plan.site ? new SkyWatch(plan.site, (o.clock.now() + plan.endMs) / 2) : null;
    this.leg = this.legs[0]!;
  }

  private iso = (ms: number) => new Date(Math.round(ms)).toISOString();

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
    for (const l of this.legs) l.state.lastFocusEnd = Math.max(l.rules.startMs, clock.now());
    while (!this.closed && (await this.nextOfNight()));
    await guider.stop();
    await mount.park();
    if (this.plan.closing.length) await this.steps('closing', this.plan.closing);
    else {
      if (clock.now() < this.plan.endMs && !this.closed)
        await this.timed('wait', 'every quota is reached', () => clock.sleep(this.plan.endMs - clock.now()));
      this.note('mount parked, camera warming');
    }
    const { events, frames, focusRuns } = this;
    const taken = this.legs.map((l) => ({
      projectId: l.projectId,
      object: l.target.name,
      timeline: l.timeline,
      taken: l.state.taken,
    }));
    return runSummary(taken, start, this.iso(clock.now()), { events, frames, focusRuns });
  }

  /** The ordered steps around the legs, each not before its moment. */
  private async steps(kind: 'opening' | 'closing', steps: RunPlan['opening'] | RunPlan['closing']) {
    const { clock } = this.o;
    for (const s of steps) {
      const early = (s.notBeforeMs ?? 0) - clock.now();
      if (early > 0)
        await this.timed('wait', kind === 'opening' ? 'waiting for dusk' : 'waiting for dawn', () =>
          clock.sleep(early),
        );
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
    if (field)
      await this.timed('slew', `to the focus field, altitude ${field.altitudeDeg}°, azimuth ${field.azimuthDeg}°`, () =>
        mount.slewToField(field),
      );
    if (wheel.current() !== filter)
      await this.timed('filter', `${wheel.current()} to ${filter}`, () => wheel.select(filter), { filter });
    await this.focus(filter);
  }

  /** What comes next, and does it. @returns whether the night goes on */
  private async nextOfNight(): Promise<boolean> {
    const { clock, guider } = this.o;
    const nowMs = clock.now();
    tellOthers(this.legs, this.at, {
      nowMs,
      wheel: this.frames.length || this.focused ? this.o.wheel.current() : '',
      focused: this.focused !== null,
    });
    const next = whoseTurn(this.legs, this.at, (place) => this.conditions(this.legs[place]!, nowMs));
    if (next.do === 'close') return false;
    if (next.do === 'wait') {
      this.working = next.place !== null;
      if (next.place !== null && this.at.place === null) this.leg = this.legs[next.place]!;
      await this.timed(
        'wait',
        WAITS[next.why],
        () => clock.sleep(next.untilMs - nowMs),
        next.why === 'second-camera' ? { because: next.why } : {},
      );
      this.working = false;
      // the lead has moved the mount meanwhile
      if (next.why === 'cloud') for (const l of this.legs) if (l.moving) applyEvent(l.state, { what: 'shut' });
      return true;
    }
    const leg = this.legs[next.place]!;
    this.working = true;
    const shut = this.shutBecause();
    if (shut) {
      this.leg = leg;
      await this.waitShut(shut, leg.hours.find(([a, b]) => a <= nowMs && nowMs < b)![1]);
    } else {
      // another object: point, guide and, by the leg's rule, focus anew
      if (this.at.place !== null && this.at.place !== next.place) await guider.stop();
      this.at = beginTurn(this.legs, this.at, next.place, nowMs);
      this.leg = leg;
      if (next.step.do === 'frame') await this.frame(next.step);
      else await this.focusAlone(next.step);
    }
    this.working = false;
    return true;
  }

  /** What is known for a leg at this moment; nobody knows when a cloud will come or go. */
  private conditions(leg: WorkedLeg, nowMs: number) {
    // a follower knows what its lead will do
    const moves = leg.moving?.find(([from, until]) => from <= nowMs && nowMs < until);
    return { nowMs, shutUntilMs: moves?.[1] ?? null, shutsAtMs: this.nextMoveMs(leg), focusNow: this.refocus };
  }

  /** Waits for the sky. */
  private async waitShut(because: 'cloud' | 'wind' | 'damp', end: number) {
    if (because === 'cloud') await this.waitOutCloud(end);
    else await this.waitOutAir(because, end);
    for (const l of this.legs) if (l === this.leg || l.moving) applyEvent(l.state, { what: 'shut' });
  }

  /** When the lead moves the mount next; infinite without one. */
  private nextMoveMs(leg = this.leg): number {
    const nowMs = this.o.clock.now();
    return leg.moving?.find(([from]) => from > nowMs)?.[0] ?? Infinity;
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
  }

  private async waitOutCloud(end: number) {
    const { clock, weather, guider } = this.o;
    await guider.stop();
    const longest = this.plan.watches.cloudClosesAfterMin;
    this.cloudSinceMs ??= clock.now();
    const givenUpMs = longest === null ? Infinity : this.cloudSinceMs + longest * MIN_MS;
    await this.timed('cloud', 'cloud: shutter closed, guiding stopped', async () => {
      while (!weather.read().clear && clock.now() < end && clock.now() < givenUpMs)
        await clock.sleep(Math.min(POLL_MS, end - clock.now(), givenUpMs - clock.now()));
    });
    if (weather.read().clear) this.cloudSinceMs = null;
    else if (clock.now() >= givenUpMs) {
      this.closed = true;
      this.note(`under cloud for ${longest} min: the night is closed`);
    }
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
    if (wheel.current() !== name)
      await this.timed('filter', `${wheel.current()} to ${name}`, () => wheel.select(name), { filter: name });
    await this.focus(name);
    applyEvent(state, { what: 'focused', atMs: clock.now(), place });
  }

  private async frame({ place, frame, prepared: p }: Step & { do: 'frame' }) {
    const { timeline, target, guiding, state, rules } = this.leg;
    const { mount, guider, wheel, camera, clock } = this.o;
    const filter = timeline.filters[place]!;
    // a whole frame’s hours are asked of the sky itself, whatever the plan believes
    if (this.outsideLimits(filter.exposureS)) return;
    const pointedMs = clock.now();
    if (p.flip) await this.timed('flip', 'meridian flip, centred again', () => mount.flip());
    if (p.slew) await this.centre(target);
    // said at once: should the sky shut now, nothing is flipped a second time
    if (p.flip || p.slew) applyEvent(state, { what: 'pointed', side: sideAt(rules, pointedMs) });
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
    if (this.outsideLimits(filter.exposureS)) return;
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
    applyEvent(state, { what: 'exposed', place, prepared: p, counts });
    this.lookWhere(measure!);
  }

  /** Whether the object would be too low or hidden, or the Sun too high, before an exposure begun now ends; its spell is over then. */
  private outsideLimits(exposureS: number): boolean {
    const { limits, target } = this.leg;
    const nowMs = this.o.clock.now();
    if (!this.watcher || !limits) return false;
    const why = this.watcher.outside(target, limits, nowMs, nowMs + 1000 * exposureS);
    if (!why) return false;
    this.note(`${target.name}: ${why}; nothing more is exposed in this spell`);
    const spell = this.leg.hours.find(([a, b]) => a <= nowMs && nowMs < b);
    if (spell) this.leg.hours = both(this.leg.hours, outside([[nowMs - 1, spell[1]]]));
    return true;
  }

  /** A bumped telescope, or one that slips, is centred before the next frame. */
  private lookWhere({ offArcmin = 0 }: FrameMeasure) {
    const limit = this.plan.watches.recentreAboveArcmin;
    // a follower rides along: pointing is the lead’s
    if (limit === null || offArcmin <= limit || this.leg.moving) return;
    this.note(`${offArcmin.toFixed(1)}′ from where it should point: centring again`);
    applyEvent(this.leg.state, { what: 'shut' });
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
    applyEvent(this.leg.state, { what: 'focused', atMs: clock.now() });
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
