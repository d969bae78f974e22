import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { aspectsOf } from '../aspects.ts';
import { filtersOf } from '../filters.ts';
import { RigBuild } from '../schemas.ts';
import { viewOf } from '../systems.ts';
import { assembleRig, FILTER_SETS, MOUNTS, SENSORS, TUBES, type RigChoices } from './index.ts';

const choices: fc.Arbitrary<RigChoices> = fc.record({
  mount: fc.constantFrom(...MOUNTS),
  tube: fc.constantFrom(...TUBES),
  sensor: fc.constantFrom(...SENSORS),
  bayer: fc.constantFrom(null, 'RGGB' as const),
  guider: fc.constantFrom('none' as const, 'guide-scope' as const, 'off-axis' as const),
  holder: fc.constantFrom('none' as const, 'drawer' as const, 'wheel' as const),
  filters: fc.constantFrom(...FILTER_SETS.map((f) => f.filters as readonly string[]), []),
  dewHeater: fc.boolean(),
  cablesKg: fc.constantFrom(0, 0.4),
});

describe('a rig put together from kinds of things', () => {
  test('whatever is chosen, it is a rig the schema takes, with a filter to plan with', () => {
    fc.assert(
      fc.property(choices, (c) => {
        const build = assembleRig(c);
        expect(RigBuild.safeParse(build).error?.issues ?? []).toEqual([]);
        const view = viewOf(build);
        expect(filtersOf(view).length).toBeGreaterThan(0);
        expect(aspectsOf(view).guideFocus === null).toBe(c.guider !== 'off-axis');
        expect(aspectsOf(view).guiderCalibration === null).toBe(c.guider === 'none');
      }),
      { seed: 23, numRuns: 400 },
    );
  });
  test('the train is filled up to what the corrector asks for, filters’ glass included', () => {
    fc.assert(
      fc.property(choices, (c) => {
        const { train, corrector } = viewOf(assembleRig(c));
        if (!corrector) return;
        const mechanical = train.reduce((s, t) => s + t.lengthMm, 0);
        const glass = train.reduce((s, t) => s + (t.glassMm ?? 0) * (1 - 1 / 1.52), 0);
        // too long a stack cannot be cured by a spacer; too short a one is
        expect(mechanical - corrector.requiredMm - glass).toBeGreaterThan(-0.06);
      }),
      { seed: 24, numRuns: 400 },
    );
  });
  test('every mass and every place says that it is assumed, and by how much it may be off', () => {
    fc.assert(
      fc.property(choices, (c) => {
        for (const p of assembleRig(c).placed) {
          expect([p.massFrom?.kind, p.placeFrom?.kind]).toEqual(['assumed', 'assumed']);
          expect(p.massFrom!.spread! > 0 && p.placeFrom!.spread! > 0).toBe(true);
        }
      }),
      { seed: 25 },
    );
  });
  test('the kits are kinds of things: plausible, and told apart by their names', () => {
    for (const list of [TUBES, SENSORS, MOUNTS]) expect(new Set(list.map((k) => k.label)).size).toBe(list.length);
    for (const t of TUBES) {
      expect(t.focalLengthMm / t.apertureMm).toBeGreaterThan(1.3);
      expect(Math.abs(t.centreMm)).toBeLessThan(t.lengthMm / 2);
      expect(t.obstructionMm).toBeLessThan(t.apertureMm);
    }
  });
});
