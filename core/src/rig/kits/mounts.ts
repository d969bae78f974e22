import type { MountKit } from './kit.ts';

/** Mounts by drive and load; typical values, common practice, no source. */
export const MOUNTS: readonly MountKit[] = [
  { key: 'tracker', label: 'travel tracker, 5 kg', drive: 'worm', ratedLoadKg: 5, shaftKg: 0.3, shaftMm: { min: 40, max: 170 }, saddleMm: 55, weightsKg: [1] },
  { key: 'worm-10', label: 'worm-driven mount, 10 kg', drive: 'worm', ratedLoadKg: 10, shaftKg: 0.7, shaftMm: { min: 70, max: 280 }, saddleMm: 75, weightsKg: [3.5, 2] },
  { key: 'worm-15', label: 'worm-driven mount, 15 kg', drive: 'worm', ratedLoadKg: 15, shaftKg: 1, shaftMm: { min: 80, max: 320 }, saddleMm: 90, weightsKg: [5, 5] },
  { key: 'worm-20', label: 'worm-driven mount, 20 kg', drive: 'worm', ratedLoadKg: 20, shaftKg: 1.2, shaftMm: { min: 85, max: 340 }, saddleMm: 100, weightsKg: [5, 5] },
  { key: 'worm-40', label: 'worm-driven mount, 40 kg', drive: 'worm', ratedLoadKg: 40, shaftKg: 2.2, shaftMm: { min: 110, max: 400 }, saddleMm: 130, weightsKg: [10, 5] },
  { key: 'strain-13', label: 'strain-wave mount, 13 kg', drive: 'strain-wave', ratedLoadKg: 13, shaftKg: 0.4, shaftMm: { min: 50, max: 220 }, saddleMm: 60, weightsKg: [] },
  { key: 'strain-20', label: 'strain-wave mount, 20 kg', drive: 'strain-wave', ratedLoadKg: 20, shaftKg: 0.5, shaftMm: { min: 60, max: 240 }, saddleMm: 70, weightsKg: [3] },
  { key: 'direct-50', label: 'direct-drive mount, 50 kg', drive: 'direct', ratedLoadKg: 50, shaftKg: 3, shaftMm: { min: 130, max: 430 }, saddleMm: 140, weightsKg: [10, 10] },
]; // prettier-ignore
