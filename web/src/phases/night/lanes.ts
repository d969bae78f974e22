import type { TargetOutput } from '@keen/core/sky';
import { scaleTime } from 'd3-scale';

type Track = TargetOutput['track'];
type X = (ms: number) => number;

/** Time across the picture. */
export const timeScale = (fromMs: number, toMs: number, left: number, right: number): X => {
  const scale = scaleTime([fromMs, toMs], [left, right]);
  return (ms) => scale(ms);
};

/** Altitude at an instant, linear between the steps of the track [deg]. */
export function altitudeAt(track: Track, ms: number): number | null {
  const first = track[0];
  if (!first || track.length < 2) return null;
  const step = Date.parse(track[1]!.time) - Date.parse(first.time);
  const k = (ms - Date.parse(first.time)) / step;
  if (k < -1 || k > track.length) return null;
  const i = Math.min(track.length - 2, Math.max(0, Math.floor(k)));
  const [a, b] = [track[i]!.altitudeDeg, track[i + 1]!.altitudeDeg];
  return a + (b - a) * (k - i);
}

const halfOf = (altitudeDeg: number, half: number) => half * Math.max(0, Math.sin((altitudeDeg * Math.PI) / 180));

/** Outline whose thickness is the sine of the altitude, symmetric about the middle line. */
function outline(points: { ms: number; altitudeDeg: number }[], x: X, mid: number, half: number): string {
  if (points.length < 2) return '';
  const f = (p: { ms: number; altitudeDeg: number }, sign: number) =>
    `${x(p.ms).toFixed(1)} ${(mid + sign * halfOf(p.altitudeDeg, half)).toFixed(1)}`;
  const up = points.map((p) => f(p, -1));
  const down = [...points].reverse().map((p) => f(p, 1));
  return `M${[...up, ...down].join('L')}Z`;
}

/** The lane where the object can be worked, one outline a window. */
export function laneWindows(t: TargetOutput, x: X, mid: number, half: number): string[] {
  return t.windows.map((w) => {
    const [a, b] = [Date.parse(w.start), Date.parse(w.end)];
    const inside = t.track
      .map((p) => ({ ms: Date.parse(p.time), altitudeDeg: p.altitudeDeg }))
      .filter((p) => p.ms > a && p.ms < b);
    const edge = (ms: number) => ({ ms, altitudeDeg: altitudeAt(t.track, ms) ?? 0 });
    return outline([edge(a), ...inside, edge(b)], x, mid, half);
  });
}

/** Thin outline of the whole passage above the true horizon: what there would be without dusk, limit and roofs. */
export function laneGhost(t: TargetOutput, x: X, mid: number, half: number): string[] {
  const spells: { ms: number; altitudeDeg: number }[][] = [];
  let open: { ms: number; altitudeDeg: number }[] = [];
  for (const p of t.track) {
    if (p.altitudeDeg > 0) open.push({ ms: Date.parse(p.time), altitudeDeg: p.altitudeDeg });
    else if (open.length) {
      spells.push(open);
      open = [];
    }
  }
  if (open.length) spells.push(open);
  return spells.map((s) => outline(s, x, mid, half));
}

/** Hours from one labelled tick to the next, so that labels of 46 px do not touch. */
export const hourStep = (pxPerHour: number): number => [1, 2, 3, 4, 6].find((h) => h * pxPerHour >= 46) ?? 12;

/** A text in lines of at most so many characters, broken between words; a longer word stands in a line of its own. */
export function wrapWords(text: string, most: number): string[] {
  const lines: string[] = [];
  for (const word of text.split(' ').filter(Boolean)) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + 1 + word.length <= most) lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines;
}
