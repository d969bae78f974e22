import Papa from 'papaparse';
import { guessMapping } from './focusCsv.ts';
import { guessFrameColumns } from './framesCsv.ts';
import { guessGuideMapping } from './guideCsv.ts';

/** What a text file of a night's folder probably is. */
export type TextKind = 'guide-log' | 'focus-log' | 'frames' | null;

/** Lines looked at: logs often begin with lines of their own. */
const LINES = 60;

/** Recognised by its headings alone; the reader of that kind then says what it can read. */
export function recogniseText(head: string): TextKind {
  for (const line of head.slice(0, 20_000).split(/\r?\n/).slice(0, LINES)) {
    const columns = (Papa.parse<string[]>(line).data[0] ?? []).map((c) => c.trim()).filter(Boolean);
    // headings are words; a row of figures is none
    if (columns.length < 2 || columns.every((c) => Number.isFinite(Number(c)))) continue;
    const guide = guessGuideMapping(columns);
    if (guide.ra && guide.dec && guide.time) return 'guide-log';
    const frames = guessFrameColumns(columns);
    const focus = guessMapping(columns);
    if (focus.filter && focus.position && !frames.exposure) return 'focus-log';
    if (frames.exposure && (frames.filter || frames.object || frames.file)) return 'frames';
  }
  return null;
}
