export * from './schemas.ts';
export {
  ASPECTS,
  aspectsOf,
  countedMm,
  holds,
  spoiledBy,
  trainFingerprint,
  type Aspect,
  type AspectHashes,
  type MadeUnder,
} from './aspects.ts';
export { angleUnsure, changesBetween, windowMoved, type RigChange } from './changes.ts';
export { filtersOf, isFixedFilter, NO_FILTER } from './filters.ts';
export { shortSideArcmin } from './field.ts';
export { GLASS_INDEX, plateShiftMm } from './glass.ts';
export { hashOf } from './hash.ts';
export { buildOf, freeKey, systemOf, viewOf, withView } from './systems.ts';
export { wordPair } from './wordPair.ts';
export * from './kits/index.ts';
