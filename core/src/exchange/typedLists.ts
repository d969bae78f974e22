import { phrase, type Phrase } from '../phrases/index.ts';
import type { HorizonPoint } from '../sky/index.ts';

/** Points of a horizon at most, as a site keeps them. */
export const MAX_HORIZON_POINTS = 720;
/** Frames of a drift at most: two nights of one a minute. */
export const MAX_DRIFT_FRAMES = 3000;

export type ReadList<T> = { ok: true; rows: T[] } | { ok: false; trouble: Phrase };

const NUMBER = /^[+-]?(?:\d{1,9}(?:[.,]\d{0,12})?|[.,]\d{1,12})$/;
const toNumber = (cell: string) => Number(cell.replace(',', '.'));

/**
 * The two numbers a line begins with, whatever stands between them: spaces, a tab, a semicolon, a comma. A comma is a decimal
 * sign where something else separates. Words may follow, a third number may not: it could be a decimal place torn off.
 * @returns null where there are not two, or two could be read two ways
 */
function twoNumbers(text: string): [number, number] | null {
  const line = text.trim().replace(/−/g, '-').replace(/°/g, ' ');
  const ways = [/,\s|\s,|[\s;]/, /[\s;,]/].map((between): [number, number] | null => {
    const [a = '', b = '', ...rest] = line.split(between).filter((c) => c !== '');
    if (!NUMBER.test(a) || !NUMBER.test(b) || rest.some((c) => NUMBER.test(c))) return null;
    return [toNumber(a), toNumber(b)];
  });
  const [one, other] = ways;
  if (one && other && (one[0] !== other[0] || one[1] !== other[1])) return null;
  return one ?? other ?? null;
}

/** Lines that say something, counted from one; a remark begins with #, and a first line without a digit is a heading. */
const linesOf = (text: string): { line: number; text: string }[] =>
  text
    .split(/\r\n|\r|\n/)
    .map((l, i) => ({ line: i + 1, text: l.trim() }))
    .filter((l) => l.text !== '' && !l.text.startsWith('#'))
    .filter((l, i) => i > 0 || /\d/.test(l.text));
const shown = (text: string) => (text.length > 40 ? `${text.slice(0, 40)}…` : text);

/**
 * A horizon as surveys write it: "azimuth altitude" a line [deg], azimuth from north through east, west also as negative.
 * In the order of azimuths; two points at one azimuth are a wall and stay in theirs.
 */
export function readHorizon(text: string): ReadList<HorizonPoint> {
  const rows: HorizonPoint[] = [];
  const lines = linesOf(text);
  if (!lines.length) return { ok: false, trouble: phrase('typed.horizon-empty') };
  if (lines.length > MAX_HORIZON_POINTS)
    return { ok: false, trouble: phrase('typed.horizon-long', { points: lines.length, most: MAX_HORIZON_POINTS }) };
  for (const { line, text: said } of lines) {
    const got = twoNumbers(said);
    if (!got) return { ok: false, trouble: phrase('typed.horizon-line', { line, text: shown(said) }) };
    const [azimuth, altitudeDeg] = got;
    if (azimuth < -180 || azimuth > 360 || altitudeDeg < -10 || altitudeDeg > 90)
      return { ok: false, trouble: phrase('typed.horizon-range', { line, text: shown(said) }) };
    rows.push({ azimuthDeg: azimuth < 0 ? azimuth + 360 : azimuth, altitudeDeg });
  }
  return { ok: true, rows: rows.sort((a, b) => a.azimuthDeg - b.azimuthDeg) };
}

export interface DriftFrame {
  time: string;
  xPx: number;
  yPx: number;
}
const INSTANT = /^"?(\d{4}-\d\d-\d\d)[T ](\d\d:\d\d(?::\d\d(?:[.,]\d{1,9})?)?)\s?(Z|[+-]\d\d:?\d\d)?"?[\s,;]+/i;

/** Where a star lay in each frame: "time, x, y" a line, the time by ISO 8601 and in UTC unless it says otherwise, x and y in pixels. */
export function readDrift(text: string): ReadList<DriftFrame> {
  const rows: DriftFrame[] = [];
  const lines = linesOf(text);
  if (lines.length > MAX_DRIFT_FRAMES)
    return { ok: false, trouble: phrase('typed.drift-long', { frames: lines.length, most: MAX_DRIFT_FRAMES }) };
  for (const { line, text: said } of lines) {
    const at = INSTANT.exec(said);
    const ms = at ? Date.parse(`${at[1]}T${at[2]!.replace(',', '.')}${at[3]?.toUpperCase() ?? 'Z'}`) : NaN;
    const got = at ? twoNumbers(said.slice(at[0].length)) : null;
    if (!got || Number.isNaN(ms))
      return { ok: false, trouble: phrase('typed.drift-line', { line, text: shown(said) }) };
    rows.push({ time: new Date(ms).toISOString(), xPx: got[0], yPx: got[1] });
  }
  return { ok: true, rows };
}
