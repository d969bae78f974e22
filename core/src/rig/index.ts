export * from './schemas.ts';
export { trainFingerprint, wordPair, filtersOf, changesBetween } from './fingerprint.ts';
