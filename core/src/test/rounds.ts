/** Whether all of it is asked for: `npm run test:thorough`. */
export const THOROUGH = process.env.KEEN_THOROUGH === '1';

/**
 * How often something drawn by chance is tried: as often as it takes to see the fault it guards against, and all of it
 * under `npm run test:thorough`.
 */
export const rounds = (usual: number, all: number): number => (THOROUGH ? all : usual);

/** Of cases of one kind every so many, with the first and the last; all of them under `npm run test:thorough`. */
export const everyNth = <T>(cases: readonly T[], step: number): readonly T[] =>
  THOROUGH ? cases : cases.filter((_, i) => i % step === 0 || i === cases.length - 1);
