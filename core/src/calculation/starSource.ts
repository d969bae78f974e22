/** Stars by columns, J2000 [deg], V_T magnitudes. */
export interface Stars {
  raDeg: Float64Array;
  decDeg: Float64Array;
  mag: Float64Array;
  length: number;
}

/** A round piece of the sky, down to a magnitude. */
export interface StarCap {
  raDeg: number;
  decDeg: number;
  radiusDeg: number;
  faintestMag: number;
}

/** Where stars come from: files on the server and in the shell, fetched tiles in the browser. */
export type StarSource = (cap: StarCap) => Stars;
