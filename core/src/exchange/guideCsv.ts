import { filledRows } from './csv.ts';
import { decimalOf, instantIn, numberIn, surplusOf, tidyNumber } from './cells.ts';
import type { BadRow } from './focusCsv.ts';
import { readHeading } from './headings.ts';

/** What a column of a guide log can mean. */
export const GUIDE_FIELDS = ['time', 'ra', 'dec', 'raPulse', 'decPulse', 'snr', 'state'] as const;
export type GuideField = (typeof GUIDE_FIELDS)[number];
export type GuideMapping = Partial<Record<GuideField, string>>;

export interface GuideSample {
  timeS: number;
  raArcsec: number;
  decArcsec: number;
  raPulseMs: number;
  decPulseMs: number;
  snr?: number;
  state: 'guiding' | 'settling' | 'dithering' | 'lost' | 'off';
}
export interface GuideCsv {
  columns: string[];
  mapping: GuideMapping;
  samples: GuideSample[];
  bad: BadRow[];
  rows: number;
  /** Pauses far longer than the cadence. */
  gaps: number;
  /** When the first sample was taken, where the log tells dates and not seconds; without a zone they are taken for UTC. */
  beganAt: string | null;
  /** Unit of the errors as the headings or cells say; null when they say nothing. */
  unit: AngleUnit | null;
}
export type AngleUnit = 'arcsec' | 'px';
/** Largest guide log read, in rows: a week at one second. */
export const MAX_GUIDE_ROWS = 700_000;
/** Bad rows listed at most; the rest is only counted. */
const LISTED = 200;

const GUESSES: Record<GuideField, RegExp> = {
  time: /^(time|t|time[_ ]?\(?(?:m?s|sec|seconds|min)\)?|seconds|elapsed|elapsed[_ ](?:time|s|seconds)|date.{0,30}|utc|timestamp)$/i,
  ra: /^(ra|ra[_ ]?(arcsec|error|px)|dx|x)$/i,
  dec: /^(dec|dec[_ ]?(arcsec|error|px)|dy|y)$/i,
  raPulse: /^ra[_ ]?(pulse|ms|pulse[_ ]?ms)/i,
  decPulse: /^dec[_ ]?(pulse|ms|pulse[_ ]?ms)/i,
  snr: /^(snr|signal.*noise)/i,
  state: /^(state|status|mode|event)$/i,
};
const STATES = new Set(['guiding', 'settling', 'dithering', 'lost', 'off']);

export function guessGuideMapping(columns: readonly string[]): GuideMapping {
  const mapping: GuideMapping = {};
  const taken = new Set<string>();
  for (const f of GUIDE_FIELDS) {
    const c = columns.find((x) => !taken.has(x) && GUESSES[f].test(x.trim()));
    if (c !== undefined) {
      mapping[f] = c;
      taken.add(c);
    }
  }
  return mapping;
}

