import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { words } from '../phrases/index.ts';
import { assembleRig, MOUNTS, SENSORS, TUBES, viewOf } from '../rig/index.ts';
import { assess } from './assess.ts';
import { assumptions, assumptionPhrase } from './assumptions.ts';
import { carrierOf, carryMeasured } from './carryMeasured.ts';
import { assessInputOf } from './ofRig.ts';
import { placeFromRuler, rulerFromPlace } from './ruler.ts';

const rig = viewOf(
  assembleRig({
    mount: MOUNTS[2]!,
    tube: TUBES[2]!,
    sensor: SENSORS[4]!,
    bayer: null,
    guider: 'guide-scope',
    holder: 'wheel',
    filters: ['L', 'R', 'G', 'B'],
    dewHeater: true,
    cablesKg: 0.3,
  }),
);
const saddle = rig.saddle!;

describe('a ruler on the mounted tube', () => {
  test('the numbers add up as they are shown', () => {
    const front = saddle.marks[0]!;
    const got = placeFromRuler({ mark: front.name, alongMm: 250, aboveSaddleMm: 80, sidewaysMm: -12 }, saddle);
    expect([got.xMm, got.yMm, got.zMm]).toEqual([saddle.xMm + 80, -12, front.zMm - 250]);
    expect(got.working.map((w) => w.value)).toEqual([got.xMm, got.zMm, -12]);
  });
  test('what a ruler would read leads back to the place', () => {
    const mm = fc.integer({ min: -900, max: 900 });
    fc.assert(
      fc.property(mm, mm, mm, (xMm, yMm, zMm) => {
        const { working: _w, ...back } = placeFromRuler(rulerFromPlace({ xMm, yMm, zMm }, saddle), saddle);
        expect(back).toEqual({ xMm, yMm, zMm });
      }),
      { seed: 71 },
    );
  });
  test('a mark that is not on the bar is refused by name', () => {
    expect(() => placeFromRuler({ mark: 'the sticker', alongMm: 0, aboveSaddleMm: 0, sidewaysMm: 0 }, saddle)).toThrow(
      'the sticker',
    );
  });
});

describe('spring-scale readings put on the tube', () => {
  test('the parts then add up to what was measured, and only the tube moved', () => {
    const of = (s: typeof rig) => assess({ ...assessInputOf(s, 47), ratedLoadKg: 15 } as never).momentKgMm;
    const measured = { x: 1200, y: -300, z: 4100 };
    const next = carryMeasured(rig, measured, of(rig), { kind: 'measured', at: '2026-11-19' })!;
    const now = of(next);
    for (const k of ['x', 'y', 'z'] as const) expect(now[k]).toBeCloseTo(measured[k], 6);
    expect(next.placed.filter((p, i) => p.zMm !== rig.placed[i]!.zMm).map((p) => p.kind)).toEqual(['tube']);
    expect(carrierOf(next)!.placeFrom!.kind).toBe('measured');
  });
  test('what was not measured stays; without parts there is nothing to carry it', () => {
    const before = carrierOf(rig)!;
    const next = carryMeasured(rig, { z: 0 }, { x: 5, y: 5, z: 50 }, { kind: 'measured' })!;
    expect(carrierOf(next)).toMatchObject({ xMm: before.xMm, yMm: before.yMm, zMm: before.zMm - 50 / before.massKg });
    expect(carryMeasured({ ...rig, placed: [] }, { z: 1 }, { x: 0, y: 0, z: 0 }, { kind: 'measured' })).toBeNull();
  });
});

describe('what assumed values are worth', () => {
  test('the one said to matter most moves the moments most, against the assessment itself', () => {
    const moment = (s: typeof rig) => assess({ ...assessInputOf(s, 47), ratedLoadKg: 15 } as never).momentKgMm;
    const base = moment(rig);
    for (const a of assumptions(rig).filter((x) => x.what !== 'saddle')) {
      const moved = structuredClone(rig);
      const p = moved.placed.find((q) => q.name === a.part)!;
      if (a.what === 'mass') p.massKg += a.spread;
      else p.zMm += a.spread;
      const now = moment(moved);
      const change = Math.max(Math.abs(now.x - base.x), Math.hypot(now.y - base.y, now.z - base.z));
      expect(Math.abs(change - a.momentKgMm)).toBeLessThan(1e-6);
    }
    const sizes = assumptions(rig).map((a) => a.momentKgMm);
    expect(sizes).toEqual([...sizes].sort((a, b) => b - a));
  });
  test('it is said with its spread and its worth, in the reader’s units; measured, it is gone', () => {
    const [first] = assumptions(rig);
    const phrases = assumptionPhrase(rig)!;
    expect(words(phrases)).toContain(`±${(first!.momentKgMm / 10).toFixed(1)}`);
    expect(words(phrases, 'imperial')).toContain('in·lb');
    const measured = structuredClone(rig);
    for (const p of measured.placed) p.massFrom = p.placeFrom = { kind: 'measured', by: 'me', at: '2026-11-19' };
    measured.saddle!.from = { kind: 'measured' };
    expect(assumptionPhrase(measured)).toBeNull();
  });
});
