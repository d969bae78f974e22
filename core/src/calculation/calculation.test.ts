import { describe, expect, test } from '@jest/globals';
import { z } from 'zod';
import { define, explained, InvalidInput, noRepeats, parseInput, positive, within } from './index.ts';

const Shape = z.strictObject({
  name: z.string().min(1),
  kind: z.enum(['tube', 'lens']),
  massKg: positive('kg', 'Mass'),
  angleDeg: within('deg', 0, 360, 'Angle').default(0),
  when: z.iso.datetime().optional(),
  day: z.iso.date().optional(),
  parts: z
    .array(z.strictObject({ id: z.string() }))
    .min(1)
    .max(2)
    .superRefine(noRepeats((p) => p.id, 'the part')),
});
const good = { name: 'a', kind: 'tube', massKg: 1, parts: [{ id: 'x' }] };
/** Place and words of the one complaint about a spoilt input. */
function complaint(over: object): [string, string] {
  try {
    parseInput(Shape, { ...good, ...over });
  } catch (e) {
    if (e instanceof InvalidInput) {
      expect(e.issues).toHaveLength(1);
      expect(e.toJSON()).toEqual({ error: { code: 'invalid_input', issues: e.issues } });
      return [e.issues[0]!.path, e.issues[0]!.message];
    }
    throw e;
  }
  throw new Error('was taken');
}

describe('a complaint says where and what would be right', () => {
  test.each<[object, string, string]>([
    [{ massKg: undefined }, 'massKg', 'is required (number)'],
    [{ massKg: null }, 'massKg', 'must be a number, not null'],
    [{ massKg: '5' }, 'massKg', 'must be a number, not string'],
    [{ massKg: NaN }, 'massKg', 'must be a number, not NaN'],
    [{ massKg: [] }, 'massKg', 'must be a number, not a list'],
    [{ massKg: 0 }, 'massKg', 'must be more than 0'],
    [{ angleDeg: -1 }, 'angleDeg', 'must be at least 0'],
    [{ angleDeg: 361 }, 'angleDeg', 'must be at most 360'],
    [{ name: '' }, 'name', 'must not be empty'],
    [{ kind: 'tubes' }, 'kind', 'must be one of "tube", "lens"'],
    [{ parts: [] }, 'parts', 'needs at least 1 item'],
    [{ parts: [{ id: 'x' }, { id: 'y' }, { id: 'z' }] }, 'parts', 'may have at most 2 items'],
    [{ parts: [{ id: 'x' }, { id: 'x' }] }, 'parts.1', 'the part “x” stands twice'],
    [{ parts: [{ id: 7 }] }, 'parts.0.id', 'must be a string, not 7'],
    [{ colour: 'red' }, '', '“colour” is not a known field'],
    [{ when: 'noon' }, 'when', 'must be an instant such as 2026-11-24T20:15:00Z'],
    [{ day: '2026-02-30' }, 'day', 'must be a day that exists, as YYYY-MM-DD'],
  ])('%j', (over, path, message) => expect(complaint(over)).toEqual([path, message]));

  test('several are told together, each with its place', () => {
    expect(() => parseInput(Shape, { ...good, massKg: -1, kind: 'x' })).toThrow(/kind: .*; massKg: /);
  });
});

test('a calculation parses before it computes, and fills what was left out', () => {
  const c = define({
    name: 'test.angle',
    summary: 'angle',
    sources: [],
    input: Shape,
    output: z.strictObject({ angle: z.number(), ...explained }),
    compute: (i) => ({ angle: i.angleDeg, working: [], verdict: { level: 'good' as const, text: 'ok', phrases: [] } }),
  });
  expect(c.run(good)).toMatchObject({ angle: 0 });
  expect(() => c.run({ ...good, massKg: -1 })).toThrow(InvalidInput);
});
