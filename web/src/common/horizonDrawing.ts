import { horizonAt, type HorizonPoint } from '@keen/core/sky';

/** Width of a drawn step [deg]. */
export const STEP_DEG = 5;

/**
 * A horizon with a stroke drawn over it: the stroke's stretch takes the stroke's heights, the rest keeps its own. The result
 * stands on whole steps, points that the line between their neighbours gives are left out.
 */
export function drawnHorizon(before: readonly HorizonPoint[], from: HorizonPoint, to: HorizonPoint): HorizonPoint[] {
  const [a, b] = from.azimuthDeg <= to.azimuthDeg ? [from, to] : [to, from];
  const lo = Math.floor(a.azimuthDeg / STEP_DEG) * STEP_DEG;
  const hi = Math.ceil(b.azimuthDeg / STEP_DEG) * STEP_DEG;
  const heights: number[] = [];
  for (let az = 0; az < 360; az += STEP_DEG) {
    const on = az >= lo && az <= hi;
    const share = b.azimuthDeg > a.azimuthDeg ? (az - a.azimuthDeg) / (b.azimuthDeg - a.azimuthDeg) : 1;
    const drawn = a.altitudeDeg + Math.min(1, Math.max(0, share)) * (b.altitudeDeg - a.altitudeDeg);
    heights.push(on ? Math.round(drawn) : Math.round(horizonAt(before, az)));
  }
  const n = heights.length;
  const needed = heights.flatMap((h, i) => {
    const [p, q] = [heights[(i + n - 1) % n]!, heights[(i + 1) % n]!];
    return Math.abs(h - (p + q) / 2) > 0.01 || i === 0 ? [{ azimuthDeg: i * STEP_DEG, altitudeDeg: h }] : [];
  });
  return needed;
}
