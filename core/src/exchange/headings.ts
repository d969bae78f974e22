/** A heading taken apart: its words without case and signs, the unit and the zone it names. */
export interface Heading {
  /** As in the file. */
  column: string;
  /** “focuser temp”, “exposure”: words in order, unit and zone left out. */
  words: string;
  unit: string | null;
  zone: 'utc' | 'local' | null;
}

const UNIT_WORDS: Readonly<Record<string, string>> = {
  s: 's',
  sec: 's',
  secs: 's',
  second: 's',
  seconds: 's',
  ms: 'ms',
  msec: 'ms',
  milliseconds: 'ms',
  min: 'min',
  mins: 'min',
  minute: 'min',
  minutes: 'min',
  h: 'h',
  hr: 'h',
  hrs: 'h',
  hour: 'h',
  hours: 'h',
  c: 'C',
  degc: 'C',
  celsius: 'C',
  f: 'F',
  degf: 'F',
  fahrenheit: 'F',
  k: 'K',
  kelvin: 'K',
  px: 'px',
  pix: 'px',
  pixel: 'px',
  pixels: 'px',
  arcsec: 'arcsec',
  as: 'arcsec',
  '"': 'arcsec',
  '″': 'arcsec',
  "''": 'arcsec',
  steps: 'steps',
  um: 'um',
  µm: 'um',
  kg: 'kg',
  g: 'g',
  mm: 'mm',
};
/** Units written behind a name without brackets: “exposure_ms”, “temp_f”. A name may be a word of its own: “seconds”. */
const TRAILING = new Set([
  's',
  'sec',
  'secs',
  'ms',
  'msec',
  'min',
  'mins',
  'minutes',
  'hours',
  'hrs',
  'c',
  'degc',
  'f',
  'degf',
  'k',
  'px',
  'arcsec',
  'um',
  'seconds',
  'milliseconds',
]);
const ZONES: Readonly<Record<string, 'utc' | 'local'>> = {
  utc: 'utc',
  gmt: 'utc',
  ut: 'utc',
  zulu: 'utc',
  z: 'utc',
  local: 'local',
  lt: 'local',
  lokal: 'local',
  ortszeit: 'local',
};

const unitOf = (word: string): string | null => UNIT_WORDS[word.toLowerCase().replace(/[°º.\s]/g, '')] ?? null;

