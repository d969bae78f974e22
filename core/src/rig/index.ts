export * from './schemas.ts';
export { INVALID, invalidatedBy, type Invalid } from './fingerprint.ts';
export { trainFingerprint, wordPair, filtersOf, changesBetween } from './fingerprint.ts';
