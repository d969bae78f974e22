import type { Moment } from '@keen/core/balance';
import type { PlacedPart, RigSetup } from '@keen/core/rig';

/** Geometry of the balance drawings: millimetres of the rig to pixels of the picture. */
export interface Box {
  part: PlacedPart;
  x: number;
  y: number;
  width: number;
  height: number;
  round: boolean;
}
export interface Label {
  text: string;
  x: number;
  y: number;
  anchorX: number;
  anchorY: number;
}
export interface Drawing {
  boxes: Box[];
  labels: Label[];
  scale: number;
  /** Pixel of the axes' crossing. */
  originX: number;
  originY: number;
  width: number;
  height: number;
}

const ROUND = new Set(['tube', 'lens', 'guide-scope', 'wheel']);
const LABEL_ROW = 17;
const CHAR = 6.3;
/** Room under the end-stop. */
const BELOW = 16;

export interface Extent {
  zMin: number;
  zMax: number;
  yMin: number;
  yMax: number;
  xMax: number;
  xMin: number;
}

/** A mass as it is written beside its part. */
type MassText = (kg: number) => string;

/** How far the rig reaches in each direction [mm], weights included. */
export function extentOf(setup: RigSetup): Extent {
  const e = { zMin: -120, zMax: 120, yMin: -110, yMax: 110, xMax: 150, xMin: -setup.shaft.maxMm - 45 };
  for (const p of setup.placed) {
    e.zMin = Math.min(e.zMin, p.zMm - p.lengthMm / 2);
    e.zMax = Math.max(e.zMax, p.zMm + p.lengthMm / 2);
    e.yMin = Math.min(e.yMin, p.yMm - p.widthMm / 2);
    e.yMax = Math.max(e.yMax, p.yMm + p.widthMm / 2);
    e.xMax = Math.max(e.xMax, p.xMm + p.widthMm / 2);
  }
  for (const t of setup.trimPoints) {
    e.yMin = Math.min(e.yMin, t.yMm - 30);
    e.yMax = Math.max(e.yMax, t.yMm + 30);
  }
  return e;
}

/** Places labels in rows above the drawing so that none overlap, each with a leader to its part. */
function pack(wanted: { text: string; anchorX: number; anchorY: number }[], width: number): Label[] {
  const ends: number[] = [];
  return [...wanted]
    .sort((a, b) => a.anchorX - b.anchorX)
    .map((w) => {
      const size = w.text.length * CHAR;
      const x = Math.min(width - size - 4, Math.max(4, w.anchorX - size / 2));
      let row = ends.findIndex((end) => end + 10 <= x);
      if (row < 0) row = ends.length;
      ends[row] = x + size;
      return { ...w, x, y: row };
    });
}

/** Side view: the sky to the right, the tube side up. Rear view: looking to the sky, +y to the right. */
export function draw(
  setup: RigSetup,
  view: 'side' | 'rear',
  width: number,
  height: number,
  scale: number,
  massText: MassText,
): Drawing {
  const e = extentOf(setup);
  const low = view === 'side' ? e.zMin : e.yMin;
  const high = view === 'side' ? e.zMax : e.yMax;
  const originX = width / 2 - ((low + high) / 2) * scale;
  const boxesAt = (originY: number): Box[] =>
    [...setup.placed]
      .sort((a, b) => b.widthMm * b.lengthMm - a.widthMm * a.lengthMm)
      .map((part) => {
        const across = view === 'side' ? part.lengthMm : part.widthMm;
        const up =
          view === 'side'
            ? part.kind === 'wheel'
              ? part.widthMm * 0.75
              : part.widthMm
            : ROUND.has(part.kind)
              ? part.widthMm
              : part.widthMm * 0.72;
        return {
          part,
          width: Math.max(4, across * scale),
          height: Math.max(4, up * scale),
          x: originX + (view === 'side' ? part.zMm : part.yMm) * scale - (across * scale) / 2,
          y: originY - part.xMm * scale - (up * scale) / 2,
          round: view === 'rear' && ROUND.has(part.kind),
        };
      });
  const wanted = (boxes: Box[]) =>
    boxes
      .filter((b) => view === 'side' || Math.abs(b.part.yMm) > 8)
      .map((b) => ({
        text: `${b.part.name} ${massText(b.part.massKg)}`,
        anchorX: b.x + b.width / 2,
        anchorY: b.y,
      }));
  // both views hang from the same line, so that heights can be compared across
  const originY = height + e.xMin * scale - BELOW;
  const boxes = boxesAt(originY);
  const labels = pack(wanted(boxes), width);
  return {
    boxes,
    labels: labels.map((l) => ({ ...l, y: 14 + l.y * LABEL_ROW })),
    scale,
    originX,
    originY,
    width,
    height,
  };
}

/** One scale for both views, so that they can be compared; the labels of either keep their rows above the drawing. */
export function commonScale(
  setup: RigSetup,
  sideWidth: number,
  rearWidth: number,
  height: number,
  massText: MassText,
): number {
  const e = extentOf(setup);
  const fit = (rows: number) =>
    Math.min(
      (sideWidth - 40) / (e.zMax - e.zMin),
      (rearWidth - 40) / (e.yMax - e.yMin),
      (height - BELOW - 8 - rows * LABEL_ROW) / (e.xMax - e.xMin),
    );
  const rowsAt = (scale: number) =>
    Math.max(
      ...(['side', 'rear'] as const).flatMap((view) =>
        draw(setup, view, view === 'side' ? sideWidth : rearWidth, height, scale, massText).labels.map((l) => l.y),
      ),
      0,
    ) / LABEL_ROW;
  // a smaller drawing crowds its labels into more rows, which want a smaller drawing still: until both agree
  let rows = 4;
  for (let turn = 0; turn < 6; turn++) {
    const wanted = Math.ceil(rowsAt(fit(rows)));
    if (turn > 0 && wanted <= rows) break;
    rows = wanted;
  }
  return fit(rows);
}

export const heavyWords = (m: Moment): string =>
  [
    Math.abs(m.z) >= 1 ? (m.z > 0 ? 'front-heavy' : 'back-heavy') : '',
    Math.abs(m.y) >= 1 ? (m.y > 0 ? 'heavy on the right' : 'heavy on the left') : '',
  ]
    .filter(Boolean)
    .join(', ') || 'even';
