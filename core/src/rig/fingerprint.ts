import { hash32 } from '../statistics/index.ts';
import type { RigSetup } from './schemas.ts';

/** Words that say a train state aloud: a colour or stuff, and a creature. 48 × 48 pairs. */
const FIRST =
  'amber ash azure birch brass bronze cedar chalk clay cobalt copper coral crimson dune ebony elm fern flint frost garnet ginger granite hazel heather indigo ivory jade juniper larch linen maple marble mint moss ochre olive onyx opal pearl pine quartz rowan russet sable slate teal umber willow'.split(
    ' ',
  );
const SECOND =
  'badger bittern curlew dipper dove eider falcon finch fox gannet goose grebe gull hare harrier hawk heron ibis jackdaw kestrel kite lapwing lark linnet lynx magpie marten martin merlin newt nightjar otter owl petrel pipit plover puffin quail raven robin rook seal shrike siskin starling stork swift wren'.split(
    ' ',
  );

const canonical = (setup: RigSetup) =>
  JSON.stringify([
    setup.focalLengthMm,
    setup.apertureMm,
    setup.focuserStepUm,
    [setup.camera.name, setup.camera.pixelUm, setup.camera.widthPx, setup.camera.heightPx, setup.camera.angleDeg],
    setup.train.map((p) => [
      p.name,
      p.use === 'documented' ? p.lengthMm : (p.measuredMm ?? p.lengthMm),
      p.glassMm ?? 0,
    ]),
    setup.offAxis ? [setup.offAxis.prism, setup.offAxis.behindPrismMm] : null,
    [...setup.wheel].sort((a, b) => a.slot - b.slot).map((s) => [s.slot, s.filter]),
  ]);

/**
 * Fingerprint of what decides focus, flats and framing: optics, order and lengths of the train, camera and its turn,
 * filters by slot. Balance weights and overheads do not enter.
 * @returns 16 hex digits
 */
export function trainFingerprint(setup: RigSetup): string {
  const text = canonical(setup);
  const hex = (n: number) => n.toString(16).padStart(8, '0');
  return hex(hash32(text)) + hex(hash32(`second:${text}`));
}

/** The word pair of a fingerprint, such as "amber-heron". */
export function wordPair(fingerprint: string): string {
  const a = Number.parseInt(fingerprint.slice(0, 8), 16);
  const b = Number.parseInt(fingerprint.slice(8, 16), 16);
  return `${FIRST[a % FIRST.length]}-${SECOND[b % SECOND.length]}`;
}

/** Filters by slot that hold one (a blank slot has no name). */
export const filtersOf = (setup: RigSetup): string[] =>
  [...setup.wheel]
    .sort((a, b) => a.slot - b.slot)
    .map((s) => s.filter)
    .filter((f) => f !== '' && f.toLowerCase() !== 'blank');

/** What a change of the rig makes worthless, in the words of what must be done again. */
export const INVALID = {
  offsets: 'focus offsets: take focus runs through every filter again',
  flats: 'flats: take new ones for every filter',
  guideFocus: 'guide focus: set the guide focuser anew',
  framing: 'framing: solve and turn to the pinned angle again',
  marks: 'balance marks: scribe bar and shaft anew',
} as const;
export type Invalid = keyof typeof INVALID;

const differs = (a: unknown, b: unknown) => JSON.stringify(a) !== JSON.stringify(b);

/** Which of the measured things no longer hold after a change. */
export function invalidatedBy(before: RigSetup, after: RigSetup): Invalid[] {
  const optics = (s: RigSetup) => [s.focalLengthMm, s.apertureMm];
  const lengths = (s: RigSetup) => s.train.map((p) => [p.name, p.use, p.lengthMm, p.measuredMm, p.glassMm]);
  const behindGuider = (s: RigSetup) => lengths(s).slice(s.train.findIndex((p) => p.guider) + 1);
  const found: Invalid[] = [];
  const wheel = differs(before.wheel, after.wheel);
  const train = differs(lengths(before), lengths(after));
  const camera = differs(before.camera, after.camera);
  if (differs(optics(before), optics(after)) || wheel || train || before.focuserStepUm !== after.focuserStepUm)
    found.push('offsets');
  if (
    differs(optics(before), optics(after)) ||
    wheel ||
    train ||
    camera ||
    differs(before.offAxis?.prism, after.offAxis?.prism)
  )
    found.push('flats');
  if (after.offAxis && (differs(before.offAxis, after.offAxis) || differs(behindGuider(before), behindGuider(after))))
    found.push('guideFocus');
  if (camera || differs(optics(before), optics(after))) found.push('framing');
  if (differs(before.placed, after.placed) || differs(before.counterweights, after.counterweights)) found.push('marks');
  return found;
}

/** What changed between two setups, in words, and whether the train state did. */
export function changesBetween(before: RigSetup, after: RigSetup): { text: string[]; trainChanged: boolean } {
  const text: string[] = [];
  const names = (s: RigSetup) => new Map(s.placed.map((p) => [p.name, p]));
  const [a, b] = [names(before), names(after)];
  for (const n of b.keys()) if (!a.has(n)) text.push(`added ${n}`);
  for (const [n, p] of a) {
    const q = b.get(n);
    if (!q) text.push(`took off ${n}`);
    else {
      if (Math.abs(p.massKg - q.massKg) > 1e-9) text.push(`${n} now ${q.massKg.toFixed(2)} kg`);
      if (Math.hypot(p.xMm - q.xMm, p.yMm - q.yMm, p.zMm - q.zMm) > 0.05)
        text.push(`moved ${n} to ${q.xMm.toFixed(0)}, ${q.yMm.toFixed(0)}, ${q.zMm.toFixed(0)} mm`);
    }
  }
  if (JSON.stringify(before.counterweights) !== JSON.stringify(after.counterweights))
    text.push(
      `weights ${after.counterweights.map((w) => `${w.massKg} kg at ${w.distanceMm.toFixed(0)} mm`).join(', ')}`,
    );
  if (Math.abs(before.slide.markMm - after.slide.markMm) > 0.05)
    text.push(`bar at mark ${after.slide.markMm.toFixed(0)} mm`);
  if (JSON.stringify(before.wheel) !== JSON.stringify(after.wheel)) text.push('filters in the wheel changed');
  if (JSON.stringify(before.train) !== JSON.stringify(after.train)) text.push('imaging train changed');
  if (before.camera.angleDeg !== after.camera.angleDeg) text.push(`camera turned to ${after.camera.angleDeg}°`);
  if (before.focalLengthMm !== after.focalLengthMm) text.push(`focal length ${after.focalLengthMm} mm`);
  if (before.shaft.maxMm !== after.shaft.maxMm || before.shaft.minMm !== after.shaft.minMm)
    text.push('shaft range changed');
  if (differs(before.offAxis, after.offAxis)) text.push('off-axis guider changed');
  if (differs(before.corrector, after.corrector)) text.push('corrector’s distance changed');
  if (differs(before.variants ?? [], after.variants ?? [])) text.push('configurations changed');
  if (JSON.stringify(before.overheads) !== JSON.stringify(after.overheads)) text.push('overheads changed');
  if (text.length === 0) text.push('notes or stock changed');
  return { text, trainChanged: trainFingerprint(before) !== trainFingerprint(after) };
}
