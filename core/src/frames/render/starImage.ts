/** Width of a star by direction: FWHM² as a symmetric form [px²]. */
export interface WidthForm {
  xx: number;
  xy: number;
  yy: number;
}
/** Exponent of the wings of a star in air that is not too bad; Moffat (1969), A&A 3, 455, found 2.5 to 4 (from memory). */
const BETA = 3.5;
/** Shadow of a secondary mirror, as a share of the disk far out of focus; invented. */
const OBSTRUCTION = 0.35;

/** Adds a broadening along a direction [px FWHM]. */
export function broadened(w: WidthForm, fwhmPx: number, angleDeg: number): WidthForm {
  const [c, s] = [Math.cos((angleDeg * Math.PI) / 180), Math.sin((angleDeg * Math.PI) / 180)];
  const f = fwhmPx * fwhmPx;
  return { xx: w.xx + f * c * c, xy: w.xy + f * c * s, yy: w.yy + f * s * s };
}

/**
 * Adds a star’s electrons to a picture: an elliptical Moffat profile of a width by direction.
 * @param faintest light of a pixel below which it is left out, far beyond the width
 */
export function addStar(
  into: Float32Array,
  w: number,
  h: number,
  star: { x: number; y: number; electrons: number },
  width: WidthForm,
  faintest: number,
): void {
  const half = 2 ** (1 / BETA) - 1;
  // q = dᵀCd with q = half on the ellipse of half the peak, whose axes are half the widths
  const determinant = width.xx * width.yy - width.xy ** 2;
  const k = (4 * half) / determinant;
  const [cxx, cxy, cyy] = [k * width.yy, -k * width.xy, k * width.xx];
  const peak = (star.electrons * (BETA - 1) * Math.sqrt(cxx * cyy - cxy * cxy)) / Math.PI;
  const long = Math.sqrt(Math.max(width.xx, width.yy));
  // as far out as it still adds anything, ten widths at most
  const far = (long / 2) * Math.sqrt(Math.max(1, (peak / faintest) ** (1 / BETA) - 1) / half);
  const reach = Math.ceil(Math.min(10 * long, far)) + 1;
  // a narrow core changes within a pixel: there each is the mean of nine places
  const core = long < 8 ? 1.5 * long : 0;
  const [x0, y0] = [Math.round(star.x), Math.round(star.y)];
  const at = (dx: number, dy: number) =>
    Math.exp(-BETA * Math.log1p(cxx * dx * dx + 2 * cxy * dx * dy + cyy * dy * dy));
  for (let y = Math.max(0, y0 - reach); y <= Math.min(h - 1, y0 + reach); y++)
    for (let x = Math.max(0, x0 - reach); x <= Math.min(w - 1, x0 + reach); x++) {
      const [dx, dy] = [x - star.x, y - star.y];
      if (Math.abs(dx) > core || Math.abs(dy) > core) {
        into[y * w + x]! += peak * at(dx, dy);
        continue;
      }
      let sum = 0;
      for (let i = -1; i <= 1; i++) for (let j = -1; j <= 1; j++) sum += at(dx + i / 3, dy + j / 3);
      into[y * w + x]! += (peak * sum) / 9;
    }
}

/** The same far out of focus: a disk with a hole, its edges softened by the air. */
export function addRing(
  into: Float32Array,
  w: number,
  h: number,
  star: { x: number; y: number; electrons: number },
  diameterPx: number,
  seeingFwhmPx: number,
): void {
  const [outer, inner, soft] = [diameterPx / 2, (OBSTRUCTION * diameterPx) / 2, Math.max(0.5, seeingFwhmPx / 2.355)];
  const reach = Math.ceil(outer + 4 * soft);
  const step = (d: number) => 1 / (1 + Math.exp(-1.7 * (d / soft)));
  const level = star.electrons / (Math.PI * (outer * outer - inner * inner));
  for (let y = Math.max(0, Math.ceil(star.y - reach)); y <= Math.min(h - 1, star.y + reach); y++)
    for (let x = Math.max(0, Math.ceil(star.x - reach)); x <= Math.min(w - 1, star.x + reach); x++) {
      const d = Math.hypot(x - star.x, y - star.y);
      into[y * w + x]! += level * step(outer - d) * step(d - inner);
    }
}

/** Rings of the aperture, and places on the circle of each, that draw a coma: enough that no spot stands alone in any seeing. */
const RINGS = 4;
const PLACES = 6;
/**
 * The light of a star under coma, as spots of equal light: rays through a ring of the aperture of radius ρ fall onto a
 * circle of radius ρ²·c about a point 2·ρ²·c from the core, so that the centre of all light lies c away from the core.
 * Source: W. T. Welford, Aberrations of Optical Systems (1986), ch. 8 (from memory).
 */
export function comaSpots(c: { x: number; y: number }): readonly { dx: number; dy: number; share: number }[] {
  const length = Math.hypot(c.x, c.y);
  if (length === 0) return [{ dx: 0, dy: 0, share: 1 }];
  const [ux, uy] = [c.x / length, c.y / length];
  const share = 1 / (RINGS * PLACES);
  return Array.from({ length: RINGS * PLACES }, (_, i) => {
    // rings of equal area; once about a ring of the aperture is twice about its circle
    const squared = (Math.floor(i / PLACES) + 0.5) / RINGS;
    const turn = (2 * Math.PI * ((i % PLACES) + 0.5)) / PLACES;
    const [along, across] = [squared * length * (2 + Math.cos(turn)), squared * length * Math.sin(turn)];
    return { dx: along * ux - across * uy, dy: along * uy + across * ux, share };
  });
}
