import { judgeFrame } from '../observatory/index.ts';
import { phrase, words } from '../phrases/index.ts';
import {
  asFound,
  beginTurn,
  fitsBefore,
  movesMount,
  PREPARE,
  sideAt,
  whoseTurn,
  type Next,
  type Prepare,
} from '../sequence/index.ts';
import { untilLimitMs } from './motion.ts';
import { shutBecause, waitShut } from './shut.ts';
import type { Task, WorkedLeg } from './state.ts';
import { ask, iso, timed, watchOf, type Work } from './work.ts';

type Of<T extends Task['t']> = Task & { t: T };
/** A wide frame calls for focus only when the last focus run is older than this. */
const REFOCUS_AFTER_MS = 5 * 60_000;

/** What is known at this moment; nobody knows when a cloud will come or go, but a follower what its lead means to do. */
const conditions = (w: Work) => ({
  nowMs: w.s.nowMs,
  ...(w.lead ? w.lead.ahead() : { shutUntilMs: null, shutsAtMs: Infinity }),
  focusNow: w.s.refocus,
  temperatureC: w.s.readings.temperatureC,
});
/** The legs, of which a follower has the hours of that one its lead is at. */
const whoseHours = ({ s: { legs }, lead }: Work): readonly WorkedLeg[] =>
  lead ? legs.map((l) => (l.planIndex === lead.planIndex ? l : { ...l, hours: [] })) : legs;

/** What comes next; the night goes on until nothing does. */
export function night(w: Work): void {
  w.s.working = false;
  if (w.s.closed) return w.pop();
  // whoever paused it says when it goes on
  if (w.s.paused) return w.first({ t: 'until', ms: Infinity });
  if (w.s.anew) {
    w.s.anew = false;
    w.happenedTo(() => true, { what: 'shut' });
    return w.first(ask({ device: 'guider', do: 'stop' }));
  }
  const { nowMs } = w.s;
  w.s.legs = asFound(w.s.legs, w.s.at, {
    nowMs,
    wheel: w.s.frames || w.s.focused ? w.s.readings.wheel : '',
    focused: w.s.focused !== null,
  });
  const next = whoseTurn(whoseHours(w), w.s.at, () => conditions(w));
  // a follower is told when its lead is at another
  if (next.do === 'close') return w.lead ? w.first({ t: 'until', ms: Infinity, lead: true }) : w.pop();
  if (next.do === 'wait') waitFor(w, next);
  else work(w, next, nowMs);
}
function waitFor(w: Work, next: Next & { do: 'wait' }): void {
  w.s.working = next.legIndex !== null;
  if (next.legIndex !== null && w.s.at.legIndex === null) w.s.legIndex = next.legIndex;
  if (next.legIndex !== null && next.companion)
    w.happened({ what: 'second-camera', companion: next.companion }, next.legIndex);
  const because = next.why === 'second-camera' ? { because: next.why } : undefined;
  const until: Task = { t: 'until', ms: next.untilMs, ...(w.lead ? { lead: true } : {}) };
  w.first(timed('wait', phrase(`run.wait-${next.why}`), [until], because), {
    t: 'after-wait',
    cloud: next.why === 'cloud',
  });
}
export function afterWait(w: Work, { cloud }: Of<'after-wait'>): void {
  w.pop();
  // the lead has moved the mount meanwhile
  if (cloud) w.happenedTo((l) => l.follows === true, { what: 'shut' });
}
function work(w: Work, next: Next & { do: 'frame' }, nowMs: number): void {
  w.s.working = true;
  const shut = shutBecause(w.s);
  if (shut) {
    w.s.legIndex = next.legIndex;
    return waitShut(w, shut, w.leg.hours.find(([a, b]) => a <= nowMs && nowMs < b)![1]);
  }
  const { legIndex, left, step } = next;
  w.first({ t: 'turn', next: { legIndex, step, ...(left ? { left } : {}) }, nowMs });
  // another object: point, guide and, by the leg’s rule, focus anew
  if (w.s.at.legIndex !== null && w.s.at.legIndex !== legIndex) w.first(ask({ device: 'guider', do: 'stop' }));
}
export function turn(w: Work, { next, nowMs }: Of<'turn'>): void {
  w.pop();
  const begun = beginTurn(w.s.legs, w.s.at, next, nowMs);
  w.s.legs = begun.legs;
  w.s.at = begun.at;
  w.s.legIndex = next.legIndex;
  const { step } = next;
  if (step.do === 'frame') return takeFrame(w, step);
  // a camera that follows focuses in one of the lead’s pauses, and exposes in the next
  const { name } = w.leg.timeline.filters[step.filterIndex]!;
  w.first({ t: 'wheel', filter: name, first: false }, { t: 'focus', filter: name, filterIndex: step.filterIndex });
}

