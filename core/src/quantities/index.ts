export { RAD } from './math.ts';
export { parseQuantity, type Parsed } from './parse.ts';
export { STORED_UNIT, type Dimension } from './units.ts';
export * from './format.ts';
export { readSexagesimal, type Sexagesimal } from './sexagesimal.ts';
export { scaleArcsecPerPx, ARCSEC_UM_PER_MM } from './scale.ts';
export { fieldOfView, FWHM_PER_SIGMA, longOverShort, offAxisDeg, seenDeg, SIDEREAL_ARCSEC_PER_S } from './angles.ts';
export { parseCoordinate, parsePlace, type Place, type PlaceRead } from './place.ts';
