import { filledRows } from './csv.ts';
import {
  celsiusIn,
  decimalOf,
  instantIn,
  numberIn,
  secondsPer,
  surplusOf,
  tidyNumber,
  type TableAnswers,
  type TableAsk,
} from './cells.ts';
import { frameKindOf, type FrameKind } from './frameHeader.ts';
import { guessTimed, NAMES, readHeading } from './headings.ts';

/** What a column of a table of frames can mean; `date` where the day stands in a column of its own. */
export const FRAME_COLUMNS = [
  'file',
  'object',
  'filter',
  'exposure',
  'date',
  'time',
  'count',
  'kind',
  'temperature',
  'gain',
] as const;
export type FrameColumn = (typeof FRAME_COLUMNS)[number];
export type FrameColumns = Partial<Record<FrameColumn, string>>;

export interface CsvFrame {
  line: number;
  file: string;
  object: string;
  filter: string;
  exposureS: number;
  startedAt: string | null;
  count: number;
  kind: FrameKind;
  sensorC: number | null;
  gain: number | null;
}
export interface FramesCsv {
  columns: string[];
  mapping: FrameColumns;
  frames: CsvFrame[];
  bad: { line: number; reason: string }[];
  /** What has to be said before it can be read: until then no row is. */
  asks: TableAsk[];
  /** The first rows as they stand, for whoever is asked. */
  sample: string[][];
}

/** Largest table read, in characters; rows beyond the second limit are counted as bad. */
export const MAX_FRAMES_CSV = 3_000_000;
/** Rows of a table of frames that are read. */
const MAX_ROWS = 5000;
/** A cell longer than this is no number and no name. */
const MAX_CELL = 260;

const COLUMN_NAMES: Record<FrameColumn, readonly string[]> = {
  exposure: [
    'exposure',
    'exp',
    'exptime',
    'exposure time',
    'exp time',
    'exposure length',
    'exposure duration',
    'duration',
    'seconds',
    'secs',
    'sub length',
    'sub exposure',
    'length',
    'itime',
    'shutter',
    'integration time',
    'belichtung',
    'belichtungszeit',
  ],
  filter: NAMES.filter,
  object: ['object', 'target', 'object name', 'target name', 'objname', 'objekt', 'ziel'],
  kind: ['type', 'kind', 'imagetyp', 'image type', 'frame type', 'frametype', 'picture type'],
  temperature: [
    'temp',
    'temperature',
    'sensor temp',
    'sensor temperature',
    'sensor',
    'ccd temp',
    'ccd temperature',
    'camera temp',
    'camera temperature',
    'chip temp',
    'chip temperature',
    'detector temp',
    'ccdtemp',
  ],
  gain: ['gain'],
  time: NAMES.time,
  date: [],
  count: [
    'count',
    'frames',
    'frame count',
    'number of frames',
    'no of frames',
    'number frames',
    'subs',
    'number of subs',
    'n',
    'quantity',
    'exposures',
    'number of exposures',
    'anzahl',
  ],
  file: ['file', 'filename', 'file name', 'path', 'image', 'image name', 'frame', 'name', 'datei'],
};
/** Headings worth asking about where none says it surely. */
const HINTS: Partial<Record<FrameColumn, RegExp>> = { exposure: /expos|belicht/ };

export function guessFrameColumns(columns: readonly string[]): FrameColumns {
  return guessed(columns).mapping;
}
const guessed = (columns: readonly string[]) => guessTimed(columns, COLUMN_NAMES, HINTS);

/** Headings that stand twice are told apart. */
const unlike = (head: readonly string[]): string[] => {
  const seen = new Map<string, number>();
  return head.map((c, i) => {
    const name = c.trim() || `column ${i + 1}`;
    const n = (seen.get(name) ?? 0) + 1;
    seen.set(name, n);
    return n === 1 ? name : `${name} (${n})`;
  });
};

/**
 * Reads a table of frames, a row a frame or a row for several. Units and zones are taken from headings and cells; times
 * without a zone are UTC unless their heading calls them local. What could be read two ways is asked, not guessed. Says
 * which rows it cannot read.
 * @param given  columns somebody chose
 * @param answers  what was answered to earlier questions
 */
