import { describe, expect, test } from '@jest/globals';
import type { FrameMeasure } from './devices.ts';
import { FEW_SHARE, LONG_ECCENTRICITY, WIDE_TIMES } from '../record/index.ts';
import { judgeFrame, type Standards } from './frameJudge.ts';
import { runSummary } from './runSummary.ts';
import type { RunEvent, RunFrame } from './run.ts';
import { parseInput } from '../calculation/index.ts';
import { TimelineInput } from '../sequence/index.ts';

const good: FrameMeasure = { hfdPx: 2.4, stars: 400, eccentricity: 0.3, background: 1 };
/** Keeps what good frames look like. */
class FrameJudge {
  private standards: Standards = {};
  judge(filter: string, m: FrameMeasure, focusedPx: number | null) {
    const { refusal, standards } = judgeFrame(this.standards, filter, m, focusedPx);
    this.standards = standards;
    return refusal;
  }
}
/** A judge that has seen some good frames through L. */
function seasoned(frames = 5) {
  const judge = new FrameJudge();
  for (let i = 0; i < frames; i++) expect(judge.judge('L', good, null)).toBeNull();
  return judge;
}

describe('a frame is judged by the good ones before it', () => {
  test.each<[string, Partial<FrameMeasure>, string]>([
    ['too wide', { hfdPx: 2.4 * WIDE_TIMES * 1.01 }, 'run.refused-wide'],
    ['few stars under a dark sky', { stars: 400 * FEW_SHARE - 1 }, 'run.refused-few'],
    ['few stars under a bright sky', { stars: 100, background: 1.3 }, 'run.refused-cloud'],
    ['long stars', { eccentricity: LONG_ECCENTRICITY + 0.01 }, 'run.refused-long'],
    ['a bright sky alone', { background: 1.6 }, 'run.refused-bright'],
  ])('%s', (_, over, reason) =>
    expect(seasoned().judge('L', { ...good, ...over }, null)?.phrase.code).toContain(reason),
  );

  test('at the limits it still counts', () => {
    const edge = {
      hfdPx: 2.4 * WIDE_TIMES,
      stars: 400 * FEW_SHARE,
      eccentricity: LONG_ECCENTRICITY,
      background: 1.5,
    };
    expect(seasoned().judge('L', edge, null)).toBeNull();
  });
  test('a refused frame does not move the standard, an accepted one does', () => {
    const judge = seasoned(1);
    for (let i = 0; i < 20; i++) expect(judge.judge('L', { ...good, hfdPx: 9 }, null)).not.toBeNull();
    expect(judge.judge('L', { ...good, hfdPx: 2.4 * WIDE_TIMES * 1.05 }, null)).not.toBeNull();
    for (let i = 0; i < 5; i++) judge.judge('L', { ...good, hfdPx: 3.2 }, null);
    expect(judge.judge('L', { ...good, hfdPx: 2.4 * WIDE_TIMES * 1.05 }, null)).toBeNull();
  });
  test('filters are judged each by its own; the first frame of one by the last focus run', () => {
    const judge = seasoned();
    expect(judge.judge('Ha', { ...good, stars: 60 }, 2.2)).toBeNull();
    expect(judge.judge('OIII', { ...good, hfdPx: 2.2 * WIDE_TIMES * 1.01 }, 2.2)?.phrase.code).toBe('run.refused-wide');
    expect(judge.judge('SII', { ...good, hfdPx: 40 }, null)).toBeNull();
  });
  test('only width calls for a focus run', () => {
    const reasons = [{ hfdPx: 5 }, { stars: 10 }, { eccentricity: 0.9 }, { background: 2 }].map((over) =>
      seasoned().judge('L', { ...good, ...over }, null),
    );
    expect(reasons.map((r) => r?.code === 'wide')).toEqual([true, false, false, false]);
  });
});

describe('what came of a run', () => {
  const T0 = Date.parse('2026-11-24T18:00:00Z');
  const iso = (min: number) => new Date(T0 + min * 60_000).toISOString();
  const timeline = parseInput(TimelineInput, {
    start: iso(0),
    end: iso(60),
    filters: [
      { name: 'L', exposureS: 300, quota: 4, done: 1 },
      { name: 'Ha', exposureS: 300, quota: 2 },
    ],
    order: 'rolling',
    focus: { policy: 'offsets' },
  });
  const event = (kind: RunEvent['kind'], from: number, to: number): RunEvent => ({
    kind,
    start: iso(from),
    end: iso(to),
    text: '',
  });
  const frame = (filter: string, accepted: boolean) => ({ filter, accepted }) as RunFrame;
  const events = [
    event('slew', 0, 2),
    event('expose', 2, 12),
    event('cloud', 12, 42),
    event('note', 42, 42),
    event('expose', 42, 60),
  ];

  const summary = (taken: number[], what: Parameters<typeof runSummary>[3]) =>
    runSummary([{ projectId: 'p', timeline, taken }], iso(0), iso(60), what);

  test('every minute is exposure or named loss, and what is missing is counted with what was there before', () => {
    const frames = [frame('L', true), frame('L', true), frame('Ha', true), frame('Ha', false)];
    const got = summary([2, 1], { events, frames, focusRuns: [] });
    expect([got.openShutterS, got.lostS]).toEqual([28 * 60, { slew: 120, cloud: 1800 }]);
    expect(got).toMatchObject({ accepted: { L: 2, Ha: 1 }, rejected: 1 });
    expect(got.verdict).toMatchObject({
      level: 'caution',
      text: '3 good frames, 1 rejected, 30\u202fmin lost to cloud. Still wanted: L 1, Ha 1.',
    });
  });
  test('nothing good is bad, all quotas met says so', () => {
    const none = summary([0, 0], { events, frames: [frame('L', false)], focusRuns: [] });
    expect(none.verdict.level).toBe('bad');
    const all = summary([3, 2], { events, frames: [], focusRuns: [] });
    expect(all.verdict).toMatchObject({ level: 'good', text: expect.stringContaining('Every quota is reached') });
  });
});
