import { filledRows } from './csv.ts';
import {
  celsiusIn,
  decimalOf,
  instantIn,
  numberIn,
  surplusOf,
  tidyNumber,
  type TableAnswers,
  type TableAsk,
} from './cells.ts';
import { guessTimed, NAMES, readHeading } from './headings.ts';

/** What a column of a focus log can mean; `date` where the day stands in a column of its own. */
export const FOCUS_FIELDS = ['run', 'filter', 'position', 'hfd', 'temperature', 'date', 'time'] as const;
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
  /** What has to be said before it can be read: until then no row is. */
  asks: TableAsk[];
  /** The first rows as they stand, for whoever is asked. */
  sample: string[][];
}

/** Largest focus log accepted, in characters. */
export const MAX_FOCUS_CSV = 5_000_000;

const COLUMN_NAMES: Record<FocusField, readonly string[]> = {
  run: [
    'run',
    'run id',
    'run no',
    'run number',
    'curve',
    'curve id',
    'sweep',
    'session',
    'focus run',
    'focusrun',
    'focus run id',
  ],
  filter: NAMES.filter,
  position: [
    'position',
    'pos',
    'focus position',
    'focuser position',
    'focus pos',
    'focuser pos',
    'best position',
    'best focus',
    'best focus position',
    'steps',
    'step',
    'focuser steps',
    'focus steps',
    'focuspos',
    'focpos',
    'focus',
    'focuser',
    'fokus',
    'fokusposition',
    'schritte',
  ],
  hfd: [
    'hfd',
    'hfr',
    'fwhm',
    'diameter',
    'star diameter',
    'star size',
    'size',
    'width',
    'star width',
    'half flux diameter',
    'half flux radius',
    'best hfd',
    'best hfr',
    'min hfd',
    'mean hfd',
    'median hfd',
  ],
  temperature: [
    'temp',
    'temperature',
    'focuser temp',
    'focuser temperature',
    'focus temp',
    'focus temperature',
    'tube temp',
    'tube temperature',
    'ambient',
    'ambient temp',
    'ambient temperature',
    'air temp',
    'air temperature',
    'outside temp',
    'temperatur',
  ],
  time: NAMES.time,
  date: [],
};
const HINTS: Partial<Record<FocusField, RegExp>> = { position: /\bpos|\bstep|focus(?!.*(?:run|temp))/ };

/** Which column surely means what, by its whole heading. */
export function guessMapping(columns: readonly string[]): FocusMapping {
  return guessed(columns).mapping;
}
const guessed = (columns: readonly string[]) => guessTimed(columns, COLUMN_NAMES, HINTS);

interface Row {
  line: number;
  run: string | null;
  filter: string;
  position: number;
  hfd: number | null;
  temperatureC: number | null;
  time: string | null;
}

/** How the cells of one table are read. */
interface Reading {
  mapping: FocusMapping;
  heads: Record<FocusField, ReturnType<typeof readHeading>>;
  decimals: Record<'position' | 'hfd' | 'temperature', '.' | ','>;
  answers: TableAnswers;
  fahrenheit: boolean;
}

