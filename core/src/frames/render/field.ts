import { seeded } from '../../statistics/index.ts';
import { project, type StarSource } from '../../sky/index.ts';
import type { DrawnStar } from './render.ts';

/** Where a camera looks and how it takes light. */
export interface DrawnField {
  raDeg: number;
  decDeg: number;
  /** Of the picture’s top, north through east [deg]. */
  angleDeg: number;
  scaleArcsecPerPx: number;
  widthPx: number;
  heightPx: number;
  /** Electrons that a star of magnitude 0 would leave in the frame. */
  magZeroElectrons: number;
  /** Fainter stars leave too little to be drawn. */
  faintestMag: number;
  seed: number;
}
/** The catalogue thins out beyond this; below it stars are invented. */
const CATALOGUE_MAG = 11;
/** Stars become so many times as many with each magnitude; about right away from the Milky Way. */
const PER_MAG = 2.4;
/** Electrons of the faintest star worth drawing. */
const BRIGHTEST_MAG = 2;

/** Stars of the catalogue in a camera’s field, as places and electrons; fainter ones than it holds are invented. */
export function fieldStars(f: DrawnField, source: StarSource): DrawnStar[] {
  const mmPerPx = 1;
  const focalLengthMm = (206_264.806 / f.scaleArcsecPerPx) * mmPerPx;
  const radiusDeg = (Math.hypot(f.widthPx, f.heightPx) / 2) * (f.scaleArcsecPerPx / 3600) * 1.05;
  const stars = source({
    raDeg: f.raDeg,
    decDeg: f.decDeg,
    radiusDeg,
    faintestMag: Math.min(f.faintestMag, CATALOGUE_MAG),
  });
  const placed = project(stars, f, focalLengthMm);
  const [c, s] = [Math.cos((f.angleDeg * Math.PI) / 180), Math.sin((f.angleDeg * Math.PI) / 180)];
  const electrons = (mag: number) => f.magZeroElectrons * 10 ** (-0.4 * mag);
  const drawn: DrawnStar[] = [];
  for (let i = 0; i < placed.length; i++) {
    const mag = stars.mag[placed.index[i]!]!;
    if (mag < BRIGHTEST_MAG) continue;
    // the top of the picture lies at the angle; east is left of it
    const [e, n] = [placed.eastMm[i]!, placed.northMm[i]!];
    const x = f.widthPx / 2 - 0.5 - (e * c - n * s);
    const y = f.heightPx / 2 - 0.5 + (n * c + e * s);
    if (x < -20 || y < -20 || x > f.widthPx + 20 || y > f.heightPx + 20) continue;
    drawn.push({ x, y, electrons: electrons(mag) });
  }
  const random = seeded(f.seed).fork('faint stars');
  const known = Math.max(4, drawn.length);
  const faintest = Math.max(0, f.faintestMag - CATALOGUE_MAG);
  const more = Math.round(known * (PER_MAG ** faintest - 1));
  for (let i = 0; i < Math.min(more, 20_000); i++) {
    // each magnitude holds PER_MAG times as many as the one before
    const mag = CATALOGUE_MAG + Math.log(1 + random.next() * (PER_MAG ** faintest - 1)) / Math.log(PER_MAG);
    drawn.push({ x: random.next() * f.widthPx, y: random.next() * f.heightPx, electrons: electrons(mag) });
  }
  return drawn;
}

/** Stars anywhere, for a field nobody looks up: as many as are wished, brightness falling off as in the sky. */
export function inventedStars(of: {
  widthPx: number;
  heightPx: number;
  count: number;
  faintestElectrons: number;
  seed: number;
}): DrawnStar[] {
  const random = seeded(of.seed).fork('stars');
  return Array.from({ length: of.count }, () => ({
    x: random.next() * (of.widthPx - 1),
    y: random.next() * (of.heightPx - 1),
    // numbers grow by PER_MAG a magnitude: flux above a bound falls off as a power
    electrons: of.faintestElectrons * Math.max(1e-4, 1 - random.next()) ** (-0.4 / Math.log10(PER_MAG)),
  }));
}
