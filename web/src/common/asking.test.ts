import { describe, expect, test } from '@jest/globals';
import { InvalidInput } from '@keen/core';
import { effectScope } from 'vue';
import { latestOnly } from './latestOnly.ts';
import { outcomeOf, problemPlaces, problemText, valueOrNull } from './outcome.ts';

describe('an answer is late', () => {
  test('when a newer question was asked, and only then', () => {
    const ask = latestOnly();
    const first = ask();
    expect(first()).toBe(false);
    const second = ask();
    expect([first(), second()]).toEqual([true, false]);
  });
  test('when the screen that asked is gone', () => {
    const scope = effectScope();
    const ask = scope.run(() => latestOnly())!;
    const late = ask();
    scope.stop();
    expect(late()).toBe(true);
  });
  test('two askers do not know of each other', () => {
    const [a, b] = [latestOnly(), latestOnly()];
    const late = a();
    b();
    expect(late()).toBe(false);
  });
});

describe('an outcome', () => {
  test('is the value, or what was refused with its places', () => {
    expect(outcomeOf(() => 4)).toEqual({ ok: true, value: 4 });
    const refused = outcomeOf(() => {
      throw InvalidInput.at('masses.1', 'must be more than 0');
    });
    expect(refused).toMatchObject({ ok: false, problem: { status: 400, code: 'invalid_input' } });
    if (!refused.ok) expect(problemPlaces(refused.problem)).toBe('masses.1: must be more than 0');
  });
  test('of an accident is told by its message, as what it is', () => {
    const fell = outcomeOf(() => {
      throw new Error('the catalogue could not be read');
    });
    if (fell.ok) throw new Error('was taken');
    expect([fell.problem.code, problemText(fell.problem), problemPlaces(fell.problem)]).toEqual([
      'failed',
      'the catalogue could not be read',
      'the catalogue could not be read',
    ]);
  });
  test('without a value is null only where the input was refused; an accident stays one', () => {
    expect(valueOrNull(() => 2)).toBe(2);
    expect(
      valueOrNull(() => {
        throw InvalidInput.at('', 'too long');
      }),
    ).toBeNull();
    expect(() =>
      valueOrNull(() => {
        throw new TypeError('x is undefined');
      }),
    ).toThrow('x is undefined');
  });
});
