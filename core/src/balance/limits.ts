/** Residual torque below which an axis counts as balanced [N·m]; common practice, no source. */
export const FEASIBLE_NM = 0.05;
/** Torque from which an axis is badly out of balance [N·m]; common practice, no source. */
export const BAD_NM = 0.5;
/** Share of a mount’s rated load that most stay below for imaging; common practice, no source. */
export const USUAL_LOAD_SHARE = 0.6;

/** What a load says by itself, as a share of the rated one. */
export const loadLevel = (share: number): 'good' | 'caution' | 'bad' =>
  share > 1 ? 'bad' : share > USUAL_LOAD_SHARE ? 'caution' : 'good';
