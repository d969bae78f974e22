/** A mixed-integer programme to be maximised: rows lo ≤ A·x ≤ up, all variables between 0 and their upper bound. */
export interface Programme {
  cost: Float64Array;
  lower: Float64Array;
  upper: Float64Array;
  whole: Uint8Array;
  rowLower: Float64Array;
  rowUpper: Float64Array;
  /** Compressed rows: `starts` has one more than there are rows. */
  starts: Int32Array;
  indices: Int32Array;
  values: Float64Array;
}
export interface SolveOptions {
  timeLimitS: number;
  gap: number;
  /** A solution to begin with. */
  begin?: Float64Array;
  /** Told from time to time: what was found, what is proven. @returns whether to go on */
  progress?: (found: number, bound: number) => boolean;
}
export interface Solved {
  state: 'proven' | 'cut-short' | 'infeasible';
  /** Null where nothing was found. */
  x: Float64Array | null;
  /** No solution is worth more. */
  bound: number;
}
/** Whatever solves programmes: the craft knows none by name. */
export interface Solver {
  maximise: (programme: Programme, options: SolveOptions) => Solved;
}
