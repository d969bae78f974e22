import { describe, expect, test } from '@jest/globals';
import { RIGS } from '@keen/demo';
import { ASPECTS, aspectsOf, spoiledBy, trainFingerprint, type Aspect } from './aspects.ts';
import { changesBetween } from './changes.ts';
import { filtersOf, isFixedFilter } from './filters.ts';
import { RigBuild, type RigSetup } from './schemas.ts';
import { buildOf, freeKey, systemOf, viewOf, withView } from './systems.ts';
import { wordPair } from './wordPair.ts';

const setup = RIGS.find((r) => r.key === 'astrograph')!.setup;
const scoped = RIGS.find((r) => r.key === 'refractor')!.setup;
type Change = (s: RigSetup) => unknown;
const after = (change: Change, from = setup) => {
  const next = structuredClone(from);
  change(next);
  return next;
};

test('the demo rigs are what the schema asks for, and a state is the same words each time', () => {
  for (const r of RIGS) expect(RigBuild.safeParse(r.build).error?.issues ?? []).toEqual([]);
  expect(trainFingerprint(setup)).toBe(trainFingerprint(structuredClone(setup)));
  expect(wordPair(trainFingerprint(setup))).toMatch(/^[a-z]+-[a-z]+$/);
});

describe('what a change spoils, aspect by aspect', () => {
  const nothing: Aspect[] = [];
  const changes: [string, Change, Aspect[]][] = [
    ['a weight moved', (s) => (s.counterweights[0]!.distanceMm += 5), ['balance']],
    ['the tube slid', (s) => (s.slide.markMm += 10), ['balance']],
    ['a dew strap put on', (s) => s.placed.push({ ...s.placed[0]!, name: 'strap', massKg: 0.2 }), ['balance']],
    ['a part weighed anew', (s) => (s.placed[2]!.massKg += 0.1), ['balance']],
    ['the camera turned', (s) => (s.camera.angleDeg += 10), ['flats', 'framing']],
    ['another camera', (s) => (s.camera.pixelUm = 2.4), ['flats', 'framing']],
    ['filters exchanged', (s) => (s.wheel[0]!.filter = 'R2'), ['flats']],
    ['a spacer put in front', (s) => s.train.splice(1, 0, { name: 'ring', lengthMm: 1 }), ['focus', 'flats']],
    [
      'a spacer put behind the guider',
      (s) => s.train.splice(4, 0, { name: 'ring', lengthMm: 1 }),
      ['focus', 'flats', 'guideFocus'],
    ],
    [
      'a spacer taken from before to behind the guider',
      (s) => s.train.splice(4, 0, ...s.train.splice(2, 1)),
      ['flats', 'guideFocus'],
    ],
    ['the prism moved outward', (s) => (s.offAxis!.prism.innerEdgeMm += 1), ['flats', 'guideFocus']],
    ['the guide camera’s spacer', (s) => (s.offAxis!.spacersMm += 1), ['guideFocus']],
    ['another guide camera', (s) => (s.offAxis!.camera.pixelUm = 3.75), ['guiderCalibration']],
    ['another focal length', (s) => (s.focalLengthMm = 1120), ['focus', 'flats', 'framing', 'guiderCalibration']],
    ['another focuser motor', (s) => (s.focuserStepUm = 1), ['focus']],
    ['a piece renamed', (s) => (s.train[2]!.name = 'the long spacer'), nothing],
    ['two spacers exchanged', (s) => s.train.splice(1, 2, s.train[2]!, s.train[1]!), nothing],
    [
      'a filter renamed, another put in an empty slot',
      (s) => ((s.wheel[0]!.filter = 'red'), s.wheel.push({ slot: 29, filter: 'Y' })),
      ['flats'],
    ],
    ['the wheel’s slots written in another order', (s) => s.wheel.reverse(), nothing],
    ['a measured length equal to the one in use', (s) => (s.train[2]!.measuredMm = s.train[2]!.lengthMm), nothing],
    [
      'a measured length that is not used',
      (s) => ((s.train[2]!.measuredMm = 31), (s.train[2]!.use = 'documented')),
      nothing,
    ],
    ['parts listed in another order', (s) => s.placed.reverse(), nothing],
    [
      'a note, the rated load and the times',
      (s) => ((s.note = 'x'), (s.mount.ratedLoadKg = 50), (s.overheads.ditherS = 20)),
      nothing,
    ],
  ];
  test.each(changes)('%s', (_, change, spoiled) => {
    const next = after(change);
    expect(spoiledBy(aspectsOf(setup), aspectsOf(next))).toEqual(spoiled);
    // one definition for both questions: what is not spoiled still holds, letter for letter
    for (const a of ASPECTS) expect(aspectsOf(next)[a] === aspectsOf(setup)[a]).toBe(!spoiled.includes(a));
    const trainChanged = spoiled.some((a) => a !== 'balance');
    expect(trainFingerprint(next) !== trainFingerprint(setup)).toBe(trainChanged);
  });
  test('a guide scope is calibrated by its own optics; the camera’s turn does not touch it', () => {
    const turned = after((s) => (s.camera.angleDeg += 10), scoped);
    expect(spoiledBy(aspectsOf(scoped), aspectsOf(turned))).toEqual(['flats', 'framing']);
    const other = after((s) => (s.guideScope!.focalLengthMm = 200), scoped);
    expect(spoiledBy(aspectsOf(scoped), aspectsOf(other))).toEqual(['guiderCalibration']);
  });
  test('a guider taken off leaves nothing to do again for it', () => {
    const bare = after((s) => delete s.guideScope, scoped);
    expect(aspectsOf(bare).guiderCalibration).toBeNull();
    expect(spoiledBy(aspectsOf(scoped), aspectsOf(bare))).toEqual([]);
  });
  test('a guider whose angle turns with the camera is calibrated anew', () => {
    const fixed = after((s) => (s.offAxis!.turnsAlone = false));
    const turned = after((s) => (s.camera.angleDeg += 10), fixed);
    expect(spoiledBy(aspectsOf(fixed), aspectsOf(turned))).toContain('guiderCalibration');
  });
});