/** Unit that a heading or a cell names. */
const unitOf = (text: string | undefined): AngleUnit | null =>
  /(arcsec|″|''|"|\bas\b)/i.test(text ?? '') ? 'arcsec' : /(px|pix)/i.test(text ?? '') ? 'px' : null;
const UNIT_WORDS: Record<AngleUnit, string> = { arcsec: 'arcseconds', px: 'pixels' };
/** An error with the unit it may carry. */
function errorOf(text: string | undefined, decimal: '.' | ','): { value: number | null; unit: AngleUnit | null } {
  if ((text ?? '').length > MOST_CELL) return { value: null, unit: null };
  const unit = unitOf(text);
  return {
    value: numberOf(unit ? (text ?? '').replace(/(?:arcsec|px|pixels?|pix|as|″|''|")\s*$/i, '') : text, decimal),
    unit,
  };
}

/** Longer than this no cell is a number or a time. */
const MOST_CELL = 40;
const numberOf = (text: string | undefined, decimal: '.' | ',' = '.'): number | null => {
  if ((text ?? '').length > MOST_CELL) return null;
  const { text: digits, unit } = tidyNumber(text);
  return unit === '' ? numberIn(digits, decimal) : null;
};
/** Milliseconds in the units pulses are told in. */
const PULSE_MS: Readonly<Record<string, number>> = { ms: 1, s: 1000 };
/** A pulse as it stands in its cell: nothing, or a dash, is none; null where it is no number. */
const pulseOf = (text: string | undefined, decimal: '.' | ','): number | null =>
  /^[-–—]?$/.test((text ?? '').trim()) ? 0 : numberOf(text, decimal);
/** The instant a cell names [s]; null for what is no date. */
const instantSeconds = (text: string | undefined): number | null => {
  if ((text ?? '').length > MOST_CELL) return null;
  const read = instantIn(text ?? '', { local: false });
  return read.ok ? Date.parse(read.iso) / 1000 : null;
};

/**
 * Reads a guide log as CSV. Errors are arcseconds, or pixels with the guide scale given. Rows that cannot be used are
 * listed with line and reason; rows of a lost star keep their place with zero errors.
 * @param scale arcseconds per pixel when the errors are in pixels, else 1
 */
export function readGuideCsv(text: string, given?: GuideMapping, scale = 1): GuideCsv {
  const nothing: GuideCsv = {
    columns: [],
    mapping: {},
    samples: [],
    bad: [],
    rows: 0,
    gaps: 0,
    beganAt: null,
    unit: null,
  };
  const fail = (reason: string, more: Partial<GuideCsv> = {}): GuideCsv => ({
    ...nothing,
    ...more,
    bad: [{ line: 1, text: '', reason }],
  });
  if (text.includes('\u0000')) return fail('this is not a text file; export the log as CSV');
  const tooMany = (rows: number, columns: string[] = []): GuideCsv =>
    fail(
      `the log has ${rows.toLocaleString('en')} rows; up to ${MAX_GUIDE_ROWS.toLocaleString('en')} are read. Split it by night.`,
      { columns, rows },
    );
  // reading them only to turn them away takes seconds; within quotes a row may have several lines
  let lines = 0;
  if (!text.includes('"')) for (const _line of text.matchAll(/^[^\S\r\n]*[^\s#]/gm)) lines++;
  if (lines - 1 > MAX_GUIDE_ROWS) return tooMany(lines - 1);
  const data = filledRows(text, '#');
  const head = data[0]?.cells;
  if (!head) return fail('the file is empty');
  const columns = head.map((c, i) => c.trim() || `column ${i + 1}`);
  const rows = data.length - 1;
  if (rows === 0) return fail('there is a heading but not one row under it', { columns });
  if (rows > MAX_GUIDE_ROWS) return tooMany(rows, columns);
  const mapping = given ?? guessGuideMapping(columns);
  const missing = (['time', 'ra', 'dec'] as const).filter(
    (f) => mapping[f] === undefined || !columns.includes(mapping[f]),
  );
  if (missing.length)
    return fail(`no column is taken for ${missing.join(', ')}; choose from ${columns.join(', ')}`, {
      columns,
      mapping,
      rows,
    });
  const named = { ra: unitOf(mapping.ra), dec: unitOf(mapping.dec) };
  if (named.ra && named.dec && named.ra !== named.dec)
    return fail(
      `“${mapping.ra}” is in ${UNIT_WORDS[named.ra]} and “${mapping.dec}” in ${UNIT_WORDS[named.dec]}; choose two columns in the same unit`,
      { columns, mapping, rows },
    );
  let unit = named.ra ?? named.dec;
  let dated: boolean | null = null;
  const at = Object.fromEntries(
    GUIDE_FIELDS.map((f) => [f, mapping[f] === undefined ? -1 : columns.indexOf(mapping[f])]),
  ) as Record<GuideField, number>;
  // errors and times share the sign of the table; the first rows that leave no doubt say it
  const signs = decimalOf(
    data
      .slice(1, 400)
      .flatMap(({ cells: r }) =>
        [r[at.ra], r[at.dec]].map((c) =>
          (c ?? '').slice(0, MOST_CELL).replace(/(?:arcsec|px|pixels?|pix|as|″|''|")\s*$/i, ''),
        ),
      ),
  );
  const decimal = signs === 'doubt' ? '.' : signs;
  const pulseUnits = [mapping.raPulse, mapping.decPulse].map(
    (c) => (c === undefined ? null : readHeading(c).unit) ?? 'ms',
  );
  const strange = pulseUnits.findIndex((u) => PULSE_MS[u] === undefined);
  if (strange >= 0)
    return fail(
      `“${strange === 0 ? mapping.raPulse : mapping.decPulse}” is in ${pulseUnits[strange]}; pulses are read in milliseconds or seconds. Choose another column, or none`,
      { columns, mapping, rows },
    );
  const [raMs, decMs] = pulseUnits.map((u) => PULSE_MS[u]!) as [number, number];
  const perS = { ms: 0.001, min: 60, h: 3600 }[readHeading(mapping.time!).unit ?? ''] ?? 1;
  const samples: GuideSample[] = [];
  const bad: BadRow[] = [];
  let refused = 0;
  let begin: number | null = null;
  let last = -Infinity;
  for (let i = 1; i < data.length; i++) {
    const { cells, line } = data[i]!;
    const refuse = (reason: string) => {
      refused++;
      if (bad.length < LISTED) bad.push({ line, text: cells.join(', ').slice(0, 120), reason });
    };
    const cell = (f: GuideField) => (at[f] < 0 ? undefined : cells[at[f]]);
    const surplus = surplusOf(cells, columns.length);
    if (surplus) {
      refuse(surplus);
      continue;
    }
    const elapsed = numberOf(cell('time'), decimal);
    const t = elapsed === null ? instantSeconds(cell('time')) : elapsed * perS;
    if (t === null) {
      refuse(`time “${(cell('time') ?? '').slice(0, 40)}” is neither seconds nor a date`);
      continue;
    }
    const isDate = elapsed === null;
    dated ??= isDate;
    if (isDate !== dated) {
      refuse(
        `time “${cell('time') ?? ''}” is ${isDate ? 'a date where rows before are seconds' : 'in seconds where rows before are dates'}`,
      );
      continue;
    }
    const state = (cell('state') ?? 'guiding').trim().toLowerCase() || 'guiding';
    if (!STATES.has(state)) {
      refuse(`state “${state}” is not one of ${[...STATES].join(', ')}`);
      continue;
    }
    const [raCell, decCell] = [errorOf(cell('ra'), decimal), errorOf(cell('dec'), decimal)];
    const [ra, dec] = [raCell.value, decCell.value];
    const given = raCell.unit ?? decCell.unit;
    if (given !== null) {
      unit ??= given;
      if (given !== unit || (decCell.unit !== null && decCell.unit !== given)) {
        refuse(`is in ${UNIT_WORDS[given === unit ? decCell.unit! : given]} where the log is in ${UNIT_WORDS[unit]}`);
        continue;
      }
    }
    if (state !== 'lost' && (ra === null || dec === null)) {
      refuse(
        `${ra === null ? `right ascension “${(cell('ra') ?? '').slice(0, 40)}”` : `declination “${(cell('dec') ?? '').slice(0, 40)}”`} is not a number`,
      );
      continue;
    }
    const pulses = [pulseOf(cell('raPulse'), decimal), pulseOf(cell('decPulse'), decimal)];
    if (pulses.includes(null)) {
      refuse(
        `pulse “${(cell(pulses[0] === null ? 'raPulse' : 'decPulse') ?? '').slice(0, 40)}” is no number; its direction is its sign`,
      );
      continue;
    }
    begin ??= t;
    const timeS = t - begin;
    if (timeS <= last) {
      refuse('its time is not later than the row before');
      continue;
    }
    last = timeS;
    const snr = numberOf(cell('snr'), decimal);
    samples.push({
      timeS,
      raArcsec: (ra ?? 0) * scale,
      decArcsec: (dec ?? 0) * scale,
      raPulseMs: pulses[0]! * raMs,
      decPulseMs: pulses[1]! * decMs,
      ...(snr === null ? {} : { snr: Math.max(0, snr) }),
      state: state as GuideSample['state'],
    });
  }
  if (refused > LISTED) bad.push({ line: 0, text: '', reason: `and ${refused - LISTED} more rows like these` });
  const steps = samples
    .slice(1)
    .map((s, k) => s.timeS - samples[k]!.timeS)
    .sort((a, b) => a - b);
  const cadence = steps[Math.floor(steps.length / 2)] ?? 0;
  return {
    columns,
    mapping,
    samples,
    bad,
    rows,
    gaps: steps.filter((s) => s > 10 * cadence).length,
    beganAt: dated && begin !== null ? new Date(begin * 1000).toISOString() : null,
    unit,
  };
}

/** A log in our own columns: seconds, arcseconds on the sky, milliseconds. */
export const guideToCsv = (samples: readonly GuideSample[]): string =>
  ['time_s,ra_arcsec,dec_arcsec,ra_pulse_ms,dec_pulse_ms,snr,state']
    .concat(
      samples.map((s) =>
        [
          +s.timeS.toFixed(3),
          +s.raArcsec.toFixed(3),
          +s.decArcsec.toFixed(3),
          +s.raPulseMs.toFixed(1),
          +s.decPulseMs.toFixed(1),
          s.snr === undefined ? '' : +s.snr.toFixed(1),
          s.state,
        ].join(','),
      ),
    )
    .join('\n') + '\n';
