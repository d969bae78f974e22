import Papa from 'papaparse';

/** Cells that some spreadsheet would run: by their first sign, full-width ones included. */
const RUNS = /^[=+\-@\t\r\n＝＋－＠]/;

/** Rows as CSV text with a heading; cells that a spreadsheet would run as a formula are quoted harmless. */
export const toCsv = (rows: readonly Record<string, unknown>[], columns?: string[]): string =>
  Papa.unparse(rows as Record<string, unknown>[], {
    escapeFormulae: RUNS,
    newline: '\n',
    ...(columns ? { columns } : {}),
  }) + '\n';

/** A cell's own text again, without the quote that keeps a spreadsheet from running it. */
export const unescaped = (cell: string): string => cell.replace(/^'(?=[=+\-@\t\r\n＝＋－＠])/, '');

/**
 * The rows of a table that hold something, each with the line of the file it begins in.
 * @param comment how a line begins that is none of its rows
 */
export function filledRows(text: string, comment?: string): { cells: string[]; line: number }[] {
  const plain = text.replace(/^\uFEFF/, '');
  // by its first rows, comments left out: they may hold other signs
  const { delimiter } = Papa.parse(plain, {
    preview: 40,
    skipEmptyLines: 'greedy',
    ...(comment ? { comments: comment } : {}),
  }).meta;
  const rows: { cells: string[]; line: number }[] = [];
  let line = 1;
  for (const cells of Papa.parse<string[]>(plain, { delimiter }).data) {
    const at = line;
    line++;
    for (const c of cells) if (c.includes('\n')) line += c.split('\n').length - 1;
    if (comment && cells[0]!.startsWith(comment)) continue;
    if (cells.some((c) => c.trim() !== '')) rows.push({ cells, line: at });
  }
  return rows;
}
