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
