import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { RIGS } from '../../../demo/src/rigs.ts';
import { parseInput } from '../calculation/index.ts';
import { alignment } from './alignment.ts';
import { cooling, CoolingInput } from './cooling.ts';
import { defaultItems, SetupItems } from './items.ts';

const rig = (key: string) => RIGS.find((r) => r.key === key)!.setup;

describe('the list a rig begins with', () => {
  test('it is in the order of safety: weights before the tube, caps until sunset, power before connecting', () => {
    const keys = defaultItems('backyard', rig('refractor')).map((i) => i.key);
    for (const [first, then] of [
      ['weights', 'tube'],
      ['mains', 'connect'],
      ['connect', 'cooling'],
      ['sun', 'focus'],
      ['calibrate', 'begin'],
    ] as const)
      expect(keys.indexOf(first)).toBeLessThan(keys.indexOf(then));
    expect(keys.indexOf('weights')).toBeGreaterThanOrEqual(0);
  });
  test('a dome lifts no tube, a remote site arms its interlock, an off-axis rig aligns no guide scope', () => {
    const dome = defaultItems('club', rig('astrograph')).map((i) => i.key);
    expect(dome).not.toContain('tube');
    expect(dome).not.toContain('guide-align');
    expect(defaultItems('remote', rig('newtonian')).map((i) => i.key)).toContain('interlock');
    expect(defaultItems('backyard', rig('refractor')).map((i) => i.key)).toContain('guide-align');
  });
  test('every offered list is one a club could save', () => {
    for (const kind of ['backyard', 'club', 'remote'] as const)
      for (const r of RIGS) expect(SetupItems.safeParse(defaultItems(kind, r.setup)).error?.issues ?? []).toEqual([]);
  });
  test('a step twice, an empty list and an empty step are refused', () => {
    const step = { key: 'a', group: 'g', text: 't' };
    expect(SetupItems.safeParse([step, step]).success).toBe(false);
    expect(SetupItems.safeParse([]).success).toBe(false);
    expect(SetupItems.safeParse([{ ...step, text: ' ' }]).success).toBe(false);
  });
});

describe('cooling', () => {
  const input = (over: object = {}) =>
    parseInput(CoolingInput, {
      ambientC: 24,
      setPointC: -10,
      neededAt: '2026-07-01T21:00:00Z',
      warmestNightC: 24,
      ...over,
    });
  test('34 °C at 2 °C a minute take 17 minutes and five to settle', () => {
    const got = cooling(input());
    expect(got.minutes).toBeCloseTo(22, 9);
    expect(got.startAt).toBe('2026-07-01T20:38:00.000Z');
    expect([got.reachable, got.verdict.level]).toEqual([true, 'caution']);
  });
  test('out of reach is said with a set point that would do', () => {
    const got = cooling(input({ setPointC: -20 }));
    expect([got.reachable, got.verdict.level]).toEqual([false, 'bad']);
    expect(got.verdict.text).toContain('−5\u202f°C');
  });
  test('the set point for the year is held on the warmest night, five lower is not', () => {
    fc.assert(
      fc.property(fc.integer({ min: -5, max: 35 }), fc.integer({ min: 15, max: 50 }), (warmestNightC, deepest) => {
        const { yearRoundC } = cooling(input({ warmestNightC, deepestBelowAmbientC: deepest }));
        expect(warmestNightC - yearRoundC).toBeLessThanOrEqual(0.85 * deepest + 1e-9);
        expect(warmestNightC - (yearRoundC - 5)).toBeGreaterThan(0.85 * deepest - 1e-9);
      }),
      { seed: 61 },
    );
  });
  test('warmer air asks for an earlier start', () => {
    expect(cooling(input({ ambientC: 20 })).startAt > cooling(input()).startAt).toBe(true);
  });
});

describe('a second tube', () => {
  const base = {
    focalLengthMm: 135,
    pixelUm: 3.76,
    widthPx: 6248,
    heightPx: 4176,
    mainFieldArcmin: 34,
    holder: 'plate' as const,
    leverMm: 60,
  };
  test('the turn of the screw is lever times tangent over pitch', () => {
    const { offArcmin, moves, verdict } = alignment({ ...base, rightPx: 600, upPx: 0 });
    expect(offArcmin).toBeCloseTo((600 * 3.76e-3 * 3437.7468) / 135, 2);
    expect(moves).toHaveLength(1);
    expect(moves[0]!.way).toBe('nose to the right');
    expect(moves[0]!.turns).toBeCloseTo(60 * Math.tan(((offArcmin / 60) * Math.PI) / 180), 9);
    expect(verdict.level).toBe('bad');
  });
  test('a camera turned a quarter makes right into up', () => {
    const [straight] = alignment({ ...base, rightPx: 0, upPx: 300 }).moves;
    const [turned] = alignment({ ...base, rightPx: 300, upPx: 0, cameraAngleDeg: 90 }).moves;
    expect(turned!.way).toBe(straight!.way);
    expect(turned!.mm).toBeCloseTo(straight!.mm, 9);
  });
  test('inside a tenth of the smaller field nothing needs turning; rings ask for more turns sideways', () => {
    expect(alignment({ ...base, rightPx: 20, upPx: 10 }).verdict.level).toBe('good');
    const plate = alignment({ ...base, rightPx: 300, upPx: 0 }).moves[0]!.mm;
    expect(alignment({ ...base, rightPx: 300, upPx: 0, holder: 'rings' }).moves[0]!.mm).toBeGreaterThan(plate);
  });
});
