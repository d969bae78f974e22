/** A picture with its sky taken off. */
export interface Flat {
  values: Float32Array;
  w: number;
  h: number;
}

/** Strips that a pixel on the edge is cut into: more of them where the circle is no larger than a few pixels. */
const STRIPS = { small: 32, usual: 8, upTo: 2 };
/** Half the diagonal of a pixel: one whose middle lies farther from a circle’s edge is wholly in or out. */
const BESIDE = Math.SQRT1_2;
/** Share of a pixel, whose middle lies dx, dy from the middle of a circle, that the circle covers; in strips, to a percent. */
function covered(dx: number, dy: number, r: number): number {
  const strips = r < STRIPS.upTo ? STRIPS.small : STRIPS.usual;
  let sum = 0;
  for (let i = 0; i < strips; i++) {
    const x = dx - 0.5 + (i + 0.5) / strips;
    const half = r * r - x * x;
    if (half <= 0) continue;
    const reach = Math.sqrt(half);
    sum += Math.max(0, Math.min(reach, dy + 0.5) - Math.max(-reach, dy - 0.5));
  }
  return sum / strips;
}

/** Light around a place. */
export class Aperture {
  private readonly dx: Float64Array;
  private readonly dy: Float64Array;
  private readonly d: Float64Array;
  private readonly v: Float64Array;
  private n = 0;
  /** A pixel within has no value. */
  broken = false;

  /** @param radiusPx largest radius that will be asked for */
  constructor(radiusPx: number) {
    const most = (2 * Math.ceil(radiusPx) + 3) ** 2;
    [this.dx, this.dy, this.d, this.v] = [0, 0, 0, 0].map(() => new Float64Array(most)) as [
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
    ];
  }

  /** Reads what lies within a radius; which must lie inside the picture. */
  read({ values, w, h }: Flat, x: number, y: number, radiusPx: number): void {
    const reach = radiusPx + BESIDE;
    this.broken = false;
    this.n = 0;
    for (let py = Math.max(0, Math.ceil(y - reach)); py <= Math.min(h - 1, y + reach); py++)
      for (let px = Math.max(0, Math.ceil(x - reach)); px <= Math.min(w - 1, x + reach); px++) {
        const [dx, dy] = [px - x, py - y];
        const d = Math.sqrt(dx * dx + dy * dy);
        if (d > reach) continue;
        const v = values[py * w + px]!;
        if (v !== v) this.broken = true;
        const i = this.n++;
        this.dx[i] = dx;
        this.dy[i] = dy;
        this.d[i] = d;
        this.v[i] = v;
      }
  }

  /** Light within a radius, each pixel’s spread evenly over it. */
  fluxWithin(r: number): number {
    const { d, v, dx, dy, n } = this;
    let sum = 0;
    for (let i = 0; i < n; i++) {
      const away = d[i]! - r;
      if (away <= -BESIDE) sum += v[i]!;
      else if (away < BESIDE) sum += v[i]! * covered(dx[i]!, dy[i]!, r);
    }
    return sum;
  }
  /** Diameter that holds half of the light within a radius. */
  halfFluxDiameter(radiusPx: number): { hfd: number; flux: number } {
    const flux = this.fluxWithin(radiusPx);
    let [lo, hi] = [0, radiusPx];
    for (let i = 0; i < 18; i++) {
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
    for (let i = 0; i < this.n; i++) if (this.d[i]! < r) call(this.dx[i]!, this.dy[i]!, this.v[i]!);
  }
}
