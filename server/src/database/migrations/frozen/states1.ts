import type { ImagingSystem, RigBuild, RigSetup, TrainPart } from '@keen/core/rig';

/**
 * How the states of a rig were named when records of them were first kept. What migrations know of it stands here for good:
 * the functions in use may change, what they once wrote does not.
 */
export const ASPECTS_1 = ['focus', 'flats', 'guideFocus', 'framing', 'guiderCalibration', 'balance'] as const;
type Aspect = (typeof ASPECTS_1)[number];
export type AspectHashes = Record<Aspect, string | null>;

function hash32(text: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) {
    h ^= text.charCodeAt(i);
    h = Math.imul(h, 0x01000193);
  }
  return h >>> 0;
}
const exact = (_key: string, v: unknown): unknown => (typeof v === 'number' ? Math.round(v * 1e6) / 1e6 : v);
export function hashOf(value: unknown): string {
  const text = JSON.stringify(value, exact);
  const hex = (n: number) => n.toString(16).padStart(8, '0');
  return hex(hash32(text)) + hex(hash32(`second:${text}`));
}

const countedMm = (p: Pick<TrainPart, 'lengthMm' | 'measuredMm' | 'use'>): number =>
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
  focus: (s) => [optics(s), s.focuserStepUm, path(s.train), wheel(s)],
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

export function aspectsOf(setup: RigSetup): AspectHashes {
  const named = ASPECTS_1.map((a) => {
    const deciding = DECIDING[a](setup);
    return [a, deciding === null ? null : hashOf([a, deciding])] as const;
  });
  return Object.fromEntries(named) as AspectHashes;
}
export const trainFingerprint = (setup: RigSetup): string => {
  const { balance: _b, ...train } = aspectsOf(setup);
  return hashOf(train);
};

export function viewOf(build: RigBuild, key?: string): RigSetup {
  const { systems, ...carried } = build;
  const { key: _k, name: _n, ...imaging } = systems.find((s) => s.key === key) ?? systems[0]!;
  return { ...carried, ...imaging };
}
const CARRIED = [
  'mount',
  'placed',
  'counterweights',
  'shaft',
  'slide',
  'saddle',
  'counterweightStock',
  'trimPoints',
  'trimStockKg',
  'relocations',
  'biasNm',
  'practice',
  'note',
] as const satisfies readonly (keyof RigBuild)[];

/** A rig of one system, out of a rig from before there were any. */
export function buildOf(view: RigSetup, name: string, key = 'main'): RigBuild {
  const [carried, imaging]: Record<string, unknown>[] = [{}, {}];
  for (const [k, v] of Object.entries(view)) ((CARRIED as readonly string[]).includes(k) ? carried : imaging)![k] = v;
  return {
    ...(carried as unknown as Omit<RigBuild, 'systems'>),
    systems: [{ key, name, ...(imaging as unknown as Omit<ImagingSystem, 'key' | 'name'>) }],
  };
}
