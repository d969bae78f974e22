import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { allRules, rulesIn, rulesPage } from '../../scripts/lib/rules.ts';

const ROOT = join(import.meta.dirname, '../..');

describe('the page of limits', () => {
  const rules = allRules(ROOT);
  test('is what the code says: after a change run npm run docs:rules', () => {
    expect(readFileSync(join(ROOT, 'docs/rules.md'), 'utf8')).toBe(rulesPage(rules));
  });
  test('has the rules people ask about, each once', () => {
    const named = (name: string) => rules.filter((r) => r.name === name).map((r) => [r.value, r.file]);
    expect(named('SAME_EXPOSURE_SHARE')).toEqual([['0.001', 'core/src/record/exposure.ts']]);
    expect(named('LONG_ECCENTRICITY')).toEqual([['0.6', 'core/src/record/refusal.ts']]);
    expect(named('FEASIBLE_NM')).toEqual([['0.05', 'core/src/balance/limits.ts']]);
    expect(rules.find((r) => r.name === 'WIDE_TIMES')).toMatchObject({
      unit: 'times',
      source: 'common practice, no source',
    });
  });
});

test('numbers, sums of numbers and flat objects of them are read with what stands before them; the rest is not', () => {
  const code = `
/** Longest wait, and the shortest [ms]; common practice, no source. */
const WAIT_MS = 5 * 60_000;
const SHORT_MS = 10;
/** What one comment says of one is not said of the next. */
const ALONE = 7;
const OTHER = 8;

const BARE_DEG = -3;
/** Source: a book. */
export const PAIR = { least: 1, most: 2 } as const;
const NAME = 'x', made = 4, LATER = compute();
`;
  expect(rulesIn('a.ts', code).map(({ file: _f, ...r }) => r)).toEqual([
    {
      line: 3,
      name: 'WAIT_MS',
      value: '5 · 60000',
      unit: 'ms',
      says: 'Longest wait, and the shortest [ms]; common practice, no source.',
      source: 'common practice, no source',
    },
    {
      line: 4,
      name: 'SHORT_MS',
      value: '10',
      unit: 'ms',
      says: 'Longest wait, and the shortest [ms]; common practice, no source.',
      source: 'common practice, no source',
    },
    {
      line: 6,
      name: 'ALONE',
      value: '7',
      unit: '',
      says: 'What one comment says of one is not said of the next.',
      source: '',
    },
    { line: 7, name: 'OTHER', value: '8', unit: '', says: '', source: '' },
    { line: 9, name: 'BARE_DEG', value: '−3', unit: 'deg', says: '', source: '' },
    { line: 11, name: 'PAIR', value: 'least 1, most 2', unit: '', says: 'Source: a book.', source: 'a book' },
  ]);
});
