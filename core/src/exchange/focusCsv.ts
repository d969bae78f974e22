import Papa from 'papaparse';
import { parseQuantity } from '../quantities/index.ts';

/** What a column of a focus log can mean. */
export const FOCUS_FIELDS = ['run', 'filter', 'position', 'hfd', 'temperature', 'time'] as const;
export type FocusField = (typeof FOCUS_FIELDS)[number];
/** Column name for each meaning; `run` present: every row is a point of a curve. */
export type FocusMapping = Partial<Record<FocusField, string>>;

export interface ReadRun {
  filter: string;
  /** Best focus when the log gives it; null when it follows from the points. */
  position: number | null;
  hfd?: number;
  temperatureC?: number;
  time?: string;
  points: { position: number; hfd: number }[];
  /** Line of the file the run begins at. */
  line: number;
}

export interface BadRow {
  line: number;
  text: string;
  reason: string;
}

export interface FocusCsv {
  columns: string[];
  mapping: FocusMapping;
  runs: ReadRun[];
  bad: BadRow[];
  rows: number;
}

/** Largest focus log accepted, in characters. */
export const MAX_FOCUS_CSV = 5_000_000;

const GUESSES: Record<FocusField, RegExp> = {
  run: /^(run|curve|sweep|session|focus.?run)([ _-]?(id|no|number))?$/i,
  filter: /filter/i,
  position: /pos|step|focus(?!.*run)/i,
  hfd: /hfd|hfr|fwhm|diam|width|size/i,
  temperature: /temp|°c|°f/i,
  time: /time|date|utc|when/i,
};

/** Which column probably means what, by its heading. */
export function guessMapping(columns: readonly string[]): FocusMapping {
  const mapping: FocusMapping = {};
  const taken = new Set<string>();
  for (const field of FOCUS_FIELDS) {
    const column = columns.find((c) => !taken.has(c) && GUESSES[field].test(c));
    if (column === undefined) continue;
    mapping[field] = column;
    taken.add(column);
  }
  return mapping;
}

