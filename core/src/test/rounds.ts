/**
 * How often something drawn by chance is tried: as often as it takes to see the fault it guards against, and all of it
 * under `npm run test:thorough`.
 */
export const rounds = (usual: number, all: number): number => (process.env.KEEN_THOROUGH === '1' ? all : usual);
