import { describe, expect, test } from '@jest/globals';
import type { FrameFinding } from '@keen/core/frames';
import { toneOf } from '@keen/core/frames';
import { framesVerdict } from './framesVerdict.ts';
import { brightnessOf } from '../../common/tones.ts';
import type { FrameRow } from './frameRow.ts';

const row = (more: object = {}): FrameRow =>
  ({
    id: 'a',
    record: {},
    file: '',
    filter: 'L',
    exposureS: 120,
    startedAt: null,
    temperatureC: null,
    focusAgeMin: null,
    place: null,
    look: {},
    accepted: true,
    suggestion: null,
    ...more,
  }) as never;
const bad = (code: string): FrameFinding => ({ code, severity: 'bad', evidence: '', advice: '', phrases: [] }) as never;
const said = (rows: FrameRow[], findings: (r: FrameRow) => FrameFinding[] = () => []) => {
  const { level, text } = framesVerdict(rows, findings);
  return [level, text];
};

describe('a night’s frames in one sentence', () => {
  test('count, and nothing else where nothing is wrong', () =>
    expect(said([row(), row(), row({ accepted: false })])).toEqual(['good', '2 of 3 frames count.']));
  test('lead with what most of them show', () => {
    const rows = [row(), row(), row({ id: 'c' })];
    const [level, text] = said(rows, (r) => (r.id === 'a' ? [bad('prism-shadow')] : []));
    expect(level).toBe('bad');
    expect(text).toMatch(/^2 of 3 measured frames show prism shadow\. 3 of 3 frames count\./);
    expect(said(rows, (r) => (r.id === 'c' ? [bad('tilt')] : []))[0]).toBe('good');
  });
  test('name what the optics do to most of them', () => {
    const one = () => [{ ...bad('one-sided'), severity: 'caution' as const }];
    expect(said([row(), row()], one)[1]).toMatch(/^2 of 2 measured frames show one-sided\./);
  });
  test('tell what is better refused and what it would cost, and what is not measured', () => {
    const suggestion = { code: 'wide', reason: { code: '', values: {} }, costsS: 120 };
    const [level, text] = said([row({ suggestion }), row({ suggestion, accepted: false }), row({ look: null })]);
    expect(level).toBe('caution');
    expect(text).toMatch(/1 is better refused: 2\smin of open shutter\. 1 is not measured\./);
  });
  test('ask for the folder where nothing is measured', () => {
    expect(said([row({ look: null })])[1]).toContain('drop its folder');
    expect(said([row({ record: null })])).toEqual(['good', 'Round and even to the corners.']);
  });
});

describe('a stretch', () => {
  const table = (more: object = {}) => brightnessOf({ whiteSigma: 32, times: 1, above: 0, ...more });
  test('grows with the light, is white from its white on, and shows the sky dark but not black', () => {
    const t = table();
    for (let i = 1; i < 256; i++) expect(t[i]!).toBeGreaterThanOrEqual(t[i - 1]!);
    expect(t[toneOf(40)]).toBe(255);
    expect(t[toneOf(0)]!).toBeGreaterThan(20);
    expect(t[toneOf(0)]!).toBeLessThan(128);
    expect(t[toneOf(-10)]).toBe(0);
  });
  test('of pictures alike shows a brighter sky brighter, and a stronger one stretches more', () => {
    expect(table({ above: 5 })[toneOf(0)]!).toBeGreaterThan(table()[toneOf(0)]!);
    expect(table({ whiteSigma: 8 })[toneOf(3)]!).toBeGreaterThan(table({ whiteSigma: 512 })[toneOf(3)]!);
  });
});