/** “ExposureTime (min)” is “exposure time” in minutes; “Time UTC” is “time” in UTC. */
export function readHeading(column: string): Heading {
  let [rest, unit, zone] = [column.trim(), null as string | null, null as Heading['zone']];
  rest = rest.replace(/[([{]([^)\]}]{0,20})[)\]}]/g, (_all, inner: string) => {
    const word = inner.trim().toLowerCase();
    const known = unitOf(word);
    if (known) unit = known;
    else if (ZONES[word]) zone = ZONES[word];
    else if (word === '#') return ' number ';
    else return ` ${inner} `;
    return ' ';
  });
  const words = rest
    .replace(/([a-z\d])([A-Z])/g, '$1 $2')
    .replace(/#/g, ' number ')
    .toLowerCase()
    .split(/[^\p{L}\d°"″']+/u)
    .filter(Boolean);
  const named = words.filter((w) => {
    if (!ZONES[w] || words.length === 1) return true;
    zone ??= ZONES[w];
    return false;
  });
  if (words.length === 1 && ZONES[words[0]!] === 'utc') zone = 'utc';
  const last = named.at(-1);
  if (named.length > 1 && last && (TRAILING.has(last) || /^[°"″']/.test(last)) && unitOf(last)) {
    unit ??= unitOf(last);
    named.pop();
  }
  return { column, words: named.join(' '), unit, zone };
}

export interface Guessed<F extends string> {
  mapping: Partial<Record<F, string>>;
  /** What a column might be, without saying so: asked before it is read. */
  doubtful: Partial<Record<F, string[]>>;
}

/**
 * Which column surely means what: one whose whole heading is a name for it. Several such, or one that only holds such a
 * word, is a doubt: “ExposureNumber” is no exposure, nor is “focuser temp” a position.
 * @param names  for each meaning the whole headings that say it
 * @param hints  words that make a column worth asking about where none is sure
 */
export function guessColumns<F extends string>(
  columns: readonly string[],
  names: Readonly<Record<F, readonly string[]>>,
  hints: Readonly<Partial<Record<F, RegExp>>>,
): Guessed<F> {
  const headings = columns.map(readHeading);
  const mapping: Partial<Record<F, string>> = {};
  const doubtful: Partial<Record<F, string[]>> = {};
  const squeezed = (w: string) => w.replace(/\s/g, '');
  for (const field of Object.keys(names) as F[]) {
    const wanted = new Set(names[field].map(squeezed));
    const sure = headings.filter((h) => wanted.has(squeezed(h.words)));
    if (sure.length === 1) mapping[field] = sure[0]!.column;
    else if (sure.length > 1) doubtful[field] = sure.map((h) => h.column);
  }
  const taken = new Set<unknown>(Object.values(mapping));
  for (const [field, hint] of Object.entries(hints) as unknown as [F, RegExp][]) {
    if (mapping[field] !== undefined || doubtful[field]) continue;
    const perhaps = headings.filter((h) => !taken.has(h.column) && hint.test(h.words));
    if (perhaps.length) doubtful[field] = perhaps.map((h) => h.column);
  }
  return { mapping, doubtful };
}

/** Whole headings by which tables of all kinds name the same things. */
export const NAMES = {
  filter: ['filter', 'filter name', 'filter used', 'filtername', 'filtre', 'filtro'],
  time: [
    'time',
    'date',
    'date time',
    'datetime',
    'timestamp',
    'date obs',
    'dateobs',
    'date beg',
    'start',
    'started',
    'start time',
    'begin',
    'utc',
    'time of day',
    'when',
    'exposure start',
    'observed',
    'obs time',
    'taken',
    'datum',
    'datum zeit',
    'zeit',
    'uhrzeit',
    'fecha',
    'hora',
    'heure',
  ],
} as const;
/** Of two columns that tell the moment, the one with the day and the one with the time of it. */
export const DAY_NAMES = ['date', 'day', 'datum', 'fecha', 'night', 'date obs', 'dateobs'] as const;
export const CLOCK_NAMES = [
  'time',
  'clock',
  'time of day',
  'uhrzeit',
  'zeit',
  'hora',
  'heure',
  'start',
  'start time',
  'time obs',
] as const;

/** A day in one column and the time of it in another; null where one column tells both, or neither. */
export function dayAndClock(columns: readonly string[]): { day: string; clock: string } | null {
  const of = (names: readonly string[]) => columns.filter((c) => names.includes(readHeading(c).words));
  const [days, clocks] = [of(DAY_NAMES), of(CLOCK_NAMES)];
  return days.length === 1 && clocks.length === 1 ? { day: days[0]!, clock: clocks[0]! } : null;
}

/** Columns of a table whose rows have a time: a day and a clock in two columns are one. */
export function guessTimed<F extends string>(
  columns: readonly string[],
  names: Readonly<Record<F | 'time' | 'date', readonly string[]>>,
  hints: Readonly<Partial<Record<F, RegExp>>>,
): Guessed<F | 'time' | 'date'> {
  const got = guessColumns<F | 'time' | 'date'>(columns, names, hints as Partial<Record<F | 'time' | 'date', RegExp>>);
  const two = dayAndClock(columns);
  if (!two) return got;
  const { time: _, ...doubtful } = got.doubtful as Partial<Record<F | 'time' | 'date', string[]>>;
  return { mapping: { ...got.mapping, date: two.day, time: two.clock }, doubtful: doubtful as typeof got.doubtful };
}