function readRow(
  cells: Record<string, string>,
  r: Reading,
): Row | string | { doubt: 'dayOrder' | 'zone'; sample: string } {
  const { mapping } = r;
  const cell = (f: FocusField) => (mapping[f] === undefined ? undefined : cells[mapping[f]]?.trim());
  const numeric = (f: keyof Reading['decimals']) => {
    const { text, unit } = tidyNumber(cell(f));
    return { value: numberIn(text, r.decimals[f]), unit: unit || (r.heads[f].unit ?? '') };
  };
  const filter = cell('filter');
  if (!filter) return `no filter named (column “${mapping.filter}”)`;
  const position = numeric('position').value;
  if (position === null) return `position “${(cell('position') ?? '').slice(0, 40)}” is not a number`;
  const hfdText = cell('hfd');
  const radius = /\bhfr\b|radius/.test(r.heads.hfd.words) ? 2 : 1;
  const hfdRead = hfdText ? numeric('hfd').value : null;
  const hfd = hfdRead === null ? null : radius * hfdRead;
  if (hfdText && (hfd === null || hfd <= 0)) return `diameter “${hfdText.slice(0, 40)}” must be a number above 0`;
  if (mapping.run !== undefined && hfd === null) return 'a point of a curve needs a diameter';
  const tempText = cell('temperature');
  let temperatureC: number | null = null;
  if (tempText) {
    const { value, unit } = numeric('temperature');
    temperatureC = value === null ? null : celsiusIn(value, unit || (r.fahrenheit ? 'F' : ''));
    if (temperatureC === null) return `temperature “${tempText.slice(0, 40)}” is not a temperature`;
    if (temperatureC < -90 || temperatureC > 70) return `temperature ${tempText} is not believable`;
  }
  const [day, clock] =
    mapping.date === undefined ? [cell('time'), undefined] : [cell('date'), cell('time') || undefined];
  let time: string | null = null;
  if (day) {
    const local = r.heads.time.zone === 'local' || r.heads.date.zone === 'local';
    const read = instantIn(day, { ...r.answers, local, clock });
    if (!read.ok) return read.doubt ? { doubt: read.doubt, sample: day } : `time ${read.reason}`;
    time = read.iso;
  }
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
 * Reads a focus log. Columns are known by their headings unless a mapping is given; rows that cannot be used are listed
 * with their line and the reason, the others are kept. What could be read two ways is asked, not guessed.
 * @param fahrenheit  temperatures without a unit are in Fahrenheit
 * @param answers  what was answered to earlier questions
 */
export function readFocusCsv(
  text: string,
  given?: FocusMapping,
  fahrenheit = false,
  answers: TableAnswers = {},
): FocusCsv {
  const nothing: FocusCsv = { columns: [], mapping: {}, runs: [], bad: [], rows: 0, asks: [], sample: [] };
  if (text.length > MAX_FOCUS_CSV)
    return { ...nothing, bad: [{ line: 0, text: '', reason: 'the file is larger than 5 MB; split it by night' }] };
  if (text.includes('\u0000'))
    return { ...nothing, bad: [{ line: 0, text: '', reason: 'this is not a text file; export the log as CSV' }] };
  const filled = filledRows(text, '#');
  const head = filled[0];
  if (!head) return { ...nothing, bad: [{ line: 1, text: '', reason: 'the file is empty' }] };
  const columns = head.cells.map((c, i) => c.trim() || `column ${i + 1}`);
  const guess = guessed(columns);
  const mapping = given ?? guess.mapping;
  const body = filled.slice(1);
  const sample = body.slice(0, 3).map((r) => r.cells);
  const known = { ...nothing, columns, mapping, rows: body.length, sample };
  const cellsOf = (f: FocusField) => body.map((r) => r.cells[columns.indexOf(mapping[f] ?? '')] ?? '');
  const asks: TableAsk[] = [];
  if (!given)
    for (const [field, list] of Object.entries(guess.doubtful))
      if (field === 'position' || list.length > 1)
        asks.push({ what: 'column', field, columns: list, sample: sample[0]?.[columns.indexOf(list[0]!)] ?? '' });
  const missing = (['filter', 'position'] as const).filter(
    (f) => (mapping[f] === undefined || !columns.includes(mapping[f])) && !asks.some((a) => a.field === f),
  );
  if (missing.length)
    return {
      ...known,
      bad: [
        {
          line: head.line,
          text: head.cells.join(', '),
          reason: `no column is taken for ${missing.join(' and ')}; choose ${missing.length > 1 ? 'them' : 'it'} from ${columns.join(', ')}`,
        },
      ],
    };
  if (asks.length) return { ...known, asks };
  const decimals = Object.fromEntries(
    (['position', 'hfd', 'temperature'] as const).map((f) => [f, decimalOf(cellsOf(f), answers.decimal)]),
  ) as Record<'position' | 'hfd' | 'temperature', ReturnType<typeof decimalOf>>;
  for (const [field, sign] of Object.entries(decimals))
    if (sign === 'doubt')
      asks.push({
        what: 'decimal',
        field,
        columns: [mapping[field as FocusField]!],
        sample: cellsOf(field as FocusField).find((c) => /[.,]\d{3}\s*$/.test(c)) ?? '',
      });
  if (asks.length) return { ...known, asks };
  const heads = Object.fromEntries(FOCUS_FIELDS.map((f) => [f, readHeading(mapping[f] ?? '')])) as Reading['heads'];
  const reading: Reading = { mapping, heads, decimals: decimals as Reading['decimals'], answers, fahrenheit };
  const bad: BadRow[] = [];
  const rows: Row[] = [];
  for (const { cells, line } of body) {
    const text = cells.join(', ').slice(0, 120);
    const surplus = surplusOf(cells, columns.length);
    if (surplus || cells.length < columns.length) {
      bad.push({ line, text, reason: surplus ?? `has ${cells.length} cells, the heading has ${columns.length}` });
      continue;
    }
    const got = readRow(Object.fromEntries(columns.map((c, i) => [c, cells[i]!])), reading);
    if (typeof got === 'string') bad.push({ line, text, reason: got });
    else if ('doubt' in got) {
      if (!asks.some((a) => a.what === got.doubt))
        asks.push({ what: got.doubt, field: 'time', columns: [mapping.date ?? mapping.time!], sample: got.sample });
    } else rows.push({ ...got, line });
  }
  if (asks.length) return { ...known, asks };
  const runs = mapping.run === undefined ? rows.map(single) : curves(rows, bad);
  return { ...known, runs, bad: bad.sort((a, b) => a.line - b.line) };
}
