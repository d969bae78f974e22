interface Place {
  raDeg: number;
  decDeg: number;
}

/**
 * Where the frames of a leg lie, J2000 [deg]: at their panel, else where the framing was pinned, which every night
 * repeats, else at the object.
 * @param panels of the mosaic as the leg’s camera sees it; empty where the project is one field
 */
export const pointingOf = <P extends Place>(
  project: P & { framing: P | null },
  panel: number | null,
  panels: readonly P[],
): P => (panel === null ? null : panels[panel]) ?? project.framing ?? project;

/** The same as a bare place. */
export const pointedAt = (
  project: Place & { framing: Place | null },
  panel: number | null,
  panels: readonly Place[],
): Place => {
  const { raDeg, decDeg } = pointingOf<Place>(project, panel, panels);
  return { raDeg, decDeg };
};
