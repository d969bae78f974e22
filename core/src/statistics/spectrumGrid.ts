import FFT from 'fft.js';

/** Grid places each sample is spread over; four make an error below a hundredth of the peak at the highest frequency. */
const SPREAD = 4;
/** Longest transform; longer ones would need more memory than the sums they spare. */
const LONGEST = 2 ** 21;
/** Denominators of Lagrange's polynomial on four places: 3!·0!, 2!·1!, 1!·2!, 0!·3! with their signs. */
const DENOMINATORS = [-6, 2, -2, 6] as const;

/** Adds a value at a broken place of a periodic grid, so that smooth functions sum as if it stood there. */
function spread(grid: Float64Array, place: number, value: number): void {
  const n = grid.length;
  const whole = Math.floor(place);
  if (place === whole) {
    grid[whole % n]! += value;
    return;
  }
  const first = whole - 1;
  const x = place - first;
  const all = x * (x - 1) * (x - 2) * (x - 3);
  for (let k = 0; k < SPREAD; k++) grid[(first + k + n) % n]! += (value * all) / ((x - k) * DENOMINATORS[k]!);
}

export interface GridSums {
  /** Σ cos², Σ cos·sin, Σ v·cos, Σ v·sin at each frequency. */
  cc: Float64Array;
  cs: Float64Array;
  vc: Float64Array;
  vs: Float64Array;
}

/**
 * The sums a Lomb–Scargle periodogram is made of, at the frequencies j·df for j = 1…most, by two fast Fourier transforms
 * instead of a sum over all samples for each. Source: Press & Rybicki 1989, ApJ 338, 277.
 * @param t times from the first one on, rising
 * @returns null where the transform would be too long
 */
export function gridSums(t: Float64Array, v: Float64Array, df: number, most: number): GridSums | null {
  let n = 64;
  while (n < 2 * SPREAD * (most + 1)) n *= 2;
  if (n > LONGEST) return null;
  const [data, ones] = [new Float64Array(n), new Float64Array(n)];
  const scale = n * df;
  for (let i = 0; i < t.length; i++) {
    const at = (t[i]! - t[0]!) * scale;
    spread(data, at % n, v[i]!);
    spread(ones, (2 * at) % n, 1);
  }
  const fft = new FFT(n);
  const [a, b] = [fft.createComplexArray(), fft.createComplexArray()];
  fft.realTransform(a, data as unknown as number[]);
  fft.realTransform(b, ones as unknown as number[]);
  const make = () => new Float64Array(most + 1);
  const sums: GridSums = { cc: make(), cs: make(), vc: make(), vs: make() };
  for (let j = 0; j <= most; j++) {
    // the transform turns the other way: its imaginary part is −Σ sin
    [sums.vc[j], sums.vs[j]] = [a[2 * j]!, -a[2 * j + 1]!];
    [sums.cc[j], sums.cs[j]] = [(t.length + b[2 * j]!) / 2, -b[2 * j + 1]! / 2];
  }
  return sums;
}
