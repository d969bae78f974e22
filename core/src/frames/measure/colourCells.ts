import type { FitsPicture } from '../../exchange/index.ts';

/** What is measured: the picture itself, or the mean of each cell of two by two of a colour sensor. */
export interface Mosaic {
  values: Float32Array;
  w: number;
  h: number;
  /** Pixels of the sensor along one of these. */
  cell: 1 | 2;
}

const PATTERN = /^[RGBCMYE]{4}$/;

/** Behind filter cells each pixel sees another colour; four together see the same everywhere. */
export function colourCells({ cards, values, widthPx, heightPx }: FitsPicture): Mosaic {
  const pattern = cards.get('BAYERPAT');
  if (typeof pattern !== 'string' || !PATTERN.test(pattern.trim()) || widthPx < 64 || heightPx < 64)
    return { values, w: widthPx, h: heightPx, cell: 1 };
  const [w, h] = [widthPx >> 1, heightPx >> 1];
  // in place: a cell is written no later than its pixels are read
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const k = 2 * y * widthPx + 2 * x;
      values[y * w + x] = (values[k]! + values[k + 1]! + values[k + widthPx]! + values[k + widthPx + 1]!) / 4;
    }
  return { values: values.subarray(0, w * h), w, h, cell: 2 };
}
