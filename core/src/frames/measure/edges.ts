import { clipped } from './sky.ts';

export interface EdgeDips {
  left: number;
  right: number;
  bottom: number;
  top: number;
}
/** Depth of the strip along an edge, as a share of the picture. */
const DEPTH = 1 / 16;
/** Pixels looked at in each third of a strip. */
const LOOKED_AT = 20_000;

/**
 * How much darker the middle third of each edge is than its ends, against the opposite edge: vignetting and gradients take
 * from both alike, a prism that reaches into the light takes from one.
 */
export function edgeDips(values: Float32Array, w: number, h: number, pedestal: number): EdgeDips {
  const scratch = new Float32Array(2 * LOOKED_AT + 4096);
  const sky = (x0: number, x1: number, y0: number, y1: number) => {
    const area = (x1 - x0) * (y1 - y0);
    const step = Math.max(1, Math.floor(area / LOOKED_AT)) | 1;
    let n = 0;
    for (let i = 0; i < area && n < scratch.length; i += step) {
      const v = values[(y0 + Math.floor(i / (x1 - x0))) * w + x0 + (i % (x1 - x0))]!;
      if (v === v) scratch[n++] = v;
    }
    return clipped(scratch, n).median + pedestal;
  };
  const [across, up] = [Math.max(1, Math.round(w * DEPTH)), Math.max(1, Math.round(h * DEPTH))];
  const third = (size: number, i: number) => Math.round((i * size) / 3);
  const upright = (x0: number, x1: number) => (i: number) => sky(x0, x1, third(h, i), third(h, i + 1));
  const level = (y0: number, y1: number) => (i: number) => sky(third(w, i), third(w, i + 1), y0, y1);
  const share = (part: (i: number) => number) => part(1) / ((part(0) + part(2)) / 2);
  const [left, right] = [share(upright(0, across)), share(upright(w - across, w))];
  const [bottom, top] = [share(level(0, up)), share(level(h - up, h))];
  const dip = (q: number, opposite: number) => (Number.isFinite(q / opposite) ? 1 - q / opposite : 0);
  return { left: dip(left, right), right: dip(right, left), bottom: dip(bottom, top), top: dip(top, bottom) };
}