export function readFramesCsv(text: string, given?: FrameColumns, answers: TableAnswers = {}): FramesCsv {
  const nothing: FramesCsv = { columns: [], mapping: {}, frames: [], bad: [], asks: [], sample: [] };
  if (text.length > MAX_FRAMES_CSV)
    return { ...nothing, bad: [{ line: 1, reason: `is larger than ${MAX_FRAMES_CSV / 1e6} MB` }] };
  const [head, ...body] = filledRows(text);
  const columns = unlike(head?.cells ?? []);
  const rows = body.map((r) => r.cells);
  const guess = guessed(columns);
  const mapping = given ?? guess.mapping;
  const sample = rows.slice(0, 3);
  const bad: FramesCsv['bad'] = [];
  const frames: CsvFrame[] = [];
  const asks: TableAsk[] = [];
  const done = (): FramesCsv => ({ columns, mapping, frames: asks.length ? [] : frames, bad, asks, sample });
  const at = Object.fromEntries(
    FRAME_COLUMNS.map((f) => [f, mapping[f] === undefined ? -1 : columns.indexOf(mapping[f])]),
  ) as Record<FrameColumn, number>;
  const column = (f: FrameColumn) => rows.slice(0, MAX_ROWS).map((r) => (r[at[f]] ?? '').trim());
  if (!given)
    for (const [field, list] of Object.entries(guess.doubtful))
      if (field === 'exposure' || list.length > 1)
        asks.push({ what: 'column', field, columns: list, sample: rows[0]?.[columns.indexOf(list[0]!)] ?? '' });
  if (at.exposure < 0) {
    if (!asks.some((a) => a.field === 'exposure')) bad.push({ line: 1, reason: 'no column is taken for the exposure' });
    return done();
  }
  const heads = Object.fromEntries(FRAME_COLUMNS.map((f) => [f, readHeading(mapping[f] ?? '')])) as Record<
    FrameColumn,
    ReturnType<typeof readHeading>
  >;
  const decimals = Object.fromEntries(
    (['exposure', 'count', 'temperature', 'gain'] as const).map((f) => [
      f,
      at[f] < 0 ? '.' : decimalOf(column(f), answers.decimal),
    ]),
  ) as Record<'exposure' | 'count' | 'temperature' | 'gain', ReturnType<typeof decimalOf>>;
  for (const [field, sign] of Object.entries(decimals))
    if (sign === 'doubt')
      asks.push({
        what: 'decimal',
        field,
        columns: [mapping[field as FrameColumn]!],
        sample: column(field as FrameColumn).find((c) => /[.,]\d{3}$/.test(c)) ?? '',
      });
  if (asks.length) return done();
  const numeric = (f: keyof typeof decimals, cell: string) => {
    const { text: digits, unit } = tidyNumber(cell);
    return { value: numberIn(digits, decimals[f] as '.'), unit };
  };
  rows.forEach((cells, i) => {
    const { line } = body[i]!;
    if (i >= MAX_ROWS) {
      if (i === MAX_ROWS) bad.push({ line, reason: `only ${MAX_ROWS} rows are read; split the table by night` });
      return;
    }
    const surplus = surplusOf(cells, columns.length);
    if (surplus) return bad.push({ line, reason: surplus });
    const cell = (f: FrameColumn) => (at[f] < 0 ? '' : (cells[at[f]] ?? '').trim());
    if (FRAME_COLUMNS.some((f) => cell(f).length > MAX_CELL))
      return bad.push({ line, reason: `a cell is longer than ${MAX_CELL} characters` });
    const exposure = numeric('exposure', cell('exposure'));
    const per = secondsPer(exposure.unit || (heads.exposure.unit ?? ''));
    const exposureS = exposure.value === null || per === null ? null : exposure.value * per;
    if (exposureS === null || exposureS <= 0 || exposureS > 7200)
      return bad.push({ line, reason: `exposure “${cell('exposure')}” is not between 0 and 7200 s` });
    const count = cell('count') === '' ? 1 : numeric('count', cell('count')).value;
    if (count === null || !Number.isInteger(count) || count < 1 || count > MAX_ROWS)
      return bad.push({ line, reason: `“${cell('count')}” is no number of frames` });
    const when = at.date >= 0 ? { day: cell('date'), clock: cell('time') } : { day: cell('time'), clock: undefined };
    let startedAt: string | null = null;
    if (when.day) {
      const local = heads.time.zone === 'local' || heads.date.zone === 'local';
      const read = instantIn(when.day, { ...answers, local, clock: when.clock || undefined });
      if (read.ok) startedAt = read.iso;
      else if (read.doubt) {
        if (!asks.some((a) => a.what === read.doubt))
          asks.push({ what: read.doubt, field: 'time', columns: [mapping.date ?? mapping.time!], sample: when.day });
        return undefined;
      } else return bad.push({ line, reason: `time ${read.reason}` });
    }
    const kind = cell('kind') ? frameKindOf(cell('kind')) : 'light';
    if (!kind) return bad.push({ line, reason: `“${cell('kind')}” is no kind of frame` });
    const temperature = numeric('temperature', cell('temperature'));
    const sensorC =
      temperature.value === null
        ? null
        : celsiusIn(temperature.value, temperature.unit || (heads.temperature.unit ?? ''));
    return frames.push({
      line,
      file: cell('file'),
      object: cell('object'),
      filter: cell('filter').slice(0, 40),
      exposureS,
      startedAt,
      count,
      kind,
      sensorC: sensorC !== null && sensorC > -120 && sensorC < 80 ? sensorC : null,
      gain: numeric('gain', cell('gain')).value,
    });
  });
  return done();
}
