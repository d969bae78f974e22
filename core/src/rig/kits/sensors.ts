import type { SensorKit } from './kit.ts';

/** Cameras by the size of their sensor; typical values, common practice, no source. */
export const SENSORS: readonly SensorKit[] = [
  { key: 'third', label: '6 × 4 mm, 2.9 µm', pixelUm: 2.9, widthPx: 1936, heightPx: 1096, massKg: 0.15, depthMm: 12.5 },
  {
    key: 'square',
    label: '11 × 11 mm, 3.76 µm',
    pixelUm: 3.76,
    widthPx: 3008,
    heightPx: 3008,
    massKg: 0.4,
    depthMm: 17.5,
  },
  { key: 'inch', label: '13 × 9 mm, 2.4 µm', pixelUm: 2.4, widthPx: 5496, heightPx: 3672, massKg: 0.45, depthMm: 17.5 },
  {
    key: 'four-thirds',
    label: '18 × 13 mm, 3.8 µm',
    pixelUm: 3.8,
    widthPx: 4656,
    heightPx: 3520,
    massKg: 0.45,
    depthMm: 17.5,
  },
  {
    key: 'half',
    label: '23.5 × 15.7 mm, 3.76 µm',
    pixelUm: 3.76,
    widthPx: 6248,
    heightPx: 4176,
    massKg: 0.6,
    depthMm: 17.5,
  },
  {
    key: 'full',
    label: '36 × 24 mm, 3.76 µm',
    pixelUm: 3.76,
    widthPx: 9576,
    heightPx: 6388,
    massKg: 0.9,
    depthMm: 17.5,
  },
  {
    key: 'mirrorless',
    label: 'photographic camera, 36 × 24 mm, 6 µm',
    pixelUm: 6,
    widthPx: 6000,
    heightPx: 4000,
    massKg: 0.7,
    depthMm: 44,
  },
];
