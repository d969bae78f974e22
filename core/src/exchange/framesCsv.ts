import Papa from 'papaparse';
import { frameKindOf, type FrameKind } from './frameHeader.ts';

/** What a column of a table of frames can mean. */
export const FRAME_COLUMNS = ['file', 'object', 'filter', 'exposure', 'time', 'count', 'kind', 'temperature', 'gain'] as const; // prettier-ignore
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
}

/** Largest table read, in characters; rows beyond the second limit are counted as bad. */
export const MAX_FRAMES_CSV = 3_000_000;
const MAX_ROWS = 5000;
/** A cell longer than this is no number and no name. */
const MAX_CELL = 260;

const GUESSES: Record<FrameColumn, RegExp> = {
  file: /file|name|image|frame$/i,
  object: /object|target/i,
  filter: /filter/i,
  exposure: /expos|exp\b|exptime|seconds|duration/i,
  time: /date|time|utc|start/i,
  count: /count|number|frames|subs|^n$/i,
  kind: /type|kind|imagetyp/i,
  temperature: /temp/i,
  gain: /gain/i,
};

export function guessFrameColumns(columns: readonly string[]): FrameColumns {
  const mapping: FrameColumns = {};
  const taken = new Set<string>();
  // the surer ones first: "exposure time" is no time
  for (const f of ['exposure', 'filter', 'object', 'kind', 'temperature', 'gain', 'time', 'count', 'file'] as const) {
    const column = columns.find((c) => !taken.has(c) && GUESSES[f].test(c));
    if (column === undefined) continue;
    mapping[f] = column;
    taken.add(column);
  }
  return mapping;
}

const number = (text: string): number | null => {
  const t = text.trim().replace(/^([-+]?\d{1,9}),(\d{1,9})$/, '$1.$2').replace(/\s?(s|sec|°?C)$/i, ''); // prettier-ignore
  const n = Number(t);
  return t !== '' && Number.isFinite(n) ? n : null;
};

function instantOf(text: string): string | null {
  const iso = text.trim().replace(/^(\d{4})[/.](\d\d)[/.](\d\d)/, '$1-$2-$3').replace(' ', 'T'); // prettier-ignore
  if (!/^\d{4}-\d\d-\d\dT\d\d:\d\d/.test(iso)) return null;
  const ms = Date.parse(/(z|[+-]\d\d:?\d\d)$/i.test(iso) ? iso : `${iso}Z`);
  return Number.isNaN(ms) ? null : new Date(ms).toISOString();
}

/** Reads a table of frames, a row a frame or a row for several; times without a zone are UTC. Says which rows it cannot read. */
export function readFramesCsv(text: string, given?: FrameColumns): FramesCsv {
  if (text.length > MAX_FRAMES_CSV)
    return { columns: [], mapping: {}, frames: [], bad: [{ line: 1, reason: `is larger than ${MAX_FRAMES_CSV / 1e6} MB` }] }; // prettier-ignore
  const parsed = Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: 'greedy' });
  const columns = parsed.meta.fields ?? [];
  const mapping = given ?? guessFrameColumns(columns);
  const bad: FramesCsv['bad'] = [];
  const frames: CsvFrame[] = [];
  if (!mapping.exposure) return { columns, mapping, frames, bad: [{ line: 1, reason: 'no column is taken for the exposure' }] }; // prettier-ignore
  parsed.data.forEach((cells, i) => {
    const line = i + 2;
    if (i >= MAX_ROWS) {
      if (i === MAX_ROWS) bad.push({ line, reason: `only ${MAX_ROWS} rows are read; split the table by night` });
      return;
    }
    const cell = (f: FrameColumn) => (mapping[f] === undefined ? '' : (cells[mapping[f]] ?? '').trim());
    if (FRAME_COLUMNS.some((f) => cell(f).length > MAX_CELL)) return bad.push({ line, reason: `a cell is longer than ${MAX_CELL} characters` }); // prettier-ignore
    const exposureS = number(cell('exposure'));
    if (exposureS === null || exposureS <= 0 || exposureS > 7200)
      return bad.push({ line, reason: `exposure “${cell('exposure')}” is not between 0 and 7200 s` });
    const count = cell('count') === '' ? 1 : number(cell('count'));
    if (count === null || !Number.isInteger(count) || count < 1 || count > MAX_ROWS)
      return bad.push({ line, reason: `“${cell('count')}” is no number of frames` });
    const startedAt = cell('time') ? instantOf(cell('time')) : null;
    if (cell('time') && !startedAt)
      return bad.push({ line, reason: `time “${cell('time')}” is not understood; write 2026-11-24T20:15:00Z` });
    const kind = cell('kind') ? frameKindOf(cell('kind')) : 'light';
    if (!kind) return bad.push({ line, reason: `“${cell('kind')}” is no kind of frame` });
    return frames.push({
      line,
      file: cell('file'),
      object: cell('object'),
      filter: cell('filter').slice(0, 40),
      exposureS,
      startedAt,
      count,
      kind,
      sensorC: number(cell('temperature')),
      gain: number(cell('gain')),
    });
  });
  return { columns, mapping, frames, bad };
}
