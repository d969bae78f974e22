import { hashOf } from './hash.ts';
import type { RigSetup, TrainPart } from './schemas.ts';

/** What can be true of a rig in one state and no longer of the next; each measured thing holds for one of them. */
export const ASPECTS = ['focus', 'flats', 'guideFocus', 'framing', 'guiderCalibration', 'balance'] as const;
export type Aspect = (typeof ASPECTS)[number];
/** Null where the rig has nothing the aspect could be about: no guider, no guider's calibration. */
export type AspectHashes = Record<Aspect, string | null>;

/** The length that counts: the measured one where there is one, unless the documented one was chosen. */
export const countedMm = (p: Pick<TrainPart, 'lengthMm' | 'measuredMm' | 'use'>): number =>
  p.use === 'documented' ? p.lengthMm : (p.measuredMm ?? p.lengthMm);

const sum = (parts: readonly TrainPart[], of: (p: TrainPart) => number) => parts.reduce((s, p) => s + of(p), 0);
/** Length and glass of a stretch of the train, whatever its pieces are called and in whichever order they stand. */
const path = (parts: readonly TrainPart[]) => [sum(parts, countedMm), sum(parts, (p) => p.glassMm ?? 0)];
const behindGuider = (s: RigSetup) => s.train.slice(s.train.findIndex((p) => p.guider) + 1);
const optics = (s: RigSetup) => [s.focalLengthMm, s.apertureMm];
const wheel = (s: RigSetup) => [...s.wheel].sort((a, b) => a.slot - b.slot).map((w) => [w.slot, w.filter]);
const sensor = (s: RigSetup) => [s.camera.pixelUm, s.camera.widthPx, s.camera.heightPx];
const prism = (s: RigSetup) => {
  const p = s.offAxis?.prism;
  return p ? [p.widthMm, p.depthMm, p.angleDeg, p.innerEdgeMm, p.glassMm] : null;
};
const sorted = (rows: readonly (readonly number[])[]) => rows.map((r) => JSON.stringify(r)).sort();

/** Exactly the values that decide each aspect, in canonical form: no names of parts, no order of lists. */
const DECIDING: Record<Aspect, (s: RigSetup) => unknown> = {
  // what stands in the wheel is known by its glass, which is part of the path; what it is called moves no focus
  focus: (s) => [optics(s), s.focuserStepUm, path(s.train)],
  flats: (s) => [
    optics(s),
    s.obstructionMm ?? 0,
    path(s.train),
    wheel(s),
    sensor(s),
    s.camera.angleDeg,
    prism(s),
    s.offAxis ? [s.offAxis.behindPrismMm, path(behindGuider(s))] : null,
  ],
  guideFocus: (s) =>
    s.offAxis
      ? [
          prism(s),
          s.offAxis.behindPrismMm,
          path(behindGuider(s)),
          s.offAxis.holderMm,
          s.offAxis.spacersMm,
          s.offAxis.cameraDepthMm,
          s.offAxis.focuserMinMm,
          s.offAxis.focuserMaxMm,
        ]
      : null,
  framing: (s) => [s.focalLengthMm, sensor(s), s.camera.angleDeg],
  guiderCalibration: (s) =>
    s.offAxis
      ? [
          'off-axis',
          s.focalLengthMm,
          s.offAxis.camera.pixelUm,
          s.offAxis.prism.angleDeg,
          // a guider that turns alone keeps its angle when the camera turns
          s.offAxis.turnsAlone ? 0 : s.camera.angleDeg,
        ]
      : s.guideScope
        ? ['guide-scope', s.guideScope.focalLengthMm, s.guideScope.pixelUm]
        : null,
  balance: (s) => [
    sorted(s.placed.map((p) => [p.massKg, p.xMm, p.yMm, p.zMm])),
    sorted(s.counterweights.map((w) => [w.massKg, w.distanceMm])),
    [s.shaft.massKg, s.shaft.centreMm],
    s.slide.markMm,
    s.biasNm,
  ],
};

/** Raised when what decides an aspect changes; names of other versions never agree, until a migration renames them. */
const VERSION: Record<Aspect, number> = {
  focus: 2,
  flats: 1,
  guideFocus: 1,
  framing: 1,
  guiderCalibration: 1,
  balance: 1,
};

/** The names of a rig's state, aspect by aspect, as seen through one of its systems: `version.hash`. */
export function aspectsOf(setup: RigSetup): AspectHashes {
  const named = ASPECTS.map((a) => {
    const deciding = DECIDING[a](setup);
    return [a, deciding === null ? null : `${VERSION[a]}.${hashOf([a, deciding])}`] as const;
  });
  return Object.fromEntries(named) as AspectHashes;
}

/** What a measured thing keeps of the state it was made in: the aspects it may depend on. */
export type MadeUnder = Partial<AspectHashes> | null;

/**
 * Does a thing measured in one state of a rig hold in another? The one question: plans, offsets, flats, framings, focus
 * runs and guide logs all ask it.
 * @param made null where nothing was kept of the state: then it is not claimed to hold
 */
export const holds = (made: MadeUnder, now: AspectHashes, aspect: Aspect): boolean =>
  made?.[aspect] !== null && made?.[aspect] !== undefined && made[aspect] === now[aspect];

/** The aspects a change would spoil: those whose name differs and that there still is something to measure for. */
export const spoiledBy = (before: AspectHashes, after: AspectHashes): Aspect[] =>
  ASPECTS.filter((a) => after[a] !== null && before[a] !== null && !holds(before, after, a));

/** The state of the train as a whole, for speech: everything but the balance. @returns 16 hex digits */
export const trainFingerprint = (setup: RigSetup): string => {
  const { balance: _b, ...train } = aspectsOf(setup);
  return hashOf(train);
};
