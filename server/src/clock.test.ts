import { expect, test } from '@jest/globals';
import { makeClock } from './clock.ts';

test('the clock is the machine’s own unless an instant is given, and runs on from there', () => {
  let ms = 5000;
  const plain = makeClock(undefined, () => ms);
  const set = makeClock('2026-12-31T22:00:00Z', () => ms);
  ms += 1500;
  expect(plain().getTime()).toBe(6500);
  expect(set().toISOString()).toBe('2026-12-31T22:00:01.500Z');
});
test('an instant that cannot be read is refused by name', () => {
  expect(() => makeClock('tonight')).toThrow('KEEN_CLOCK');
});
