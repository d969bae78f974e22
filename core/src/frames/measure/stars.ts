import { median } from '../../statistics/index.ts';
import { starShape } from './ellipse.ts';
import { starFlare } from './flare.ts';
import type { Group } from './groups.ts';
import { Aperture, type Flat } from './sizes.ts';

/** A star behind sizes and shapes. */
export interface MeasuredStar {
  x: number;
  y: number;
  hfdPx: number;
  coreRatio: number;
  /** Null together, where no ellipse could be fitted. */
  fwhmPx: number | null;
  eccentricity: number | null;
  angleDeg: number | null;
  /** From its core to the centre of its light, in half flux diameters. */
  flare: { x: number; y: number } | null;
}

/** Circle in which a star is measured: the first, the least and the widest [px], and times the half flux diameter. */
const RADIUS = { first: 12, least: 8, most: 50, perHfd: 1.5 };
const MOST_ROUNDS = 5;
const PER_CELL = 100;
/** Another group with a peak of so many times the noise disturbs within 1.5 radii. */
const DISTURBS = { noise: 5, radii: 1.5 };
/** Half the light of a star stands so many times above the noise of the circle that holds it. */
const CLEAR = 40;

/** Groups by place, to find neighbours. */
class Nearby {
  private readonly side: number;
  private readonly cells = new Map<string, Group[]>();
  constructor(groups: readonly Group[], side: number) {
    this.side = side;
    for (const g of groups) {
      const key = this.key(g.x, g.y);
      const here = this.cells.get(key);
      if (here) here.push(g);
      else this.cells.set(key, [g]);
    }
  }
  private key = (x: number, y: number) => `${Math.floor(x / this.side)} ${Math.floor(y / this.side)}`;
  /** Whether another group lies nearer than the side. */
  disturbed(of: Group): boolean {
    for (const i of [-1, 0, 1])
      for (const j of [-1, 0, 1])
        for (const g of this.cells.get(this.key(of.x + i * this.side, of.y + j * this.side)) ?? [])
          if (g !== of && Math.hypot(g.x - of.x, g.y - of.y) < this.side) return true;
    return false;
  }
}

/**
 * Sizes and shapes of the clean stars: not full, away from borders and neighbours, clear of the noise; of these the
 * brightest of each of nine cells. The radius within which light counts follows from their size, round by round.
 */
export function measuredStars(
  picture: Flat,
  groups: readonly Group[],
  stars: readonly Group[],
  noise: number,
): { used: MeasuredStar[]; radiusPx: number } {
  const { w, h } = picture;
  const disturbing = groups.filter((g) => g.peak >= DISTURBS.noise * noise);
  const cellOf = (g: Group) =>
    3 * Math.min(2, Math.floor((3 * (g.y + 0.5)) / h)) + Math.min(2, Math.floor((3 * (g.x + 0.5)) / w));
  const bright = stars.filter((s) => !s.saturated).sort((a, b) => b.flux - a.flux);
  const sized = (radiusPx: number) => {
    const near = new Nearby(disturbing, DISTURBS.radii * radiusPx);
    const aperture = new Aperture(radiusPx);
    const perCell = new Array<number>(9).fill(0);
    const found: { star: Group; hfd: number }[] = [];
    for (const star of bright) {
      const cell = cellOf(star);
      if (perCell[cell]! >= PER_CELL) continue;
      const { x, y } = star;
      if (Math.min(x, y, w - 1 - x, h - 1 - y) < radiusPx || near.disturbed(star)) continue;
      aperture.read(picture, x, y, radiusPx);
      if (aperture.broken) continue;
      const { hfd, flux } = aperture.halfFluxDiameter(radiusPx);
      if (!(flux / 2 >= CLEAR * noise * hfd * Math.sqrt(Math.PI / 4))) continue;
      perCell[cell]!++;
      found.push({ star, hfd });
    }
    return found;
  };
  let radiusPx = RADIUS.first;
  let found = sized(radiusPx);
  for (let round = 0; round < MOST_ROUNDS && found.length; round++) {
    const wanted = Math.min(
      RADIUS.most,
      Math.max(RADIUS.least, Math.ceil(RADIUS.perHfd * median(found.map((f) => f.hfd)))),
    );
    if (wanted === radiusPx) break;
    radiusPx = wanted;
    found = sized(radiusPx);
  }
  const aperture = new Aperture(radiusPx);
  const used = found.map(({ star, hfd }): MeasuredStar => {
    aperture.read(picture, star.x, star.y, radiusPx);
    const shape = starShape(aperture, radiusPx, hfd);
    const coreRatio = aperture.meanBetween(0, 0.2 * hfd) / aperture.meanBetween(0.3 * hfd, 0.5 * hfd);
    return {
      x: star.x,
      y: star.y,
      hfdPx: hfd,
      coreRatio,
      fwhmPx: shape?.fwhmPx ?? null,
      eccentricity: shape?.eccentricity ?? null,
      angleDeg: shape?.angleDeg ?? null,
      flare: starFlare(aperture, radiusPx, hfd),
    };
  });
  return { used, radiusPx };
}