const numberOf = (text: string | undefined): number | null => {
  const cleaned = (text ?? '')
    .trim()
    .replace(/[−–]/g, '-')
    .replace(/^([-+]?\d+),(\d+)$/, '$1.$2');
  return cleaned === '' || !/^[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?$/i.test(cleaned) ? null : Number(cleaned);
};

/** Instant from a log: with a zone as given, without one as UTC. */
function instantOf(text: string): string | null {
  const iso = text
    .trim()
    .replace(/^(\d{4})[/.](\d\d)[/.](\d\d)/, '$1-$2-$3')
    .replace(' ', 'T');
  const zoned = /(z|[+-]\d\d:?\d\d)$/i.test(iso) ? iso : `${iso}Z`;
  const ms = /^\d{4}-\d\d-\d\dT\d\d:\d\d/.test(iso) ? Date.parse(zoned) : Number.NaN;
  return Number.isNaN(ms) ? null : new Date(ms).toISOString();
}

interface Row {
  line: number;
  run: string | null;
  filter: string;
  position: number;
  hfd: number | null;
  temperatureC: number | null;
  time: string | null;
}

function readRow(cells: Record<string, string>, mapping: FocusMapping, fahrenheit: boolean): Row | string {
  const cell = (f: FocusField) => (mapping[f] === undefined ? undefined : cells[mapping[f]]?.trim());
  const filter = cell('filter');
  if (!filter) return `no filter named (column “${mapping.filter}”)`;
  const position = numberOf(cell('position'));
  if (position === null) return `position “${cell('position') ?? ''}” is not a number`;
  const hfdText = cell('hfd');
  const hfd = hfdText ? numberOf(hfdText) : null;
  if (hfdText && (hfd === null || hfd <= 0)) return `diameter “${hfdText}” must be a number above 0`;
  if (mapping.run !== undefined && hfd === null) return 'a point of a curve needs a diameter';
  const tempText = cell('temperature');
  let temperatureC: number | null = null;
  if (tempText) {
    const got = parseQuantity(tempText, 'temperature', fahrenheit ? 'f' : 'c');
    if (!got.ok) return `temperature ${got.message}`;
    if (got.value < -90 || got.value > 70) return `temperature ${tempText} is not believable`;
    temperatureC = got.value;
  }
  const timeText = cell('time');
  const time = timeText ? instantOf(timeText) : null;
  if (timeText && time === null) return `time “${timeText}” is not understood; write 2026-11-24T20:15:00Z`;
  const run = cell('run') ?? null;
  if (mapping.run !== undefined && !run) return `no run named (column “${mapping.run}”)`;
  return { line: 0, run, filter, position, hfd, temperatureC, time };
}

function single(row: Row): ReadRun {
  return {
    filter: row.filter,
    position: row.position,
    points: [],
    line: row.line,
    ...(row.hfd === null ? {} : { hfd: row.hfd }),
    ...(row.temperatureC === null ? {} : { temperatureC: row.temperatureC }),
    ...(row.time === null ? {} : { time: row.time }),
  };
}

function curves(rows: Row[], bad: BadRow[]): ReadRun[] {
  const groups = new Map<string, Row[]>();
  for (const r of rows) groups.set(r.run!, [...(groups.get(r.run!) ?? []), r]);
  const runs: ReadRun[] = [];
  for (const [name, points] of groups) {
    const first = points[0]!;
    const mixed = points.find((p) => p.filter !== first.filter);
    if (mixed) {
      bad.push({
        line: mixed.line,
        text: name,
        reason: `run “${name}” changes filter from ${first.filter} to ${mixed.filter}`,
      });
      continue;
    }
    const temps = points.flatMap((p) => (p.temperatureC === null ? [] : [p.temperatureC]));
    runs.push({
      filter: first.filter,
      position: null,
      points: points.map((p) => ({ position: p.position, hfd: p.hfd! })),
      line: first.line,
      ...(temps.length ? { temperatureC: temps.reduce((s, t) => s + t, 0) / temps.length } : {}),
      ...(first.time === null ? {} : { time: first.time }),
    });
  }
  return runs;
}

/**
 * Reads a focus log. Headings are guessed unless a mapping is given; rows that cannot be used are listed with their
 * line and the reason, the others are kept. Delimiter (comma, semicolon, tab) and decimal commas are recognised.
 */
export function readFocusCsv(text: string, given?: FocusMapping, fahrenheit = false): FocusCsv {
  const nothing: FocusCsv = { columns: [], mapping: {}, runs: [], bad: [], rows: 0 };
  if (text.length > MAX_FOCUS_CSV)
    return { ...nothing, bad: [{ line: 0, text: '', reason: 'the file is larger than 5 MB; split it by night' }] };
  if (text.includes('\u0000'))
    return { ...nothing, bad: [{ line: 0, text: '', reason: 'this is not a text file; export the log as CSV' }] };
  const parsed = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: false });
  const lines = parsed.data.map((cells, i) => ({ cells, line: i + 1 }));
  const filled = lines.filter(({ cells }) => cells.some((c) => c.trim() !== '') && !cells[0]!.startsWith('#'));
  const head = filled[0];
  if (!head) return { ...nothing, bad: [{ line: 1, text: '', reason: 'the file is empty' }] };
  const columns = head.cells.map((c, i) => c.trim() || `column ${i + 1}`);
  const mapping = given ?? guessMapping(columns);
  const missing = (['filter', 'position'] as const).filter(
    (f) => mapping[f] === undefined || !columns.includes(mapping[f]),
  );
  if (missing.length)
    return {
      ...nothing,
      columns,
      mapping,
      rows: filled.length - 1,
      bad: [
        {
          line: head.line,
          text: head.cells.join(', '),
          reason: `no column is taken for ${missing.join(' and ')}; choose ${missing.length > 1 ? 'them' : 'it'} from ${columns.join(', ')}`,
        },
      ],
    };
  const bad: BadRow[] = [];
  const rows: Row[] = [];
  for (const { cells, line } of filled.slice(1)) {
    const text = cells.join(', ').slice(0, 120);
    if (cells.length !== columns.length) {
      bad.push({ line, text, reason: `has ${cells.length} cells, the heading has ${columns.length}` });
      continue;
    }
    const got = readRow(Object.fromEntries(columns.map((c, i) => [c, cells[i]!])), mapping, fahrenheit);
    if (typeof got === 'string') bad.push({ line, text, reason: got });
    else rows.push({ ...got, line });
  }
  const runs = mapping.run === undefined ? rows.map(single) : curves(rows, bad);
  return { columns, mapping, runs, bad: bad.sort((a, b) => a.line - b.line), rows: filled.length - 1 };
}
