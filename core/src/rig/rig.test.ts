import { describe, expect, test } from '@jest/globals';
import { RIGS } from '@keen/demo';
import { changesBetween, invalidatedBy, trainFingerprint, wordPair } from './fingerprint.ts';
import { RigSetup } from './schemas.ts';

const setup = RIGS.find((r) => r.key === 'astrograph')!.setup;
const changed = (change: (s: RigSetup) => void) => {
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
  test.each([
    ['a weight moved', (s: RigSetup) => (s.counterweights[0]!.distanceMm += 5), false, ['marks']],
    ['the camera turned', (s: RigSetup) => (s.camera.angleDeg += 10), true, ['flats', 'framing']],
    ['filters exchanged', (s: RigSetup) => (s.wheel[0]!.filter = 'R2'), true, ['offsets', 'flats']],
    [
      'a spacer put in front',
      (s: RigSetup) => s.train.splice(1, 0, { name: 'ring', lengthMm: 1 }),
      true,
      ['offsets', 'flats'],
    ],
    [
      'a spacer put behind the guider',
      (s: RigSetup) => s.train.splice(4, 0, { name: 'ring', lengthMm: 1 }),
      true,
      ['offsets', 'flats', 'guideFocus'],
    ],
    ['the prism moved', (s: RigSetup) => (s.offAxis!.prism.innerEdgeMm += 1), true, ['flats', 'guideFocus']],
    ['a note', (s: RigSetup) => (s.note = 'x'), false, []],
  ] as const)('%s', (_, change, newState, invalid) => {
    const after = changed(change);
    expect(changesBetween(setup, after).trainChanged).toBe(newState);
    expect(invalidatedBy(setup, after)).toEqual(invalid);
  });
});
