/** Golden-section search for the least of a convex function; ties go to the lower end. */
export function convexMinimum(f: (x: number) => number, low: number, high: number, tolerance: number): number {
  const ratio = (Math.sqrt(5) - 1) / 2;
  let a = low;
  let b = high;
  let c = b - ratio * (b - a);
  let d = a + ratio * (b - a);
  let fc = f(c);
  let fd = f(d);
  for (let i = 0; i < 80 && b - a > tolerance; i++) {
    if (fc <= fd) {
      b = d;
      d = c;
      fd = fc;
      c = b - ratio * (b - a);
      fc = f(c);
    } else {
      a = c;
      c = d;
      fc = fd;
      d = a + ratio * (b - a);
      fd = f(d);
    }
  }
  const x = (a + b) / 2;
  return [low, high].reduce((best, end) => (f(end) < f(best) - 1e-12 ? end : best), x);
}
