import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parseInput } from '../calculation/index.ts';
import { brightness, BrightnessInput } from './brightness.ts';

const at = (more: object = {}) =>
  brightness(
    parseInput(BrightnessInput, {
      moonPhaseAngleDeg: 30,
      moonSeparationDeg: 60,
      moonZenithDeg: 40,
      targetZenithDeg: 20,
      ...more,
    }),
  );

describe('the sky beside the Moon', () => {
  test('a Moon that is down adds nothing, and the sky is the dark one, a little brighter towards the horizon', () => {
    const zenith = at({ moonZenithDeg: 95, targetZenithDeg: 0 });
    expect(zenith).toMatchObject({ moonNl: 0, brighteningMag: 0 });
    expect(zenith.skyMag).toBeCloseTo(21.587, 6);
    expect(at({ moonZenithDeg: 95, targetZenithDeg: 60 }).skyMag).toBeLessThan(21.587);
  });
  test('it is brighter the fuller and the nearer the Moon, over the whole sky', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 170, noNaN: true }),
        fc.double({ min: 11, max: 85, noNaN: true }),
        fc.double({ min: 0, max: 80, noNaN: true }),
        (phase, near, zenith) => {
          const here = { moonPhaseAngleDeg: phase, moonSeparationDeg: near, targetZenithDeg: zenith };
          const one = at(here);
          expect(at({ ...here, moonPhaseAngleDeg: phase + 5 }).moonNl).toBeLessThan(one.moonNl);
          expect(at({ ...here, moonSeparationDeg: near + 4 }).moonNl).toBeLessThan(one.moonNl);
          expect(one.brighteningMag).toBeGreaterThanOrEqual(0);
          // what it adds and what it comes to are one statement
          const dark = at({ ...here, moonZenithDeg: 120 });
          expect(dark.skyMag - one.skyMag).toBeCloseTo(one.brighteningMag, 3);
        },
      ),
      { seed: 1991 },
    );
  });
  test('a phase angle has no sign, and the law’s two pieces meet within a third of a magnitude at 10°', () => {
    expect(at({ moonPhaseAngleDeg: -10 })).toEqual(at({ moonPhaseAngleDeg: 10 }));
    const [inside, outside] = [at({ moonSeparationDeg: 9.99 }).moonNl, at({ moonSeparationDeg: 10 }).moonNl];
    expect(Math.abs(2.5 * Math.log10(inside / outside))).toBeLessThan(0.33);
  });
});
