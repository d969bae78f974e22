import { describe, expect, test } from '@jest/globals';
import { words } from '../phrases/index.ts';
import type { AspectHashes } from '../rig/index.ts';
import type { PlanSettings } from './plan.ts';
import { planFocus } from './planFocus.ts';
import { planHolds, type PlanBase } from './planHolds.ts';

const settings = (policy: 'offsets' | 'every-change', names = ['L', 'Ha']) =>
  ({ filters: names.map((name) => ({ name, exposureS: 60, quota: 1 })), focus: { policy } }) as unknown as PlanSettings;
const known = (errors: Record<string, number>) => ({
  offsets: Object.fromEntries(Object.entries(errors).map(([f, error]) => [f, { error }])),
  zoneSteps: 40,
});

describe('whether focusing will hold', () => {
  test('focusing on every change, or with one filter, needs no offsets', () => {
    expect(planFocus(settings('every-change'), null, 'amber-heron')).toBeNull();
    expect(planFocus(settings('offsets', ['L']), null, 'amber-heron')).toBeNull();
  });
  test('missing offsets are named with the train they are missing for; weak ones are a caution', () => {
    const none = planFocus(settings('offsets'), null, 'amber-heron')!;
    expect(none.level).toBe('bad');
    expect(none.text).toContain('amber-heron');
    expect(planFocus(settings('offsets'), known({ L: 2 }), 'x')!.text).toContain('No offset is known for Ha');
    // half of a zone of 40 steps: twice the error may be 20
    expect(planFocus(settings('offsets'), known({ L: 2, Ha: 10.1 }), 'x')!.level).toBe('caution');
    expect(planFocus(settings('offsets'), known({ L: 2, Ha: 10 }), 'x')).toBeNull();
    expect(planFocus(settings('offsets'), { ...known({ L: 2, Ha: 99 }), zoneSteps: null }, 'x')).toBeNull();
  });
});

describe('what a plan was made for', () => {
  const aspects = {
    focus: 'f1',
    flats: 'x',
    guideFocus: 'g',
    framing: 'r1',
    guiderCalibration: 'c',
    balance: 'b',
  } as unknown as AspectHashes;
  const base: PlanBase = { aspects, offsetSetId: 'set-1' };
  const codes = (now: PlanBase, policy: 'offsets' | 'every-change' = 'offsets', names?: string[]) =>
    planHolds(base, now, [{ settings: settings(policy, names) }]).map((p) => p.code);
  test('nothing is said while it holds, nor of what does not concern a plan', () => {
    expect(codes(base)).toEqual([]);
    expect(codes({ ...base, aspects: { ...aspects, balance: 'b2', flats: 'y', guideFocus: 'g2' } })).toEqual([]);
    expect(planHolds(null, base, [{ settings: settings('offsets') }])).toEqual([]);
  });
  test('another focus aspect is told once, not again as other offsets; a framing of its own', () => {
    const moved = { aspects: { ...aspects, focus: 'f2', framing: 'r2' }, offsetSetId: 'set-2' };
    expect(codes(moved)).toEqual(['plan.focus-changed', 'plan.framing-changed']);
    expect(codes({ ...base, offsetSetId: 'set-2' })).toEqual(['plan.other-offsets']);
    expect(words(planHolds(base, moved, [{ settings: settings('offsets') }]))).toContain('offsets');
  });
  test('a plan that does not focus by offsets does not mind them', () => {
    expect(codes({ aspects: { ...aspects, focus: 'f2' }, offsetSetId: null }, 'every-change')).toEqual([]);
    expect(codes({ ...base, offsetSetId: null }, 'offsets', ['L'])).toEqual([]);
  });
});
