/** One line of a guide log; errors on the sky, pulses that move the pointing, east and north positive. */
export interface LogSample {
  timeS: number;
  raArcsec: number;
  decArcsec: number;
  raPulseMs: number;
  decPulseMs: number;
  snr?: number;
  state: 'guiding' | 'settling' | 'dithering' | 'lost' | 'off';
}
export type Axis = 'raArcsec' | 'decArcsec';
export type Pulse = 'raPulseMs' | 'decPulseMs';

export interface Masks {
  /** Locked on something that does not move. */
  locked: boolean[];
  /** Guided (or measured) and not locked: what the tests look at. */
  clean: boolean[];
  /** The same with settling samples, for backlash. */
  withSettling: boolean[];
}

const WINDOW = 20;
/** Scatter no star through air can have [″]. */
const STILL_ARCSEC = 0.08;
const BRIDGE_S = 120;

/** Standard deviation over every window of so many values, by running sums; index is the window's first value. */
function windowScatter(v: readonly number[], width: number): number[] {
  const out: number[] = [];
  const base = v[0] ?? 0;
  let [sum, squares] = [0, 0];
  for (let i = 0; i < v.length; i++) {
    const x = v[i]! - base;
    sum += x;
    squares += x * x;
    if (i >= width) {
      const old = v[i - width]! - base;
      sum -= old;
      squares -= old * old;
    }
    if (i >= width - 1) out.push(Math.sqrt(Math.max(0, squares / width - (sum / width) ** 2)));
  }
  return out;
}

/** Which samples hang on something that stands still, and which may be judged. */
export function marked(samples: readonly LogSample[]): Masks {
  const seen = samples.flatMap((s, i) => (s.state === 'lost' ? [] : [i]));
  const scatter = (axis: Axis) =>
    windowScatter(
      seen.map((i) => samples[i]![axis]),
      WINDOW,
    );
  const [ra, dec] = [scatter('raArcsec'), scatter('decArcsec')];
  const locked = samples.map(() => false);
  ra.forEach((r, k) => {
    if (r < STILL_ARCSEC && dec[k]! < STILL_ARCSEC) for (let j = k; j < k + WINDOW; j++) locked[seen[j]!] = true;
  });
  let last = -1;
  locked.forEach((on, i) => {
    if (!on) return;
    if (last >= 0 && i > last + 1 && samples[i]!.timeS - samples[last]!.timeS < BRIDGE_S)
      for (let j = last + 1; j < i; j++) locked[j] = true;
    last = i;
  });
  const guided = samples.some((s) => s.state === 'guiding');
  const judged = (s: LogSample) => s.state === (guided ? 'guiding' : 'off');
  return {
    locked,
    clean: samples.map((s, i) => judged(s) && !locked[i]),
    withSettling: samples.map((s, i) => (judged(s) || s.state === 'settling') && !locked[i]),
  };
}
