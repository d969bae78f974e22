import { assess } from './assess.ts';
import { convexMinimum } from '../statistics/index.ts';
import { STANDARD_GRAVITY, type AssessInput } from './schemas.ts';
import { FEASIBLE_NM } from './limits.ts';

export interface RigState {
  name: string;
  input: AssessInput;
}
export interface StateMarks {
  name: string;
  /** Own best slide from the present mark, and own best distance of the weights. */
  slideMm: number;
  distanceMm: number;
  /** Torques left with the common marks. */
  decNm: number;
  raNm: number;
}
export interface CommonMarks {
  slideMm: number;
  distanceMm: number;
  decNm: number;
  raNm: number;
  /** True when one pair of marks keeps every state below the limit on both axes. */
  serves: boolean;
  states: StateMarks[];
}

/**
 * One slide and one place of the weights for several states of a rig: the pair that keeps the worst torque of all states
 * least on each axis. Sideways moment cannot be cured by either and counts as it is. Both searches are over convex
 * functions of one variable.
 */
export function commonMarks(
  states: readonly RigState[],
  slide: { minMm: number; maxMm: number },
  shaft: { min: number; max: number },
): CommonMarks {
  const g = STANDARD_GRAVITY / 1000;
  const facts = states.map((s) => {
    const a = assess(s.input);
    const weights = s.input.counterweights.reduce((sum, w) => sum + w.massKg, 0);
    const shaftMoment = (s.input.shaft?.massKg ?? 0) * (s.input.shaft?.centreMm ?? 0);
    const now = s.input.counterweights.reduce((sum, w) => sum + w.massKg * w.distanceMm, 0);
    const cos = Math.abs(Math.cos((s.input.latitudeDeg * Math.PI) / 180));
    return {
      name: s.name,
      m: a.tubeMassKg,
      y: a.momentKgMm.y,
      z: a.momentKgMm.z,
      tube: a.momentKgMm.x + now + shaftMoment,
      shaftMoment,
      weights,
      cos,
    };
  });
  type Fact = (typeof facts)[number];
  const dec = (f: Fact, s: number) => g * Math.hypot(f.y, f.z + f.m * s);
  const ra = (f: Fact, d: number) => g * f.cos * Math.abs(f.tube - f.shaftMoment - f.weights * d);
  const clamp = (v: number, low: number, high: number) => Math.min(high, Math.max(low, v));
  const worst = (of: (f: Fact) => number) => Math.max(0, ...facts.map(of));
  const slideMm = convexMinimum((s) => worst((f) => dec(f, s)), slide.minMm, slide.maxMm, 1e-4);
  const distanceMm = convexMinimum((d) => worst((f) => ra(f, d)), shaft.min, shaft.max, 1e-4);
  const [decNm, raNm] = [worst((f) => dec(f, slideMm)), worst((f) => ra(f, distanceMm))];
  return {
    slideMm,
    distanceMm,
    decNm,
    raNm,
    serves: decNm < FEASIBLE_NM && raNm < FEASIBLE_NM,
    states: facts.map((f) => ({
      name: f.name,
      slideMm: f.m > 0 ? clamp(-f.z / f.m, slide.minMm, slide.maxMm) : 0,
      distanceMm: f.weights > 0 ? clamp((f.tube - f.shaftMoment) / f.weights, shaft.min, shaft.max) : shaft.min,
      decNm: dec(f, slideMm),
      raNm: ra(f, distanceMm),
    })),
  };
}

/** Torque about declination in a test attitude [N·m], front raised by an angle, tube at the left of the mount. */
export const attitudeTorqueNm = (moment: { y: number; z: number }, attitudeDeg: number): number => {
  const a = (attitudeDeg * Math.PI) / 180;
  return (STANDARD_GRAVITY * (moment.z * Math.cos(a) - moment.y * Math.sin(a))) / 1000;
};
