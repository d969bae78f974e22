import { phrase, words } from '../phrases/index.ts';
import {
  both,
  fitsBefore,
  movesMount,
  outside,
  PREPARE,
  sideAt,
  type Preparation,
  type Prepare,
  type Step,
} from '../sequence/index.ts';
import type { FrameMeasure } from './devices.ts';
import { applyOffset, focus } from './focusRoutine.ts';
import type { RunContext, WorkedLeg } from './runContext.ts';
import { shutBecause } from './weatherWait.ts';

/** A wide frame calls for focus only when the last focus run is older than this. */
const REFOCUS_AFTER_MS = 5 * 60_000;

/** One frame with all that comes before it; given up where the sky shuts, the lead moves or the object leaves its hours. */
export async function takeFrame(
  c: RunContext,
  { filterIndex, frame, prepared, companion }: Step & { do: 'frame' },
): Promise<void> {
  const { camera, clock } = c.o;
  const { name: filter, exposureS } = c.leg.timeline.filters[filterIndex]!;
  if (companion) c.happened({ what: 'second-camera', companion });
  // a whole frame’s hours are asked of the sky itself, whatever the plan believes
  if (leftItsHours(c, exposureS)) return;
  await prepare(c, prepared, filter);
  // preparing took its time: the sky has shut, or the lead would move during the frame
  if (shutBecause(c) || !fitsBefore(clock.now(), 1000 * exposureS, c.nextMoveMs())) return;
  if (leftItsHours(c, exposureS)) return;
  const named = { filter, frame };
  const start = clock.now();
  if (movesMount(prepared)) c.happened({ what: 'stands', atMs: start });
  let measure: FrameMeasure | null = null;
  const expose = async () => {
    measure = await camera.expose(exposureS);
  };
  await c.timed('expose', phrase('run.exposed', { filter, exposureS }), expose, named);
  await c.timed('download', phrase('run.read-out'), () => camera.download(), named);
  const counts = judgeFrame(c, named, exposureS, measure!, start);
  c.happened({ what: 'exposed', filterIndex, prepared, counts });
  lookWhere(c, measure!);
}

/** What comes before a frame, in the engine’s order. */
async function prepare(c: RunContext, prepared: Preparation, filter: string): Promise<void> {
  const { mount, guider, clock } = c.o;
  const pointedMs = clock.now();
  const pointed = () => c.happened({ what: 'pointed', side: sideAt(c.leg.rules, pointedMs) });
  const acts: Record<Prepare, () => Promise<void>> = {
    flip: async () => {
      if (!prepared.flip) return;
      await c.timed('flip', phrase('run.flip'), () => mount.flip());
      // said at once: should the sky shut now, nothing is flipped a second time
      pointed();
    },
    slew: async () => {
      if (!prepared.slew) return;
      await centre(c, c.leg.target);
      pointed();
    },
    // wherever another leg left the wheel, it is turned before the first frame too
    filter: async () => {
      const begun = c.leg.state.wheel >= 0;
      if ((await c.turnWheel(filter)) && !begun) c.note('run.wheel-set', { filter });
    },
    focus: () => (prepared.focus ? focus(c, filter) : applyOffset(c, filter)),
    guide: async () => {
      if (prepared.guide && c.leg.guiding) await c.timed('guide', phrase('run.guiding'), () => guider.start());
    },
    dither: async () => {
      if (prepared.dither) await c.timed('dither', phrase('run.dithered'), () => guider.dither());
    },
  };
  for (const kind of PREPARE) await acts[kind]();
}

/** Points at the leg’s target; what is not near enough is tried once more, then taken as it is, and said. */
async function centre(c: RunContext, target: WorkedLeg['target']): Promise<void> {
  const within = c.leg.centreWithinArcmin;
  const object = target.name;
  for (const again of [false, true]) {
    let off: number | void = undefined;
    const slew = async () => {
      off = await c.o.mount.slewAndCentre(target, within);
    };
    await c.timed('slew', phrase(again ? 'run.centring-again' : 'run.centred', { object }), slew);
    const offArcmin = (off as number | undefined) ?? 0;
    if (offArcmin <= within) return;
    c.note('run.off-middle', { object, offArcmin, wantedArcmin: within });
  }
}

/** Whether the object would be too low or hidden, or the Sun too high, before an exposure begun now ends; its spell is over then. */
function leftItsHours(c: RunContext, exposureS: number): boolean {
  const { limits, target, hours } = c.leg;
  const nowMs = c.o.clock.now();
  if (!c.watcher || !limits) return false;
  const why = c.watcher.outside(target, limits, nowMs, nowMs + 1000 * exposureS);
  if (!why) return false;
  const { code, ...values } = why;
  c.note(`run.outside-${code}`, { object: target.name, ...values });
  const spell = hours.find(([a, b]) => a <= nowMs && nowMs < b);
  if (spell) c.changeLeg({ hours: both(hours, outside([[nowMs - 1, spell[1]]])) });
  return true;
}

/** A bumped telescope, or one that slips, is centred before the next frame. */
function lookWhere(c: RunContext, { offArcmin = 0 }: FrameMeasure): void {
  const limit = c.plan.watches.recentreAboveArcmin;
  // a follower rides along: pointing is the lead’s
  if (limit === null || offArcmin <= limit || c.leg.moving) return;
  c.note('run.knocked', { offArcmin });
  c.happened({ what: 'shut' });
}

/** Whether the frame counts; why not, and what follows from it, is written down. */
function judgeFrame(
  c: RunContext,
  named: { filter: string; frame: number },
  exposureS: number,
  m: FrameMeasure,
  start: number,
): boolean {
  const { focuser } = c.o;
  const refusal = c.leg.judges.judge(named.filter, m, c.smallestPx);
  if (refusal?.code === 'wide' && start - c.leg.state.lastFocusEnd > REFOCUS_AFTER_MS) {
    c.refocus = true;
    c.note('run.wide', { filter: named.filter });
  }
  const { offArcmin: _where, ...kept } = m;
  c.frames.push({
    leg: c.leg.planIndex,
    ...named,
    start: c.iso(start),
    exposureS,
    ...kept,
    focusPosition: focuser.position(),
    temperatureC: focuser.temperatureC(),
    accepted: refusal === null,
    reason: refusal ? words(refusal.phrase) : '',
    ...(refusal ? { reasonPhrase: refusal.phrase } : {}),
    refusal: refusal?.code ?? null,
  });
  return refusal === null;
}
