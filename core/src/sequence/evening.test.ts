import { describe, expect, test } from '@jest/globals';
import { orderEvening, type EveningCandidate } from './evening.ts';

const T0 = Date.parse('2026-11-24T18:00:00Z');
const iso = (min: number) => new Date(T0 + min * 60_000).toISOString();

/** An object that culminates at a minute, at so many degrees, workable between two minutes. */
function object(
  id: string,
  from: number,
  to: number,
  peak: number,
  more: Partial<EveningCandidate> = {},
): EveningCandidate {
  const track = Array.from({ length: 121 }, (_, k) => ({
    time: iso(5 * k),
    altitudeDeg: 75 - Math.abs(5 * k - peak) / 8,
    moonAltitudeDeg: -10,
    moonSeparationDeg: 60,
  }));
  return { id, windows: [{ start: iso(from), end: iso(to) }], track, needMinutes: 600, narrowband: false, ...more };
}
const minutes = (p: { start: string; end: string }) => (Date.parse(p.end) - Date.parse(p.start)) / 60_000;

describe('the order of an evening', () => {
  test('what sets first goes first, and the change lies where the second overtakes the first', () => {
    const picks = orderEvening([object('east', 0, 600, 500), object('west', 0, 400, 60)], 0);
    expect(picks.map((p) => p.id)).toEqual(['west', 'east']);
    expect(Math.abs(minutes(picks[0]!) - 280)).toBeLessThanOrEqual(20);
  });
  test('nobody gets more than it needs, and the rest goes to who still can use it', () => {
    const picks = orderEvening([object('a', 0, 600, 300, { needMinutes: 120 }), object('b', 0, 600, 0)], 0);
    const of = (id: string) => picks.filter((p) => p.id === id).reduce((s, p) => s + minutes(p), 0);
    expect(of('a')).toBeLessThanOrEqual(120);
    expect(of('a') + of('b')).toBeGreaterThanOrEqual(550);
  });
  test('hours that are spoken for stay free of picks; a met need leaves nobody', () => {
    const picks = orderEvening([object('a', 0, 600, 300)], 0, [{ start: iso(200), end: iso(320) }]);
    for (const p of picks)
      expect(Date.parse(p.end) <= T0 + 200 * 60_000 || Date.parse(p.start) >= T0 + 320 * 60_000).toBe(true);
    expect(orderEvening([object('a', 0, 600, 300, { needMinutes: 0 })], 0)).toEqual([]);
  });
  test('close to a full Moon the narrowband object is preferred at equal height', () => {
    const bright = (c: EveningCandidate) => ({
      ...c,
      track: c.track.map((t) => ({ ...t, moonAltitudeDeg: 40, moonSeparationDeg: 20 })),
    });
    const picks = orderEvening(
      [bright(object('broad', 0, 600, 300)), bright(object('narrow', 0, 600, 300, { narrowband: true }))],
      1,
    );
    expect(picks.map((p) => p.id)).toEqual(['narrow']);
  });
});
