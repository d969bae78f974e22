import { readNumber } from './number.ts';
import { knownUnits, STORED_UNIT, UNITS, type Dimension, type Unit } from './units.ts';

/** Tolerant reading of what people type: "11 lb 8 oz", "2½ in", "20h45m", "33°52′ S", "1 250 mm", "14F". */
export type Parsed = { ok: true; value: number } | { ok: false; message: string };

/** Characters of a typed quantity at most. */
const LONGEST = 80;
const ABSOLUTE_ZERO_C = -273.15;
const UNIT_NAME = /^\s*([a-zµμº°%"'′″”’/]{0,8})\.?/i;

interface Piece {
  value: number;
  unit: string;
}
type Pieces = { ok: true; pieces: Piece[] } | { ok: false; reason: string };

/** Numbers, each with the unit behind it. */
function piecesOf(text: string): Pieces {
  const pieces: Piece[] = [];
  let rest = text;
  while (rest.trim() !== '') {
    rest = rest.trimStart();
    const n = readNumber(rest);
    if (n === null) return { ok: false, reason: `“${rest.slice(0, 24)}” is not a quantity` };
    if (!n.ok) return n;
    const unit = UNIT_NAME.exec(rest.slice(n.length))!;
    pieces.push({ value: n.value, unit: unit[1]!.toLowerCase() });
    rest = rest.slice(n.length + unit[0].length);
  }
  return pieces.length ? { ok: true, pieces } : { ok: false, reason: 'a number is missing' };
}

/** "12:30:45", "-00 30 00": parts of sixty, in the dimensions that have them. Of a duration the first are hours. */
function sixtieths(text: string, dimension: Dimension): number[] | null {
  const between = dimension === 'angle' ? '(?::|\\s+)' : ':';
  const m = new RegExp(
    `^(\\d{1,3})${between}(\\d{1,2}(?:\\.\\d{1,30})?)(?:${between}(\\d{1,2}(?:\\.\\d{1,30})?))?$`,
  ).exec(text);
  return m ? [m[1]!, m[2]!, ...(m[3] === undefined ? [] : [m[3]])].map(Number) : null;
}

/**
 * Reads a quantity as typed and gives it in the stored unit (kg, mm, °C, s, °, N).
 *
 * Pieces add up ("11 lb 8 oz") when each is of a smaller unit than the one before; a leading minus holds for all of it, a
 * hemisphere's letter turns an angle's sign; point and comma are decimal signs, spaces and apostrophes group by threes; a
 * bare number is in `bareUnit`, or in the stored unit. What could mean two things is refused with both.
 */
export function parseQuantity(typed: string, dimension: Dimension, bareUnit?: string): Parsed {
  const refuse = (reason: string): Parsed => ({ ok: false, message: `${reason}; ${howTo(dimension)}` });
  const cleaned = typed.trim().replace(/[−–]/g, '-');
  if (cleaned === '') return { ok: false, message: 'is empty' };
  if (cleaned.length > LONGEST) return refuse('is too long for a quantity');
  const negative = cleaned.startsWith('-');
  let body = cleaned.replace(/^[+-]\s*/, '');
  const side = dimension === 'angle' ? hemisphere(body) : null;
  if (side) {
    if (/^[+-]/.test(cleaned)) return refuse(`“${typed.trim()}” has a sign and a hemisphere`);
    body = side.rest;
  }
  const sign = (negative ? -1 : 1) * (side?.sign ?? 1);
  const bare = (bareUnit ?? STORED_UNIT[dimension]).toLowerCase();
  if (dimension === 'angle' || dimension === 'duration') {
    const sixty = sixtieths(body, dimension);
    if (sixty) {
      if (dimension === 'duration' && sixty.length === 2)
        return refuse(
          `“${typed.trim()}” could be ${sixty[0]} h ${sixty[1]} min or ${sixty[0]} min ${sixty[1]} s: write the one that is meant`,
        );
      if (sixty.length === 3 && !Number.isInteger(sixty[1]))
        return refuse(`“${typed.trim()}” has a fraction before its last part`);
      if (sixty[1]! >= 60 || (sixty[2] ?? 0) >= 60)
        return refuse(`“${typed.trim()}” has sixty or more of a smaller part`);
      const whole = sixty[0]! + sixty[1]! / 60 + (sixty[2] ?? 0) / 3600;
      return { ok: true, value: sign * whole * (dimension === 'duration' ? 3600 : bare === 'h' ? 15 : 1) };
    }
  }
  const read = piecesOf(body);
  if (!read.ok) return refuse(read.reason);
  return sumOf(read.pieces, dimension, bare, sign, refuse);
}

/** "33.87 S", "33°52′S", "E 15.4": capital letters only, for a small s is a second; "20H45M30S" has its units. */
function hemisphere(text: string): { rest: string; sign: number } | null {
  const behind = /^(.*\S)\s*([NSEW])$/.exec(text);
  const before = /^([NSEW])\s*(.+)$/.exec(text);
  const [letter, rest] = behind ? [behind[2], behind[1]!] : before ? [before[1], before[2]!] : [undefined, ''];
  if (letter === undefined || /[hm]/i.test(rest)) return null;
  return { rest, sign: letter === 'S' || letter === 'W' ? -1 : 1 };
}

/** The next smaller unit of sixty, which a bare number behind it is in: "1h30" is an hour and thirty minutes. */
const smaller = (dimension: Dimension, unit: string): string | undefined => {
  const factor = UNITS[dimension].get(unit)?.factor;
  if (factor === undefined || (dimension !== 'angle' && dimension !== 'duration')) return undefined;
  if (dimension === 'angle' && factor === 15) return 'm';
  return [...UNITS[dimension]].find(([, u]) => Math.abs(u.factor - factor / 60) < 1e-12)?.[0];
};

function sumOf(
  pieces: readonly Piece[],
  dimension: Dimension,
  bare: string,
  sign: number,
  refuse: (reason: string) => Parsed,
): Parsed {
  const table = UNITS[dimension];
  const single = dimension === 'number' || dimension === 'temperature' || dimension === 'degrees';
  if (single && pieces.length > 1) return refuse('one number is wanted, these are several');
  // behind hours, or where hours are wanted, minutes and seconds in letters are of time; in signs they are of arc
  const hours = dimension === 'angle' && (bare === 'h' || table.get(pieces[0]!.unit)?.factor === 15);
  const ofTime = (unit: string) => hours && (unit === '' || /^[a-z]/.test(unit));
  let [value, shift] = [0, 0];
  let before: { name: string; factor: number } | null = null;
  for (const [i, p] of pieces.entries()) {
    const name: string =
      p.unit || (i === 0 ? bare : i === pieces.length - 1 ? (smaller(dimension, before!.name) ?? '') : '');
    const found: Unit | undefined =
      dimension === 'number' && name === '%' && bare === '%' ? { factor: 1 } : table.get(name);
    if (!found)
      return refuse(p.unit ? `unit “${p.unit}” is not known here` : 'a number without its unit follows another');
    const factor = found.factor * (found.factor < 1 && ofTime(p.unit) ? 15 : 1);
    if (before && factor >= before.factor) return refuse(`“${name}” cannot follow “${before.name}”`);
    if (before && dimension === 'angle' && p.value * factor >= before.factor)
      return refuse(`${p.value} is too many of “${name}” behind “${before.name}”`);
    value += p.value * factor;
    shift = found.shift ?? 0;
    before = { name, factor };
  }
  const total = sign * value + shift;
  if (dimension === 'temperature' && total < ABSOLUTE_ZERO_C) return refuse('is colder than can be');
  return { ok: true, value: total };
}

const howTo = (dimension: Dimension): string =>
  dimension === 'number' ? 'type a plain number' : `type a number with ${knownUnits(dimension)}`;
