import { describe, expect, test } from '@jest/globals';
import type { TargetOutput } from '@keen/core/sky';
import { hourTicks } from '../../common/times.ts';
import { altitudeAt, hourStep, laneGhost, laneWindows, timeScale, wrapWords } from './lanes.ts';

const T0 = Date.parse('2026-11-24T17:00:00Z');
const iso = (min: number) => new Date(T0 + min * 60_000).toISOString();
/** An object that climbs one degree every four minutes from an altitude. */
const rising = (from: number, steps = 121, windows: [number, number][] = []) =>
  ({
    track: Array.from({ length: steps }, (_, k) => ({ time: iso(4 * k), altitudeDeg: from + k })),
    windows: windows.map(([a, b]) => ({ start: iso(a), end: iso(b) })),
  }) as unknown as TargetOutput;
const points = (path: string) =>
  path
    .slice(1, -1)
    .split('L')
    .map((p) => p.split(' ').map(Number) as [number, number]);

describe('the altitude under the pointer', () => {
  test('is linear between steps and unknown outside the night', () => {
    const { track } = rising(-10);
    expect(altitudeAt(track, T0)).toBe(-10);
    expect(altitudeAt(track, T0 + 6 * 60_000)).toBeCloseTo(-8.5, 9);
    expect(altitudeAt(track, T0 + 480 * 60_000)).toBeCloseTo(110, 9);
    expect(altitudeAt(track, T0 - 5 * 60_000)).toBeNull();
    expect(altitudeAt(track, T0 + 500 * 60_000)).toBeNull();
    expect(altitudeAt([], T0)).toBeNull();
  });
});

describe('a lane', () => {
  const x = timeScale(T0, T0 + 480 * 60_000, 100, 580);
  test('is as thick as the sine of the altitude, about its middle line', () => {
    const path = points(laneWindows(rising(0, 91, [[40, 340]]), x, 50, 20)[0]!);
    for (const [px, py] of path) {
      const minutes = px - 100;
      expect(Math.abs(py - 50)).toBeCloseTo(20 * Math.sin((minutes / 4) * (Math.PI / 180)), 0);
    }
    // from edge to edge, above and below alike
    expect(Math.min(...path.map((p) => p[0]))).toBeCloseTo(140, 1);
    expect(Math.max(...path.map((p) => p[0]))).toBeCloseTo(440, 1);
    expect(path).toHaveLength(2 * Math.ceil(300 / 4 + 1));
  });
  test('has one outline a window, and the ghost one a passage above the horizon', () => {
    const t = rising(-30, 61, [
      [130, 160],
      [170, 200],
    ]);
    expect(laneWindows(t, x, 50, 20)).toHaveLength(2);
    expect(laneGhost(t, x, 50, 20)).toHaveLength(1);
    const dips = { ...t, track: t.track.map((p, k) => ({ ...p, altitudeDeg: k % 20 < 10 ? 20 : -5 })) };
    expect(laneGhost(dips, x, 50, 20)).toHaveLength(4);
    expect(laneGhost({ ...t, track: t.track.map((p) => ({ ...p, altitudeDeg: -1 })) }, x, 50, 20)).toEqual([]);
  });
});

describe('hours along the top', () => {
  test('are whole by the local clock, half-hour zones too', () => {
    const half = 5.5 * 3_600_000;
    const ticks = hourTicks(T0, T0 + 6 * 3_600_000, half, 1);
    expect(ticks).toHaveLength(6);
    for (const t of ticks) expect((t + half) % 3_600_000).toBe(0);
    for (const t of hourTicks(T0, T0 + 9 * 3_600_000, 0, 2)) expect(new Date(t).getUTCHours() % 2).toBe(0);
  });
  test('leave room for their labels however narrow the picture is', () => {
    for (let px = 4; px < 200; px += 0.5) {
      const step = hourStep(px);
      expect(step === 12 || step * px >= 46).toBe(true);
      if (step > 1) expect(px).toBeLessThan(46);
    }
    expect([60, 46, 30, 15, 12, 9].map(hourStep)).toEqual([1, 1, 2, 4, 4, 6]);
  });
});

test('what is written into a lane is broken between words, and nothing of it is lost', () => {
  const text = 'Never above 45° and the horizon while it is dark.';
  for (let most = 1; most < 60; most++) {
    const lines = wrapWords(text, most);
    expect(lines.join(' ')).toBe(text);
    for (const line of lines) expect([line, line.length <= most || !line.includes(' ')]).toEqual([line, true]);
  }
  expect(wrapWords(text, 26)).toEqual(['Never above 45° and the', 'horizon while it is dark.']);
  expect(wrapWords('', 10)).toEqual([]);
});
