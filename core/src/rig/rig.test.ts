import { describe, expect, test } from '@jest/globals';
import { RIGS } from '@keen/demo';
import { changesBetween, invalidatedBy, trainFingerprint, wordPair } from './fingerprint.ts';
import { RigSetup } from './schemas.ts';

const setup = RIGS.find((r) => r.key === 'astrograph')!.setup;
type Change = (s: RigSetup) => unknown;
const changed = (change: Change) => {
  const next = structuredClone(setup);
  change(next);
  return next;
};

describe('train states', () => {
  test('the demo rigs are what the schema asks for, and a state is the same words each time', () => {
    for (const r of RIGS) expect(RigSetup.safeParse(r.setup).error?.issues ?? []).toEqual([]);
    expect(trainFingerprint(setup)).toBe(trainFingerprint(structuredClone(setup)));
    expect(wordPair(trainFingerprint(setup))).toMatch(/^[a-z]+-[a-z]+$/);
  });
  test.each<[string, Change, boolean, string[]]>([
    ['a weight moved', (s) => (s.counterweights[0]!.distanceMm += 5), false, ['marks']],
    ['the camera turned', (s) => (s.camera.angleDeg += 10), true, ['flats', 'framing']],
    ['filters exchanged', (s) => (s.wheel[0]!.filter = 'R2'), true, ['offsets', 'flats']],
    ['a spacer put in front', (s) => s.train.splice(1, 0, { name: 'ring', lengthMm: 1 }), true, ['offsets', 'flats']],
    [
      'a spacer put behind the guider',
      (s) => s.train.splice(4, 0, { name: 'ring', lengthMm: 1 }),
      true,
      ['offsets', 'flats', 'guideFocus'],
    ],
    ['the prism moved', (s) => (s.offAxis!.prism.innerEdgeMm += 1), true, ['flats', 'guideFocus']],
    ['a note', (s) => (s.note = 'x'), false, []],
  ])('%s', (_, change, newState, invalid) => {
    const after = changed(change);
    expect(changesBetween(setup, after).trainChanged).toBe(newState);
    expect(invalidatedBy(setup, after)).toEqual(invalid);
  });
});
