import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { differences } from './fieldWords.ts';

const rig = (massKg: number, more: object = {}) => ({
  name: 'triplet',
  setup: {
    placed: [
      { name: 'lens', massKg: 5 },
      { name: 'camera', massKg },
    ],
    slide: { markMm: 3 },
    ...more,
  },
});

describe('what two versions differ in', () => {
  test('is said by the name of the part and of the field, never by its place in the record', () => {
    expect(differences(rig(0.9), rig(1.1))).toEqual([
      { field: 'part “camera”, mass', key: 'massKg', mine: 0.9, theirs: 1.1 },
    ]);
    expect(
      differences(
        { legs: [{ object: 'M 1', centreWithinArcmin: 1 }] },
        { legs: [{ object: 'M 1', centreWithinArcmin: 2 }] },
      )[0]!.field,
    ).toBe('leg “M 1”, centre within');
  });
  test('shows what only one side has, also where it is theirs alone', () => {
    expect(differences(rig(1), rig(1, { note: 'new' }))).toEqual([
      { field: 'note', key: 'note', mine: undefined, theirs: 'new' },
    ]);
    const [one] = differences({ goals: [] }, { goals: [{ filter: 'Ha', quota: 3 }] });
    expect(one!.field).toMatch(/^goal “Ha”/);
  });
  test('is nothing where both hold the same, and something wherever a leaf was changed', () => {
    const value = fc.jsonValue();
    fc.assert(fc.property(value, (v) => differences(v, structuredClone(v)).length === 0));
    fc.assert(
      fc.property(fc.dictionary(fc.string({ minLength: 1 }), fc.integer(), { minKeys: 1 }), (d) => {
        const key = Object.keys(d)[0]!;
        expect(differences(d, { ...d, [key]: d[key]! + 1 })).toHaveLength(1);
      }),
    );
  });
});