/** One frame with all that comes before it; given up where the sky shuts, the lead moves or the object leaves its hours. */
function takeFrame(w: Work, step: Of<'expose'>['step']): void {
  if (step.companion) w.happened({ what: 'second-camera', companion: step.companion });
  const { exposureS } = w.leg.timeline.filters[step.filterIndex]!;
  // a whole frame’s hours are asked of the sky itself, whatever the plan believes
  if (leftItsHours(w, exposureS)) return;
  w.first({ t: 'prepare', step, k: 0, pointedMs: w.s.nowMs }, { t: 'expose', step });
}

/** What comes before a frame, in the engine’s order. */
export function prepare(w: Work, { step, k, pointedMs }: Of<'prepare'>): void {
  const kind = PREPARE[k];
  if (!kind) return w.pop();
  w.replace({ t: 'prepare', step, k: k + 1, pointedMs });
  w.first(...preparing(w, kind, step, pointedMs));
}
function preparing(w: Work, kind: Prepare, { prepared, filterIndex }: Of<'expose'>['step'], pointedMs: number): Task[] {
  const { overheads, filters } = w.leg.timeline;
  const { name: filter } = filters[filterIndex]!;
  const { raDeg, decDeg } = w.leg.target;
  // looking east of the meridian the tube is west of its pier
  const to = sideAt(w.leg.rules, pointedMs) === 'before' ? ('west' as const) : ('east' as const);
  switch (kind) {
    case 'flip':
      // the mount is the lead’s
      if (w.lead) return prepared.flip ? [{ t: 'pointed', pointedMs }] : [];
      // said at once: should the sky shut now, nothing is flipped a second time
      return prepared.flip
        ? [
            timed('flip', phrase('run.flip'), [
              ask({ device: 'mount', do: 'flip', raDeg, decDeg, to }, 1000 * overheads.flipS),
            ]),
            ...(w.leg.turned?.afterFlip === 'turn' ? [{ t: 'rotate' as const }] : []),
            { t: 'pointed', pointedMs },
          ]
        : [];
    case 'slew':
      return prepared.slew
        ? [...(w.lead ? [] : [{ t: 'centre' as const, again: false }, ...turns(w)]), { t: 'pointed', pointedMs }]
        : [];
    // wherever another leg left the wheel, it is turned before the first frame too
    case 'filter':
      return [{ t: 'wheel', filter, first: w.leg.state.wheel < 0 }];
    case 'focus':
      return prepared.focus ? [{ t: 'focus', filter, filterIndex: null }] : [{ t: 'offset', filter }];
    case 'guide':
      return prepared.guide && w.leg.guiding
        ? [
            timed('guide', phrase('run.guiding'), [
              // a plate that is tilted already has that much less to give
              ...(w.s.plan.tipTilt ? [ask({ device: 'tip-tilt', do: 'centre-plate' })] : []),
              ask({ device: 'guider', do: 'start' }, 1000 * overheads.guideStartS),
            ]),
          ]
        : [];
    case 'dither':
      return prepared.dither
        ? [timed('dither', phrase('run.dithered'), [ask({ device: 'guider', do: 'dither' }, 1000 * overheads.ditherS)])]
        : [];
  }
}
export function pointed(w: Work, { pointedMs }: Of<'pointed'>): void {
  w.pop();
  w.happened({ what: 'pointed', side: sideAt(w.leg.rules, pointedMs) });
}
/** Points at the leg’s target; what is not near enough is tried once more, then taken as it is, and said. */
export function centre(w: Work, { again }: Of<'centre'>): void {
  const { target, centreWithinArcmin: withinArcmin, timeline } = w.leg;
  const { name: object, raDeg, decDeg } = target;
  w.replace({ t: 'centred', again });
  w.first(
    timed('slew', phrase(again ? 'run.centring-again' : 'run.centred', { object }), [
      ask({ device: 'mount', do: 'centre', raDeg, decDeg, withinArcmin }, 1000 * timeline.overheads.slewCentreS),
    ]),
  );
}
export function centred(w: Work, { again }: Of<'centred'>): void {
  w.pop();
  const offArcmin = typeof w.s.answer === 'number' ? w.s.answer : 0;
  const within = w.leg.centreWithinArcmin;
  if (offArcmin <= within) return;
  w.note('run.off-middle', { object: w.leg.target.name, offArcmin, wantedArcmin: within });
  if (!again) w.first({ t: 'centre', again: true });
}

