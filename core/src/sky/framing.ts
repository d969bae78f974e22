import { separationDeg } from './separation.ts';
import { turn } from './starTiles.ts';
import { RAD, offAxisDeg } from '../quantities/index.ts';

/**
 * The place behind a point of the focal plane, the inverse of the gnomonic projection.
 * @param eastMm, northMm from the centre, at a focal length
 */
export function skyPlace(
  centre: { raDeg: number; decDeg: number },
  eastMm: number,
  northMm: number,
  focalLengthMm: number,
): { raDeg: number; decDeg: number } {
  const [x, y] = [eastMm / focalLengthMm, northMm / focalLengthMm];
  const [s, c] = [Math.sin(centre.decDeg * RAD), Math.cos(centre.decDeg * RAD)];
  const along = c - y * s;
  return {
    raDeg: turn(centre.raDeg + Math.atan2(x, along) / RAD),
    decDeg: Math.atan2(s + y * c, Math.hypot(x, along)) / RAD,
  };
}

/** Position angle from one place to another [deg], north through east. */
export function positionAngle(from: { raDeg: number; decDeg: number }, to: { raDeg: number; decDeg: number }): number {
  const da = (to.raDeg - from.raDeg) * RAD;
  const [s0, c0] = [Math.sin(from.decDeg * RAD), Math.cos(from.decDeg * RAD)];
  const [s1, c1] = [Math.sin(to.decDeg * RAD), Math.cos(to.decDeg * RAD)];
  return turn(Math.atan2(c1 * Math.sin(da), c0 * s1 - s0 * c1 * Math.cos(da)) / RAD);
}

/** One field of a mosaic: where to point, and the angle that keeps its edges parallel to its neighbours'. */
export interface Panel {
  column: number;
  row: number;
  raDeg: number;
  decDeg: number;
  angleDeg: number;
  /** Centre in the plane of the whole, across and up along the picture's edges [mm]. */
  acrossMm: number;
  upMm: number;
}

export interface Mosaic {
  raDeg: number;
  decDeg: number;
  /** Position angle of the picture's upper edge's direction, north through east. */
  angleDeg: number;
  focalLengthMm: number;
  sensorMm: { width: number; height: number };
  columns: number;
  rows: number;
  /** Share of a panel's side that repeats the neighbour's, 0…0.6. */
  overlap: number;
}

/**
 * Panels of a mosaic, left to right and top to bottom as the picture is seen (north up, east left at angle 0). All lie
 * in one tangent plane; each gets its own angle, because north turns across a wide field.
 */
export function panelsOf(m: Mosaic): Panel[] {
  const [s, c] = [Math.sin(m.angleDeg * RAD), Math.cos(m.angleDeg * RAD)];
  const step = { x: m.sensorMm.width * (1 - m.overlap), y: m.sensorMm.height * (1 - m.overlap) };
  const panels: Panel[] = [];
  for (let row = 0; row < m.rows; row++)
    for (let column = 0; column < m.columns; column++) {
      // to the left of the picture is east while its top is north
      const left = ((m.columns - 1) / 2 - column) * step.x;
      const up = ((m.rows - 1) / 2 - row) * step.y;
      const at = (l: number, u: number) => skyPlace(m, l * c + u * s, u * c - l * s, m.focalLengthMm);
      const centre = at(left, up);
      const angleDeg = m.columns * m.rows === 1 ? m.angleDeg : positionAngle(centre, at(left, up + step.y / 100));
      panels.push({ column, row, ...centre, angleDeg: turn(angleDeg), acrossMm: -left, upMm: up });
    }
  return panels;
}

/**
 * The panel a picture belongs to: the one whose centre lies nearest, within half its diagonal.
 * @returns its place in the list; null where the picture lies beside all of them
 */
export function panelAt(
  place: { raDeg: number; decDeg: number },
  panels: readonly Panel[],
  m: Pick<Mosaic, 'focalLengthMm' | 'sensorMm'>,
): number | null {
  const reachDeg = offAxisDeg(Math.hypot(m.sensorMm.width, m.sensorMm.height) / 2, m.focalLengthMm);
  const offs = panels.map((p) => separationDeg(p, place));
  const nearest = offs.indexOf(Math.min(...offs));
  return nearest >= 0 && offs[nearest]! <= reachDeg ? nearest : null;
}

/**
 * An ellipse on the sky as a closed line of places, counter-clockwise as drawn with the west to the right.
 * @param paDeg  position angle of the long axis, north through east
 * @param points  how many; the first stands again at the end
 */
export function skyEllipse(
  centre: { raDeg: number; decDeg: number },
  majorDeg: number,
  minorDeg: number,
  paDeg: number,
  points = 72,
): { raDeg: number; decDeg: number }[] {
  const [s, c] = [Math.sin(paDeg * RAD), Math.cos(paDeg * RAD)];
  return Array.from({ length: points + 1 }, (_, i) => {
    const t = (2 * Math.PI * i) / points;
    const along = Math.tan((majorDeg / 2) * RAD) * Math.cos(t);
    const across = Math.tan((minorDeg / 2) * RAD) * Math.sin(t);
    return skyPlace(centre, along * s + across * c, along * c - across * s, 1);
  });
}
