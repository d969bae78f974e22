import { prism, shadowMap, type PrismInput } from './prism.ts';

/** The sensor as it is looked at for its edges. */
const GRID = { columns: 96, rows: 64 } as const;
/** Deeper than this beyond the clear place no picture would be taken for a shadow at an edge [mm]. */
const DEEPEST_MM = 15;

/**
 * How far a prism has to come out that darkens the middle of an edge by so much: the place at which this rig’s cone would
 * show the same dip is sought, and its way to where no light is touched. The rig’s own note of where the prism stands is
 * not believed: the picture is the later word.
 * @param dipOf the dip of the darkest edge in a picture of the light, as it is measured in frames
 * @returns null where no place shows so deep a dip [mm]
 */
export function prismMoveFor(
  i: PrismInput,
  dip: number,
  dipOf: (light: Float32Array, columns: number, rows: number) => number,
): number | null {
  const { clearInnerEdgeMm } = prism(i);
  const shownAt = (outMm: number) => {
    const map = shadowMap(
      { ...i, prism: { ...i.prism, innerEdgeMm: clearInnerEdgeMm - outMm } },
      GRID.columns,
      GRID.rows,
    );
    return dipOf(
      map.map((blocked) => 1 - blocked),
      GRID.columns,
      GRID.rows,
    );
  };
  const most = Math.min(DEEPEST_MM, clearInnerEdgeMm);
  // the dip grows with the way in, to where the whole strip is dark: the first place that shows it is taken
  const STEPS = 30;
  let [near, far] = [0, -1];
  for (let k = 1; k <= STEPS && far < 0; k++) {
    const at = (most * k) / STEPS;
    if (shownAt(at) >= dip) far = at;
    else near = at;
  }
  if (far < 0) return null;
  for (let n = 0; n < 12; n++) {
    const middle = (near + far) / 2;
    if (shownAt(middle) >= dip) far = middle;
    else near = middle;
  }
  return far;
}
