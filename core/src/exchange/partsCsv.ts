import { parseInput, InvalidInput } from '../calculation/index.ts';
import { Part } from '../rig/index.ts';
import { decimalOf, numberIn, surplusOf, tidyNumber } from './cells.ts';
import { filledRows, toCsv, unescaped } from './csv.ts';
import type { BadRow } from './focusCsv.ts';

/** Columns of the drawer as a file, in this order; documented in docs/files.md. */
export const PART_COLUMNS = [
  'name',
  'kind',
  'mass_kg',
  'length_mm',
  'measured_mm',
  'measured_by',
  'width_mm',
  'count',
  'front_size',
  'front_gender',
  'rear_size',
  'rear_gender',
  'lent_to',
  'note',
] as const;

type Cells = Partial<Record<(typeof PART_COLUMNS)[number], string>>;

/** The drawer as CSV; what is read back is the same. */
export const partsToCsv = (parts: readonly Part[]): string =>
  toCsv(
    parts.map((p) => ({
      name: p.name,
      kind: p.kind,
      mass_kg: p.massKg,
      length_mm: p.lengthMm ?? '',
      measured_mm: p.measuredMm ?? '',
      measured_by: p.measuredBy ?? '',
      width_mm: p.widthMm ?? '',
      count: p.count,
      front_size: p.front?.size ?? '',
      front_gender: p.front?.gender ?? '',
      rear_size: p.rear?.size ?? '',
      rear_gender: p.rear?.gender ?? '',
      lent_to: p.lentTo ?? '',
      note: p.note,
    })),
    [...PART_COLUMNS],
  );

/** A number, a comma being its decimal sign where it can be nothing else; not a number where it could. */
const number = (text: string | undefined): number | undefined | typeof Number.NaN => {
  const { text: digits, unit } = tidyNumber(text);
  if (digits === '' && unit === '') return undefined;
  const sign = decimalOf([digits]);
  return unit !== '' || sign === 'doubt' ? Number.NaN : (numberIn(digits, sign) ?? Number.NaN);
};
const face = (size: string | undefined, gender: string | undefined) =>
  size?.trim() ? { size: size.trim(), gender: (gender ?? '').trim().toLowerCase() } : undefined;

function partOf(c: Cells): Part {
  const given = Object.entries({
    name: c.name?.trim(),
    kind: c.kind?.trim().replace(/\s+/g, '-') || 'accessory',
    massKg: number(c.mass_kg),
    lengthMm: number(c.length_mm),
    measuredMm: number(c.measured_mm),
    measuredBy: c.measured_by?.trim() || undefined,
    widthMm: number(c.width_mm),
    count: number(c.count) ?? 1,
    front: face(c.front_size, c.front_gender),
    rear: face(c.rear_size, c.rear_gender),
    lentTo: c.lent_to?.trim() || undefined,
    note: c.note ?? '',
  }).filter(([, v]) => v !== undefined);
  return parseInput(Part, Object.fromEntries(given));
}

/** Reads a drawer; rows that cannot be used are listed with their line and what is wrong, the others are kept. */
export function readPartsCsv(text: string): { parts: Part[]; bad: BadRow[] } {
  if (text.includes('\u0000'))
    return { parts: [], bad: [{ line: 0, text: '', reason: 'this is not a text file; export the list as CSV' }] };
  const [head, ...body] = filledRows(text);
  const columns = (head?.cells ?? []).map((h) => unescaped(h).trim().toLowerCase().replace(/\s+/g, '_'));
  const lacking = ['name', 'mass_kg'].filter((c) => !columns.includes(c));
  if (lacking.length)
    return {
      parts: [],
      bad: [
        {
          line: 1,
          text: columns.join(', '),
          reason: `the heading lacks ${lacking.join(' and ')}; columns are ${PART_COLUMNS.join(', ')}`,
        },
      ],
    };
  const parts: Part[] = [];
  const bad: BadRow[] = [];
  for (const { cells, line } of body) {
    const text = cells.join(', ').slice(0, 120);
    const surplus = surplusOf(cells, columns.length);
    if (surplus) {
      bad.push({ line, text, reason: surplus });
      continue;
    }
    try {
      parts.push(
        partOf(
          Object.fromEntries(columns.map((c, i) => [c, cells[i] === undefined ? undefined : unescaped(cells[i])])),
        ),
      );
    } catch (e) {
      if (!(e instanceof InvalidInput)) throw e;
      bad.push({ line, text, reason: e.message });
    }
  }
  return { parts, bad };
}
