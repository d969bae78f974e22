import { expect, test } from '@jest/globals';
import { shareOf, weightsOf } from './priority.ts';

const of = (id: string, ownerId: string, priority: number) => ({ id, ownerId, priority });
test('whoever weighs their own more takes nothing from anybody else', () => {
  const others = [of('a', 'ida', 1), of('b', 'ida', 1), of('x', 'jon', 1)];
  const before = weightsOf(others);
  const after = weightsOf([of('a', 'ida', 9), of('b', 'ida', 3), of('x', 'jon', 1)]);
  expect([...before.values()]).toEqual([1, 1, 1]);
  expect([after.get('a'), after.get('b'), after.get('x')]).toEqual([1.5, 0.5, 1]);
  expect(shareOf('x', others)).toBeCloseTo(1 / 3, 12);
  expect(shareOf('a', [of('a', 'ida', 9), of('b', 'ida', 3), of('x', 'jon', 1)])).toBeCloseTo(0.5, 12);
  expect(shareOf('only', [of('only', 'ida', 0.2)])).toBe(1);
});
