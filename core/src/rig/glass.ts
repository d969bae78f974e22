/** Of ordinary filter glass. */
export const GLASS_INDEX = 1.52;

/** How far a plane plate moves the focus back [mm]: t(1 − 1/n), paraxial. */
export const plateShiftMm = (thicknessMm: number, refractiveIndex = GLASS_INDEX): number =>
  thicknessMm * (1 - 1 / refractiveIndex);
