import { phrase, type Phrase } from '../phrases/index.ts';
import { HorizonPoint, MOST_HORIZON_POINTS } from '../sky/index.ts';
import { decimalOf, numberIn } from './cells.ts';
import { instantMs, readInstant } from './instant.ts';

export type ReadList<T> = { ok: true; rows: T[] } | { ok: false; trouble: Phrase };
type Decimal = '.' | ',';
interface Line {
  line: number;
  text: string;
}

const filled = (cells: string[]) => cells.map((c) => c.trim().replace(/^"|"$/g, '')).filter((c) => c !== '');
/** Spaces, tabs, semicolons and commas with a space beside them surely part; a comma between digits may be a decimal sign. */
const bySureSigns = (text: string) => filled(text.split(/,\s|\s,|[\s;]/));
const byCommas = (text: string) => (text.includes(',') ? filled(text.split(/[,;\t]/)) : bySureSigns(text));

/**
 * Rows of a pasted list, all cut in one way: by the sure signs, with commas or points in the numbers, or else by commas.
 * @param numbers  of the cells of a line those that are numbers
 * @param row  null for a line that is none
 * @returns rows, or the line at which the better of both ways ends
 */
function rowsOf<T>(
  lines: readonly Line[],
  numbers: (cells: string[]) => string[],
  row: (cells: string[], decimal: Decimal) => T | null,
): { rows: T[] } | { bad: Line } {
  let end = -1;
  for (const cut of [bySureSigns, byCommas]) {
    const cells = lines.map((l) => cut(l.text));
    const decimal = cut === byCommas ? '.' : decimalOf(cells.flatMap(numbers));
    // “1,200” that is one thing or the other by nothing in the list
    const rows = cells.map((c) => (decimal === 'doubt' ? null : row(c, decimal)));
    const bad = rows.indexOf(null);
    if (bad < 0) return { rows: rows as T[] };
    end = Math.max(end, bad);
  }
  return { bad: lines[end]! };
}

/** Lines that say something, counted from one; a remark begins with #, and a first line without a digit is a heading. */
const linesOf = (text: string): Line[] =>
  text
    .split(/\r\n|\r|\n/)
    .map((l, i) => ({ line: i + 1, text: l.trim().replace(/−/g, '-').replace(/°/g, ' ') }))
    .filter((l) => l.text.trim() !== '' && !l.text.startsWith('#'))
    .filter((l, i) => i > 0 || /\d/.test(l.text));
const told = ({ line, text }: Line) => ({ line, text: text.length > 40 ? `${text.slice(0, 40)}…` : text });

/**
 * A horizon as surveys write it: "azimuth altitude" a line [deg], azimuth from north through east, west also as negative.
 * Words may follow, a third number may not: it could be a decimal place torn off. In the order of azimuths; two points at one
 * azimuth are a wall and stay in theirs.
 */
export function readHorizon(text: string): ReadList<HorizonPoint> {
  const lines = linesOf(text);
  if (!lines.length) return { ok: false, trouble: phrase('typed.horizon-empty') };
  if (lines.length > MOST_HORIZON_POINTS)
    return { ok: false, trouble: phrase('typed.horizon-long', { points: lines.length, most: MOST_HORIZON_POINTS }) };
  const got = rowsOf(
    lines,
    (cells) => cells.slice(0, 2),
    ([a = '', b = '', ...rest], decimal) => {
      const [azimuth, altitudeDeg] = [numberIn(a, decimal), numberIn(b, decimal)];
      const torn = rest.some((c) => numberIn(c, '.') !== null || numberIn(c, ',') !== null);
      if (azimuth === null || altitudeDeg === null || torn) return null;
      return { azimuthDeg: azimuth < 0 && azimuth >= -180 ? azimuth + 360 : azimuth, altitudeDeg };
    },
  );
  if ('bad' in got) return { ok: false, trouble: phrase('typed.horizon-line', told(got.bad)) };
  const outside = got.rows.findIndex((p) => !HorizonPoint.safeParse(p).success);
  if (outside >= 0) return { ok: false, trouble: phrase('typed.horizon-range', told(lines[outside]!)) };
  return { ok: true, rows: got.rows.sort((a, b) => a.azimuthDeg - b.azimuthDeg) };
}

export interface DriftFrame {
  time: string;
  xPx: number;
  yPx: number;
}
/** Where a star lay in each frame: "time, x, y" a line, the time in UTC unless it names a zone, x and y in pixels. */
export function readDrift(text: string): ReadList<DriftFrame> {
  const got = rowsOf(
    linesOf(text),
    (cells) => cells.slice(-2),
    (cells, decimal) => {
      const at = readInstant(cells.slice(0, -2).join(' '));
      const [x, y] = cells.slice(-2).map((c) => numberIn(c, decimal));
      if (!at.ok || at.value.dayOnly || typeof x !== 'number' || typeof y !== 'number') return null;
      return { time: new Date(instantMs(at.value)).toISOString(), xPx: x, yPx: y };
    },
  );
  return 'bad' in got
    ? { ok: false, trouble: phrase('typed.drift-line', told(got.bad)) }
    : { ok: true, rows: got.rows };
}