describe('changes as codes', () => {
  test('each with its values; nothing else counts as notes', () => {
    const next = after((s) => ((s.placed[0]!.massKg = 9), (s.camera.angleDeg = 45), s.placed.pop()));
    expect(changesBetween(setup, next)).toEqual([
      { code: 'rig.part-mass', values: { name: setup.placed[0]!.name, massKg: 9 } },
      { code: 'rig.part-removed', values: { name: setup.placed.at(-1)!.name } },
      { code: 'rig.camera-turned', values: { angleDeg: 45 } },
    ]);
    expect(changesBetween(setup, structuredClone(setup))).toEqual([{ code: 'rig.notes', values: {} }]);
  });
});

describe('imaging systems', () => {
  const ridge = RIGS.find((r) => r.key === 'newtonian')!.build;
  test('two on one mount share what the mount carries and keep their own optics', () => {
    const [a, b] = ridge.systems.map((s) => viewOf(ridge, s.key));
    expect(a!.placed).toEqual(b!.placed);
    expect([a!.focalLengthMm, b!.focalLengthMm]).toEqual([1000, 135]);
    expect(viewOf(ridge, 'gone')).toEqual(a);
  });
  test('an edited view goes back without touching the other system', () => {
    const view = after((s) => ((s.focalLengthMm = 140), (s.note = 'new')), viewOf(ridge, 'lens'));
    const next = withView(ridge, 'lens', view);
    expect(viewOf(next, 'lens')).toEqual(view);
    expect(systemOf(next, 'newtonian')).toEqual(systemOf(ridge, 'newtonian'));
    expect(next.note).toBe('new');
    expect(RigBuild.safeParse(next).success).toBe(true);
  });
  test('a view wrapped and unwrapped is itself; keys stay apart', () => {
    expect(viewOf(buildOf(setup, 'one'))).toEqual(setup);
    expect(freeKey(ridge, 'Lens')).toBe('lens-2');
    expect(freeKey(ridge, '…')).toBe('system');
  });
});

test('a camera without a wheel has one filter: its colour cells, or none', () => {
  const bare = { ...setup, wheel: [{ slot: 1, filter: 'blank' }] };
  expect(filtersOf(bare)).toEqual(['clear']);
  expect(filtersOf({ ...bare, camera: { ...bare.camera, bayer: 'RGGB' } })).toEqual(['colour']);
  expect(isFixedFilter(bare)).toBe(true);
  expect(isFixedFilter(setup)).toBe(false);
});
