import { describe, expect, test } from '@jest/globals';
import { RIGS } from '@keen/demo';
import { parseInput } from '../calculation/index.ts';
import type { RigSetup } from '../rig/index.ts';
import { guidePath, GuidePathInput } from './guidePath.ts';
import { offAxisSigns } from './offAxisSigns.ts';
import { filterShiftMm, guidePathInputOf, guiderAt, prismInputOf } from './ofRig.ts';
import { prism, PrismInput } from './prism.ts';
import { words } from '../phrases/index.ts';

const astrograph = RIGS.find((r) => r.key === 'astrograph')!.setup;
/** Signs of the astrograph after a change to its guider. */
function signsAfter(change: (s: RigSetup) => void) {
  const setup = structuredClone(astrograph);
  change(setup);
  const found = prism(parseInput(PrismInput, prismInputOf(setup)));
  const path = guidePath(parseInput(GuidePathInput, guidePathInputOf(setup)));
  return { signs: offAxisSigns(found, setup.offAxis!.prism.innerEdgeMm, path), found, path };
}
/** A prism just clear of the light, and a guide side of just the right length. */
function healthy(s: RigSetup) {
  const g = s.offAxis!;
  g.prism.innerEdgeMm = prism(parseInput(PrismInput, prismInputOf(s))).clearInnerEdgeMm + 0.1;
  const path = guidePath(parseInput(GuidePathInput, guidePathInputOf(s)));
  g.spacersMm = Math.max(0, g.spacersMm + path.shortfallMm);
}

describe('what is seen in the dark', () => {
  test('a guider that is right shows none of it, and every row still says where to look', () => {
    const { signs } = signsAfter(healthy);
    expect(signs.map((s) => s.on)).toEqual([false, false, false, false]);
    for (const s of signs) expect(words(s.cure).length).toBeGreaterThan(20);
  });
  test('a prism in the light: how far outward, to the very place the search found', () => {
    const { signs, found } = signsAfter((s) => {
      healthy(s);
      s.offAxis!.prism.innerEdgeMm -= 2;
    });
    expect(signs[0]!.on).toBe(true);
    expect(words(signs[0]!.cure)).toContain(`1.9\u202fmm outward, to ${found.clearInnerEdgeMm.toFixed(1)}\u202fmm`);
  });
  test('a window beyond the image circle looks dark, and is told to come inward', () => {
    const { signs } = signsAfter((s) => {
      healthy(s);
      s.offAxis!.prism.innerEdgeMm = 30;
    });
    expect(signs[1]!).toMatchObject({ on: true, cure: { code: 'signs.beyond-circle' } });
    expect(signs[0]!.on).toBe(false);
  });
  test.each([
    ['short', -6, 'add a spacer of that length'],
    ['long', 9, 'take a spacer out'],
  ])('a guide side that is too %s', (_, mm, cure) => {
    const { signs, path } = signsAfter((s) => {
      healthy(s);
      s.offAxis!.holderMm += mm;
    });
    expect(path.reachable).toBe(false);
    expect(signs[2]!.on).toBe(true);
    expect(words(signs[2]!.cure)).toContain(cure.replace(/(\d) mm/, '$1\u202fmm'));
  });
});

test('a filter as thick as the one behind the guider moves nothing; a millimetre more moves a third of one', () => {
  const glass = astrograph.train.slice(guiderAt(astrograph) + 1).reduce((sum, p) => sum + (p.glassMm ?? 0), 0);
  expect(glass).toBeGreaterThan(0);
  expect(filterShiftMm(astrograph, glass)).toBeCloseTo(0, 9);
  expect(filterShiftMm(astrograph, glass + 1)).toBeCloseTo(1 - 1 / 1.52, 9);
});