const turns = (w: Work): Task[] => (w.leg.turned ? [{ t: 'rotate' }] : []);
/** A picture that is turned by less stands as it should, and one that is turned by more slipped [deg]; common practice, no source. */
const TURNED_WITHIN_DEG = 1;
const SLIPPED_DEG = 2;
/** Turns the picture to the leg’s framing; one that cannot be turned there is taken as it is, and that is said. */
export function rotate(w: Work): void {
  const { turned, timeline } = w.leg;
  if (!turned) return w.pop();
  const { paDeg, eitherWay } = turned;
  w.replace({ t: 'rotated' });
  w.first(
    timed('slew', phrase('run.turned-to', { angleDeg: paDeg }), [
      ask(
        { device: 'rotator', do: 'rotate', paDeg, eitherWay, withinDeg: TURNED_WITHIN_DEG },
        1000 * timeline.overheads.slewCentreS,
      ),
    ]),
  );
}
export function rotated(w: Work): void {
  w.pop();
  const offDeg = typeof w.s.answer === 'number' ? w.s.answer : 0;
  if (offDeg > TURNED_WITHIN_DEG) w.note('run.off-angle', { offDeg, angleDeg: w.leg.turned!.paDeg });
}

export function expose(w: Work, { step }: Of<'expose'>): void {
  w.pop();
  const { filterIndex, prepared, frame } = step;
  const { name: filter, exposureS } = w.leg.timeline.filters[filterIndex]!;
  const { nowMs } = w.s;
  // somebody turned the wheel meanwhile: it is prepared anew
  if (w.s.readings.wheel !== filter) return;
  // preparing took its time: the sky has shut, or the lead would move during the frame
  if (shutBecause(w.s) || !fitsBefore(nowMs, 1000 * exposureS, w.nextMoveMs())) return;
  if (leftItsHours(w, exposureS) || reachesLimit(w, exposureS)) return;
  const named = { filter, frame };
  if (movesMount(prepared)) w.happened({ what: 'stands', atMs: nowMs });
  w.first(
    timed(
      'expose',
      phrase('run.exposed', { filter, exposureS }),
      [ask({ device: 'camera', do: 'expose', seconds: exposureS }, 1000 * exposureS), { t: 'keep-measure' }],
      named,
    ),
    timed(
      'download',
      phrase('run.read-out'),
      [
        ask({ device: 'camera', do: 'read-out' }, 1000 * w.leg.timeline.overheads.downloadS),
        // some tell what they see only once the file is there
        { t: 'keep-measure' },
      ],
      named,
    ),
    { t: 'judge', step, startMs: nowMs },
  );
}
export function keepMeasure(w: Work): void {
  w.pop();
  const { answer } = w.s;
  if (typeof answer === 'object' && answer !== null && 'eccentricity' in answer) w.s.measure = answer;
}
/** Whether the frame counts; why not, and what follows from it, is written down. */
export function judge(
  w: Work,
  { step, startMs }: Of<'judge'>,
  failed: (w: Work, device: 'camera', what: 'read-out', reason: string) => void,
): void {
  w.pop();
  if (!w.s.measure) return failed(w, 'camera', 'read-out', 'nothing could be measured on its frame');
  const { filterIndex, prepared, frame } = step;
  const { name: filter, exposureS } = w.leg.timeline.filters[filterIndex]!;
  const { offArcmin = 0, offDeg = 0, ...kept } = w.s.measure;
  const { wheel } = w.s.readings;
  const { refusal, standards } =
    wheel === filter
      ? judgeFrame(w.leg.standards, filter, kept, w.s.smallestPx)
      : // somebody turned it meanwhile: it is a frame through that one
        {
          refusal: { code: 'filter' as const, phrase: phrase('run.refused-filter', { stands: wheel, filter }) },
          standards: w.leg.standards,
        };
  const { legIndex } = w.s;
  w.s.legs = w.s.legs.map((l, i) => (i === legIndex ? { ...l, standards } : l));
  if (refusal?.code === 'wide' && startMs - w.leg.state.lastFocusEnd > REFOCUS_AFTER_MS) {
    w.s.refocus = true;
    w.note('run.wide', { filter });
  }
  w.says.push({
    said: 'frame',
    leg: w.leg.planIndex,
    filter: wheel,
    frame,
    start: iso(startMs),
    exposureS,
    ...kept,
    focusPosition: w.s.readings.position,
    temperatureC: w.s.readings.temperatureC,
    ...(w.s.readings.rotatorDeg === undefined ? {} : { rotatorDeg: w.s.readings.rotatorDeg }),
    accepted: refusal === null,
    reason: refusal ? words(refusal.phrase) : '',
    ...(refusal ? { reasonPhrase: refusal.phrase } : {}),
    refusal: refusal?.code ?? null,
  });
  w.s.frames++;
  w.s.measure = null;
  w.happened({ what: 'exposed', filterIndex, prepared, counts: refusal === null });
  lookWhere(w, offArcmin, offDeg);
  lookAtGuiding(w, refusal?.code ?? null);
}
/** Trailed frames in a row after which the star is sought anew; common practice, no source. */
const TRAILED = 2;
/** A guider that holds something else than a star, or nothing, shows in the frames. */
function lookAtGuiding(w: Work, refusal: string | null): void {
  if (!w.leg.guiding) return;
  w.s.trailed = refusal === 'long' ? w.s.trailed + 1 : 0;
  if (w.s.trailed < TRAILED) return;
  w.s.trailed = 0;
  w.note('run.guide-anew', { frames: TRAILED });
  w.happened({ what: 'shut' });
  w.first(ask({ device: 'guider', do: 'stop' }));
}
/** A bumped telescope, or one that slips, is centred before the next frame; so is a picture turned that no longer stands as it should. */
function lookWhere(w: Work, offArcmin: number, offDeg: number): void {
  const limit = w.s.plan.watches.recentreAboveArcmin;
  // a follower rides along: pointing is the lead’s
  if (w.lead) return;
  const knocked = limit !== null && offArcmin > limit;
  const slipped = w.leg.turned !== undefined && offDeg > SLIPPED_DEG;
  if (knocked) w.note('run.knocked', { offArcmin });
  if (slipped) w.note('run.turned-off', { offDeg });
  if (knocked || slipped) w.happened({ what: 'shut' });
}
/** Whether the mount would stop by itself before an exposure begun now ends: it is pointed anew, from the other side of the pier. */
function reachesLimit(w: Work, exposureS: number): boolean {
  if (w.lead || untilLimitMs(w.s) > 1000 * exposureS) return false;
  w.note('run.at-limit', { pastDeg: w.s.plan.pastMeridianDeg! });
  w.happenedTo(() => true, { what: 'shut' });
  w.first(ask({ device: 'guider', do: 'stop' }));
  return true;
}
/** Whether the object would be too low or hidden, or the Sun too high, before an exposure begun now ends; its spell is over then. */
function leftItsHours(w: Work, exposureS: number): boolean {
  const { limits, target } = w.leg;
  const { nowMs } = w.s;
  const watcher = limits ? watchOf(w.s) : null;
  if (!watcher || !limits) return false;
  const why = watcher.outside(target, limits, nowMs, nowMs + 1000 * exposureS);
  if (!why) return false;
  const { code, ...values } = why;
  w.note(`run.outside-${code}`, { object: target.name, ...values });
  w.endSpell();
  return true;
}
