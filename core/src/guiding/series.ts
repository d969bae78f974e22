import type { Axis, LogSample } from './logSample.ts';
import { mean } from '../statistics/index.ts';

/** Neighbours farther apart than this many median cadences are none. */
const NEIGHBOUR_CADENCES = 2.5;
/** A period is believed below this false-alarm probability. */
export const FALSE_ALARM = 0.001;

/** Slope [per second], mean and variance of a series about its mean. */
export function line(t: readonly number[], v: readonly number[]) {
  const [mt, mv] = [mean(t), mean(v)];
  let [tt, tv, vv] = [0, 0, 0];
  for (let i = 0; i < t.length; i++) {
    tt += (t[i]! - mt) ** 2;
    tv += (t[i]! - mt) * (v[i]! - mv);
    vv += (v[i]! - mv) ** 2;
  }
  const slope = tt > 0 ? tv / tt : 0;
  return { slope, meanT: mt, meanV: mv, variance: vv / t.length };
}

/** Mean product of neighbours about the mean, over the variance. */
export function lagOne(all: readonly LogSample[], used: readonly boolean[], axis: Axis, cadence: number): number {
  let [m, count] = [0, 0];
  for (let i = 0; i < all.length; i++)
    if (used[i]) {
      m += all[i]![axis];
      count++;
    }
  m /= count;
  let variance = 0;
  for (let i = 0; i < all.length; i++) if (used[i]) variance += (all[i]![axis] - m) ** 2;
  variance /= count;
  let [sum, n] = [0, 0];
  for (let i = 1; i < all.length; i++) {
    if (!used[i] || !used[i - 1] || all[i]!.timeS - all[i - 1]!.timeS > NEIGHBOUR_CADENCES * cadence) continue;
    sum += (all[i]![axis] - m) * (all[i - 1]![axis] - m);
    n++;
  }
  return n > 0 && variance > 0 ? sum / n / variance : 0;
}
