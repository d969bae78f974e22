/** Tolerant reading of what people type: "11 lb 8 oz", "2.165in", "20h45m", "14F". */

export type Dimension = 'mass' | 'length' | 'temperature' | 'degrees' | 'duration' | 'angle' | 'force' | 'number';

interface Unit {
  /** Stored value = typed · factor (+ shift). */
  factor: number;
  shift?: number;
}

/** Stored units: kg, mm, °C, s, deg, N. Keys are lower case without dots. */
const UNITS: Record<Dimension, Record<string, Unit>> = {
  mass: {
    kg: { factor: 1 },
    g: { factor: 1e-3 },
    lb: { factor: 0.45359237 },
    lbs: { factor: 0.45359237 },
    oz: { factor: 0.45359237 / 16 },
  },
  length: {
    mm: { factor: 1 },
    cm: { factor: 10 },
    m: { factor: 1000 },
    µm: { factor: 1e-3 },
    um: { factor: 1e-3 },
    in: { factor: 25.4 },
    '"': { factor: 25.4 },
    '″': { factor: 25.4 },
    ft: { factor: 304.8 },
    "'": { factor: 304.8 },
  },
  temperature: {
    c: { factor: 1 },
    '°c': { factor: 1 },
    f: { factor: 5 / 9, shift: -32 * (5 / 9) },
    '°f': { factor: 5 / 9, shift: -32 * (5 / 9) },
    k: { factor: 1, shift: -273.15 },
  },
  // a difference of temperatures: no shift
  degrees: {
    c: { factor: 1 },
    '°c': { factor: 1 },
    k: { factor: 1 },
    f: { factor: 5 / 9 },
    '°f': { factor: 5 / 9 },
  },
  duration: {
    s: { factor: 1 },
    sec: { factor: 1 },
    min: { factor: 60 },
    m: { factor: 60 },
    h: { factor: 3600 },
    ms: { factor: 1e-3 },
  },
  angle: {
    '°': { factor: 1 },
    deg: { factor: 1 },
    d: { factor: 1 },
    "'": { factor: 1 / 60 },
    '′': { factor: 1 / 60 },
    m: { factor: 1 / 60 },
    '"': { factor: 1 / 3600 },
    '″': { factor: 1 / 3600 },
    s: { factor: 1 / 3600 },
    h: { factor: 15 },
  },
  force: { n: { factor: 1 }, kgf: { factor: 9.80665 }, gf: { factor: 0.00980665 }, lbf: { factor: 4.4482216152605 } },
  number: { '': { factor: 1 }, '%': { factor: 0.01 } },
};

/** Unit that a bare number is taken in, and the one stored. */
export const STORED_UNIT: Record<Dimension, string> = {
  mass: 'kg',
  length: 'mm',
  temperature: '°C',
  degrees: '°C',
  duration: 's',
  angle: '°',
  force: 'N',
  number: '',
};

export type Parsed = { ok: true; value: number } | { ok: false; message: string };

/** Minutes and seconds of a right ascension count in time, not in arc. */
function piecesOf(text: string): { value: number; unit: string }[] | null {
  const piece = /\s*(\d+(?:\.\d*)?|\.\d+)\s*([a-zµ°%"'′″]*)\.?/giy;
  const found: { value: number; unit: string }[] = [];
  while (piece.lastIndex < text.length) {
    const start = piece.lastIndex;
    const m = piece.exec(text);
    if (!m) return text.slice(start).trim() === '' ? found : null;
    found.push({ value: Number(m[1]), unit: m[2]!.toLowerCase() });
  }
  return found;
}

/**
 * Reads a quantity as typed and gives it in the stored unit (kg, mm, °C, s, °, N).
 * Pieces add up ("11 lb 8 oz"); a leading minus holds for all of it; a comma is a decimal point; a bare number is in
 * `bareUnit`, or in the stored unit.
 */
export function parseQuantity(typed: string, dimension: Dimension, bareUnit?: string): Parsed {
  const table = UNITS[dimension];
  const known = () =>
    Object.keys(table)
      .filter((k) => /^[a-zµ°%]+$/.test(k))
      .join(', ');
  const cleaned = typed
    .trim()
    .replace(/[−–]/g, '-')
    .replace(/(\d),(\d)/g, '$1.$2');
  if (cleaned === '') return { ok: false, message: 'is empty' };
  const negative = cleaned.startsWith('-');
  const body = cleaned.replace(/^[+-]\s*/, '');
  const pieces = piecesOf(body);
  if (!pieces || pieces.length === 0)
    return { ok: false, message: `“${typed}” is not a quantity; type a number with ${known() || 'no unit'}` };
  const bare = (bareUnit ?? STORED_UNIT[dimension]).toLowerCase();
  const inHours = dimension === 'angle' && pieces[0]!.unit === 'h';
  let value = 0;
  let shift = 0;
  for (const [i, p] of pieces.entries()) {
    const unit = p.unit || (i === 0 ? bare : '');
    const u = table[unit] ?? (dimension === 'number' && unit === '' ? { factor: 1 } : undefined);
    if (!u) {
      const hint = p.unit ? `unit “${p.unit}” is not known here` : 'a number without its unit follows another';
      return { ok: false, message: `${hint}; use ${known() || 'a plain number'}` };
    }
    const perHour = inHours && i > 0 ? 15 : 1;
    value += p.value * u.factor * perHour;
    shift += u.shift ?? 0;
  }
  return { ok: true, value: (negative ? -value : value) + shift };
}
