/** A picture with its sky taken off. */
export interface Flat {
  values: Float32Array;
  w: number;
  h: number;
}

const STRIPS = 8;
/** Share of a pixel, whose middle lies dx, dy from the middle of a circle, that the circle covers; in strips, to a percent. */
function covered(dx: number, dy: number, r: number): number {
  const d = Math.hypot(dx, dy);
  if (d <= r - 0.7072) return 1;
  if (d >= r + 0.7072) return 0;
  let sum = 0;
  for (let i = 0; i < STRIPS; i++) {
    const x = dx - 0.5 + (i + 0.5) / STRIPS;
    const half = r * r - x * x;
    if (half <= 0) continue;
    const reach = Math.sqrt(half);
    sum += Math.max(0, Math.min(reach, dy + 0.5) - Math.max(-reach, dy - 0.5));
  }
  return sum / STRIPS;
}

/** Light around a place, nearest first. */
export class Aperture {
  private readonly dx: Float64Array;
  private readonly dy: Float64Array;
  private readonly d: Float64Array;
  private readonly v: Float64Array;
  /** Light of the pixels up to each, summed. */
  private readonly light: Float64Array;
  private n = 0;
  /** A pixel within has no value. */
  broken = false;

  /** @param radiusPx largest radius that will be asked for */
  constructor(radiusPx: number) {
    const most = (2 * Math.ceil(radiusPx) + 3) ** 2;
    [this.dx, this.dy, this.d, this.v, this.light] = [0, 0, 0, 0, 0].map(() => new Float64Array(most)) as [Float64Array, Float64Array, Float64Array, Float64Array, Float64Array]; // prettier-ignore
  }

  /** Reads what lies within a radius; which must lie inside the picture. */
  read({ values, w, h }: Flat, x: number, y: number, radiusPx: number): void {
    const reach = radiusPx + 0.7072;
    const found: [number, number, number, number][] = [];
    this.broken = false;
    for (let py = Math.max(0, Math.ceil(y - reach)); py <= Math.min(h - 1, y + reach); py++)
      for (let px = Math.max(0, Math.ceil(x - reach)); px <= Math.min(w - 1, x + reach); px++) {
        const [dx, dy] = [px - x, py - y];
        const d = Math.hypot(dx, dy);
        if (d > reach) continue;
        const v = values[py * w + px]!;
        if (v !== v) this.broken = true;
        found.push([d, dx, dy, v]);
      }
    found.sort((a, b) => a[0] - b[0]);
    let sum = 0;
    found.forEach(([d, dx, dy, v], i) => {
      [this.d[i], this.dx[i], this.dy[i], this.v[i]] = [d, dx, dy, v];
      this.light[i] = sum += v;
    });
    this.n = found.length;
  }

  /** How many pixels lie nearer than so far. */
  private within(d: number): number {
    let [lo, hi] = [0, this.n];
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (this.d[mid]! < d) lo = mid + 1;
      else hi = mid;
    }
    return lo;
  }
  /** Light within a radius, each pixel’s spread evenly over it. */
  fluxWithin(r: number): number {
    const whole = this.within(r - 0.7072);
    const touched = this.within(r + 0.7072);
    let sum = whole ? this.light[whole - 1]! : 0;
    for (let i = whole; i < touched; i++) sum += this.v[i]! * covered(this.dx[i]!, this.dy[i]!, r);
    return sum;
  }
  /** Diameter that holds half of the light within a radius. */
  halfFluxDiameter(radiusPx: number): { hfd: number; flux: number } {
    const flux = this.fluxWithin(radiusPx);
    let [lo, hi] = [0, radiusPx];
    for (let i = 0; i < 24; i++) {
      const mid = (lo + hi) / 2;
      if (this.fluxWithin(mid) < flux / 2) lo = mid;
      else hi = mid;
    }
    return { hfd: lo + hi, flux };
  }
  /** Mean light of a pixel between two radii. */
  meanBetween(inner: number, outer: number): number {
    const area = Math.PI * (outer * outer - inner * inner);
    return (this.fluxWithin(outer) - (inner > 0 ? this.fluxWithin(inner) : 0)) / area;
  }
  /** Calls with each pixel nearer than a radius. */
  forEach(r: number, call: (dx: number, dy: number, v: number) => void): void {
    const n = this.within(r);
    for (let i = 0; i < n; i++) call(this.dx[i]!, this.dy[i]!, this.v[i]!);
  }
}
