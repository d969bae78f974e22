import type { RigSetup } from './schemas.ts';

/** Compared by what they hold: keys in any order, what is left out like what is undefined. */
const inOrder = (_key: string, v: unknown): unknown =>
  v !== null && typeof v === 'object' && !Array.isArray(v)
    ? Object.fromEntries(Object.entries(v).sort(([a], [b]) => (a < b ? -1 : 1)))
    : v;
const differs = (a: unknown, b: unknown) => JSON.stringify(a, inOrder) !== JSON.stringify(b, inOrder);

/** One thing that changed, to be put in words where it is read. */
export interface RigChange {
  code: string;
  values: Record<string, string | number>;
}

/** What changed between two setups, as codes with values; `notes` when nothing that has a place of its own did. */
export function changesBetween(before: RigSetup, after: RigSetup): RigChange[] {
  const found: RigChange[] = [];
  const add = (code: string, values: RigChange['values'] = {}) => found.push({ code: `rig.${code}`, values });
  const names = (s: RigSetup) => new Map(s.placed.map((p) => [p.name, p]));
  const [a, b] = [names(before), names(after)];
  for (const n of b.keys()) if (!a.has(n)) add('part-added', { name: n });
  for (const [n, p] of a) {
    const q = b.get(n);
    if (!q) add('part-removed', { name: n });
    else {
      if (Math.abs(p.massKg - q.massKg) > 1e-9) add('part-mass', { name: n, massKg: q.massKg });
      if (Math.hypot(p.xMm - q.xMm, p.yMm - q.yMm, p.zMm - q.zMm) > 0.05)
        add('part-moved', { name: n, xMm: q.xMm, yMm: q.yMm, zMm: q.zMm });
    }
  }
  if (differs(before.counterweights, after.counterweights)) {
    if (after.counterweights.length === 0) add('weights-none');
    for (const w of after.counterweights) add('weight-at', { massKg: w.massKg, distanceMm: w.distanceMm });
  }
  if (Math.abs(before.slide.markMm - after.slide.markMm) > 0.05) add('bar-mark', { markMm: after.slide.markMm });
  if (differs(before.wheel, after.wheel)) add('filters');
  if (differs(before.train, after.train)) add('train');
  if (before.camera.angleDeg !== after.camera.angleDeg) add('camera-turned', { angleDeg: after.camera.angleDeg });
  if (differs({ ...before.camera, angleDeg: 0 }, { ...after.camera, angleDeg: 0 })) add('camera');
  if (before.focalLengthMm !== after.focalLengthMm) add('focal-length', { focalLengthMm: after.focalLengthMm });
  if (before.apertureMm !== after.apertureMm) add('aperture', { apertureMm: after.apertureMm });
  if (differs(before.mount, after.mount)) add('mount');
  if (before.shaft.maxMm !== after.shaft.maxMm || before.shaft.minMm !== after.shaft.minMm) add('shaft-range');
  if (differs(before.offAxis, after.offAxis)) add('off-axis');
  if (differs(before.guideScope, after.guideScope)) add('guide-scope');
  if (differs(before.corrector, after.corrector)) add('corrector');
  if (differs(before.variants ?? [], after.variants ?? [])) add('variants');
  if (differs(before.overheads, after.overheads)) add('overheads');
  if (differs(before.rotator, after.rotator)) add('rotator');
  if (differs(before.supply, after.supply)) add('supply');
  if (found.length === 0) add('notes');
  return found;
}

const windowOf = (s: RigSetup) => {
  const p = s.offAxis?.prism;
  return p ? [p.angleDeg, p.innerEdgeMm, p.depthMm, p.widthMm, s.camera.angleDeg] : null;
};
/** What of a train a hand on its threads changes: which pieces stand in which order, not what is noted of them. */
const joints = (s: RigSetup) => s.train.map((p) => p.name);

/** Was the camera unscrewed between two setups without its angle being said anew? Screwing it on again turns it. */
export const angleUnsure = (before: RigSetup, after: RigSetup): boolean =>
  differs(joints(before), joints(after)) && before.camera.angleDeg === after.camera.angleDeg;

/** Does the guide window look at another place of the sky than before? Then its guide star is another too. */
export const windowMoved = (before: RigSetup, after: RigSetup): boolean =>
  differs(windowOf(before), windowOf(after)) && windowOf(after) !== null;
