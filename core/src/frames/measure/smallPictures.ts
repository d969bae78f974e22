/** A small grey picture, its first row the top one. Tones are kept beyond what an eye needs, so that it can be stretched. */
export interface SmallPicture {
  widthPx: number;
  heightPx: number;
  tones: Uint8Array;
}

/** Tones follow asinh of the height above the sky in units of the noise: steps are fine in the sky, coarse in stars. */
const [DARKEST, BRIGHTEST, BEND] = [-15, 20_000, 1.5];
const [LOW, HIGH] = [Math.asinh(DARKEST / BEND), Math.asinh(BRIGHTEST / BEND)];
/** @param heightSigma above the sky, in units of the noise */
export const toneOf = (heightSigma: number): number =>
  Math.round((255 * (Math.asinh(Math.min(BRIGHTEST, Math.max(DARKEST, heightSigma)) / BEND) - LOW)) / (HIGH - LOW));
/** The height that a tone stands for; the middle of what it covers. */
export const heightOf = (tone: number): number => BEND * Math.sinh(LOW + (tone / 255) * (HIGH - LOW));

/** The whole picture as means of blocks, at most so wide. */
export function shrunk(
  values: Float32Array,
  w: number,
  h: number,
  mostPx: number,
): { widthPx: number; heightPx: number; means: Float32Array } {
  const block = Math.max(1, Math.ceil(Math.max(w, h) / mostPx));
  const [widthPx, heightPx] = [Math.floor(w / block), Math.floor(h / block)];
  const means = new Float32Array(widthPx * heightPx);
  // some rows and columns of each block are enough for an eye; an odd step meets all cells of a colour sensor
  const step = Math.max(1, Math.floor(block / 8)) | 1;
  for (let y = 0; y < heightPx; y++)
    for (let x = 0; x < widthPx; x++) {
      let [sum, n] = [0, 0];
      for (let by = 0; by < block; by += step)
        for (let bx = 0; bx < block; bx += step) {
          const v = values[(y * block + by) * w + x * block + bx]!;
          if (v === v) {
            sum += v;
            n++;
          }
        }
      means[(heightPx - 1 - y) * widthPx + x] = n ? sum / n : NaN;
    }
  return { widthPx, heightPx, means };
}

export const tonesOf = (means: Float32Array, sky: number, noise: number): Uint8Array =>
  Uint8Array.from(means, (v) => (v === v ? toneOf((v - sky) / noise) : 0));

/** Squares of the picture, its sky taken off, from corners, edges and middle: row by row from the top left. */
export function ninePieces(values: Float32Array, w: number, h: number, noise: number, sidePx: number): SmallPicture[] {
  const side = Math.min(sidePx, Math.floor(w / 3), Math.floor(h / 3));
  const at = (i: number, size: number) => [0, Math.floor((size - side) / 2), size - side][i]!;
  return [2, 1, 0].flatMap((row) =>
    [0, 1, 2].map((col) => {
      const [x0, y0] = [at(col, w), at(row, h)];
      const tones = new Uint8Array(side * side);
      for (let y = 0; y < side; y++)
        for (let x = 0; x < side; x++) {
          const v = values[(y0 + side - 1 - y) * w + x0 + x]!;
          tones[y * side + x] = v === v ? toneOf(v / noise) : 0;
        }
      return { widthPx: side, heightPx: side, tones };
    }),
  );
}
