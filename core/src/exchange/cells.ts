import { instantMs, readClock, readInstant, type DayOrder } from './instant.ts';

/** What a person said where a table could be read two ways. */
export interface TableAnswers {
  /** The decimal sign of its numbers. */
  decimal?: '.' | ',' | undefined;
  dayOrder?: DayOrder | undefined;
  /** Zone of times that name none, as IANA calls it; left out: UTC, unless a heading says that they are local. */
  zone?: string | undefined;
}
/** What has to be asked, with a cell that shows it. */
export interface TableAsk {
  what: 'column' | 'decimal' | 'dayOrder' | 'zone';
  field: string;
  columns: string[];
  sample: string;
}

const PLAIN = /^[-+]?(?:\d{1,30}(?:\.\d{0,40})?|\.\d{1,30})(?:e[-+]?\d{1,3})?$/i;
/** What most cells of a log are: nothing in them can be read two ways, where the point is the decimal sign. */
const SIMPLE = /^[-+]?\d{1,15}(?:\.\d{1,15})?$/;
/** Without signs that only look like one; the unit behind it, if there is one. */
export function tidyNumber(cell: string | undefined): { text: string; unit: string } {
  if (cell !== undefined && SIMPLE.test(cell)) return { text: cell, unit: '' };
  const t = (cell ?? '')
    .trim()
    .replace(/[−–]/g, '-')
    .replace(/(\d)[\s'’](?=\d{3}(?!\d))/g, '$1');
  const m = /^([-+]?[\d.,]{1,80}(?:e[-+]?\d{1,3})?)\s{0,4}([^\d\s.,+-][^\d]{0,11})?$/i.exec(t);
  return m ? { text: m[1]!, unit: (m[2] ?? '').trim() } : { text: t, unit: '' };
}

/**
 * Why a row with more cells than the heading is not read: a decimal comma between commas moves every value behind it into
 * the wrong column. Empty cells at its end are none.
 */
export function surplusOf(cells: readonly (string | undefined)[], columns: number): string | null {
  let n = cells.length;
  while (n > columns && !(cells[n - 1] ?? '').trim()) n--;
  return n > columns
    ? `has ${n} cells, the heading has ${columns}: a comma within a value wants quotes, or another sign between the columns`
    : null;
}

type Evidence = '.' | ',' | 'comma-of-three' | 'point-of-three' | 'whole' | 'large' | 'none';
/** What one number says of its decimal sign. */
function evidenceOf(text: string): Evidence {
  if (/^[-+]?\d{1,30}$/.test(text)) return Math.abs(Number(text)) >= 1000 ? 'large' : 'whole';
  if (/^[-+]?\d{1,3}(?:,\d{3})+\.\d{1,30}$/.test(text) || /^[-+]?\d{1,3}(?:,\d{3}){2,}$/.test(text)) return '.';
  if (/^[-+]?\d{1,3}(?:\.\d{3})+,\d{1,30}$/.test(text) || /^[-+]?\d{1,3}(?:\.\d{3}){2,}$/.test(text)) return ',';
  const m = /^[-+]?(\d{0,40})([.,])(\d{0,40})$/.exec(text);
  if (!m) return PLAIN.test(text) ? '.' : 'none';
  const [, whole, sign, decimals] = m as unknown as [string, string, '.' | ',', string];
  // three decimals behind one to three digits could group thousands; nought groups nothing
  if (decimals.length !== 3 || whole.length > 3 || /^0*$/.test(whole)) return sign;
  return sign === ',' ? 'comma-of-three' : 'point-of-three';
}

/**
 * The decimal sign of a column. One cell that leaves no doubt decides for all; where none does, “1,200” is asked about, and
 * “12.358” too where its neighbours are whole thousands.
 */
export function decimalOf(cells: readonly (string | undefined)[], answer?: '.' | ','): '.' | ',' | 'doubt' {
  if (answer) return answer;
  const evidence = new Set(cells.map((c) => evidenceOf(tidyNumber(c).text)));
  if (evidence.has('.') && evidence.has(',')) return 'doubt';
  if (evidence.has(',')) return evidence.has('point-of-three') && evidence.has('comma-of-three') ? 'doubt' : ',';
  if (evidence.has('comma-of-three')) return evidence.has('.') ? '.' : 'doubt';
  if (evidence.has('point-of-three') && evidence.has('large') && !evidence.has('.')) return 'doubt';
  return '.';
}

/** Thousands set apart, by the decimal sign. */
const GROUPED = {
  '.': /^[-+]?\d{1,3}(?:,\d{3})+(?:\.\d{0,40})?$/,
  ',': /^[-+]?\d{1,3}(?:\.\d{3})+(?:,\d{0,40})?$/,
};
/** A number of a column whose decimal sign is known; null for anything else, a hexadecimal one included. */
export function numberIn(text: string, decimal: '.' | ','): number | null {
  if (decimal === '.' && SIMPLE.test(text)) return Number(text);
  const [group, sign] = decimal === '.' ? [',', '.'] : ['.', ','];
  const t = text.trim();
  const grouped = GROUPED[decimal].test(t);
  if (!grouped && t.includes(group)) return null;
  const plain = t.replaceAll(grouped ? group : '\u0000', '').replace(sign, '.');
  return PLAIN.test(plain) ? Number(plain) : null;
}

export type CellInstant = { ok: true; iso: string } | { ok: false; doubt: 'dayOrder' | 'zone' | null; reason: string };

/** An instant from one cell, or from a day and a clock in two. */
export function instantIn(
  cell: string,
  how: TableAnswers & { local: boolean; clock?: string | undefined },
): CellInstant {
  const day = readInstant(cell, how.dayOrder);
  if (!day.ok) return { ok: false, doubt: day.doubt ? 'dayOrder' : null, reason: day.reason };
  let read = day.value;
  if (how.clock !== undefined) {
    const clock = readClock(how.clock);
    if (!clock) return { ok: false, doubt: null, reason: `“${how.clock}” is no time of day` };
    const dayMs = Math.floor(read.wallMs / 86_400_000) * 86_400_000;
    read = { wallMs: dayMs + clock.ms, offsetMin: clock.offsetMin ?? read.offsetMin, dayOnly: false };
  }
  if (read.dayOnly) return { ok: false, doubt: null, reason: `“${cell.trim()}” names a day and no time of it` };
  if (read.offsetMin === null && how.local && !how.zone)
    return { ok: false, doubt: 'zone', reason: `“${cell.trim()}” is local time, and nobody has said where` };
  return { ok: true, iso: new Date(instantMs(read, how.zone ?? 'UTC')).toISOString() };
}

/** Degrees Celsius from a cell or its heading’s unit. */
export function celsiusIn(value: number, unit: string): number | null {
  const u = unit
    .replace(/[°º\s.]/g, '')
    .replace(/^deg/i, '')
    .toUpperCase();
  if (u === '' || u === 'C' || u === 'CELSIUS') return value;
  if (u === 'F' || u === 'FAHRENHEIT') return (value - 32) / 1.8;
  return u === 'K' || u === 'KELVIN' ? value - 273.15 : null;
}

const SECONDS: Readonly<Record<string, number>> = {
  '': 1,
  s: 1,
  sec: 1,
  secs: 1,
  second: 1,
  seconds: 1,
  '″': 1,
  ms: 0.001,
  msec: 0.001,
  millisecond: 0.001,
  milliseconds: 0.001,
  min: 60,
  m: 60,
  mins: 60,
  minute: 60,
  minutes: 60,
  h: 3600,
  hr: 3600,
  hrs: 3600,
  hour: 3600,
  hours: 3600,
};
/** Seconds in one of a unit’s names; null for what is none of time. */
export const secondsPer = (unit: string): number | null =>
  SECONDS[unit.trim().toLowerCase().replace(/\.$/, '')] ?? null;
