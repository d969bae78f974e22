import { RAD, readSexagesimal } from '../quantities/index.ts';
/**
 * The primary header of a FITS file: 2880-byte blocks of 80-character cards. Source: FITS Standard 4.0 (2018), §3, §4.
 */
const BLOCK = 2880;
const CARD = 80;
/** A header longer than this is not a picture's. */
export const MAX_HEADER_BYTES = 400 * BLOCK;

export type FitsValue = string | number | boolean;
export type FitsRead = { ok: true; cards: ReadonlyMap<string, FitsValue> } | { ok: false; message: string };

/** The values of a header by keyword, with the units that comments name. */
export class FitsCards extends Map<string, FitsValue> {
  /** By keyword, as written: “h”, “deg”, “K”. */
  readonly units = new Map<string, string>();
  /** Keywords that stand twice with two values: nobody can say which is meant. The first is kept. */
  readonly twofold = new Set<string>();
}
/** The unit a keyword’s comment names; null where it names none, or the cards carry none. */
export const unitOfCard = (cards: ReadonlyMap<string, FitsValue>, key: string): string | null =>
  (cards instanceof FitsCards ? cards.units.get(key) : undefined) ?? null;

/** A keyword’s value; undefined where it is not there, or stands there twice with two values. */
export const cardOf = (cards: ReadonlyMap<string, FitsValue>, key: string): FitsValue | undefined =>
  cards instanceof FitsCards && cards.twofold.has(key) ? undefined : cards.get(key);

interface Value {
  value: FitsValue;
  /** A string that goes on in CONTINUE cards. */
  open: boolean;
  comment: string;
}
/** Quotes inside a string are doubled: each piece between them is taken at once. */
const STRING = /^'([^']*(?:''[^']*)*)'/;
function valueOf(text: string): Value | null {
  const t = text.trim();
  if (t.startsWith("'")) {
    const end = STRING.exec(t);
    if (!end) return null;
    const value = end[1]!.replace(/''/g, "'").trimEnd();
    return { value, open: value.endsWith('&'), comment: t.slice(end[0].length).replace(/^\s*\//, '') };
  }
  // “1/30” is a fraction to whoever writes it, and a whole number with a comment to the standard: none is read
  if (/^[+-]?\d{1,9}\/\d{1,9}$/.test(t)) return null;
  const slash = t.indexOf('/');
  const bare = (slash < 0 ? t : t.slice(0, slash)).trim();
  const comment = slash < 0 ? '' : t.slice(slash + 1);
  if (bare === 'T' || bare === 'F') return { value: bare === 'T', open: false, comment };
  if (!/^[+-]?(?:\d{1,40}(?:\.\d{0,40})?|\.\d{1,40})(?:[ED][+-]?\d{1,3})?$/i.test(bare)) return null;
  const n = Number(bare.replace(/D/i, 'E'));
  return Number.isFinite(n) ? { value: n, open: false, comment } : null;
}
const UNIT_WORD =
  'h|hrs?|hours?|hms|deg|degs|degrees|s|secs?|seconds?|ms|msec|milliseconds?|us|µs|usec|microseconds?|mins?|minutes?|C|F|K|celsius|fahrenheit|kelvin|um|µm|microns?|mm|cm|m|inch|inches';
const UNITS = [
  /^\s*\[([^\]]{1,20})\]/,
  /\[([A-Za-zµ°:]{1,12})\]/,
  new RegExp(`^\\s*(${UNIT_WORD})\\.?\\s*$`, 'i'),
  new RegExp(`\\((?:in )?(${UNIT_WORD})\\)`, 'i'),
  new RegExp(`\\bin (?:decimal )?(${UNIT_WORD})\\b`, 'i'),
];
/** The unit a comment names: in brackets by the standard, else as a word by itself, in parentheses, or behind “in”. */
const unitIn = (comment: string): string | undefined =>
  UNITS.map((u) => u.exec(comment)?.[1]).find((u) => u !== undefined);

/** Reads the cards before END. Says what is wrong rather than throwing: files come from people. */
export function readFitsHeader(bytes: Uint8Array): FitsRead {
  const read = readHeaderAt(bytes, 0);
  return read.ok ? { ok: true, cards: read.cards } : read;
}

/** A header that begins somewhere in a file: its cards, and where its data begin. */
export function readHeaderAt(
  bytes: Uint8Array,
  at: number,
): { ok: true; cards: ReadonlyMap<string, FitsValue>; dataAt: number } | { ok: false; message: string } {
  const decoder = new TextDecoder('latin1');
  const blockAt = (p: number) =>
    decoder.decode(bytes.subarray(at + p, Math.min(at + p + BLOCK, at + MAX_HEADER_BYTES)));
  let text = blockAt(0);
  const [opens, what] = at === 0 ? ['SIMPLE  =', 'SIMPLE'] : ['XTENSION=', 'XTENSION'];
  if (!text.startsWith(opens))
    return {
      ok: false,
      message:
        at === 0
          ? 'This is not a FITS file: it does not begin with SIMPLE.'
          : `The extension at byte ${at} does not begin with ${what}.`,
    };
  const cards = new FitsCards();
  /** The keyword whose string goes on. */
  let open: string | null = null;
  // block by block: of a file of many small parts only their own headers are read
  for (let p = 0; ; p += CARD) {
    if (p % BLOCK === 0 && p > 0) text = p < MAX_HEADER_BYTES ? blockAt(p) : '';
    const card = text.slice(p % BLOCK, (p % BLOCK) + CARD);
    if (card.length < CARD) break;
    const key = card.slice(0, 8).trimEnd();
    if (key === 'END') return { ok: true, cards, dataAt: at + Math.ceil((p + CARD) / BLOCK) * BLOCK };
    if (key === 'CONTINUE') {
      const more: Value | null = open === null ? null : valueOf(card.slice(8));
      // long strings: FITS Standard 4.0 (2018), §4.2.1.2
      if (open !== null && more && typeof more.value === 'string')
        cards.set(open, String(cards.get(open)).slice(0, -1) + more.value);
      open = more?.open ? open : null;
      continue;
    }
    open = null;
    if (card[8] !== '=') continue;
    // a blank belongs behind the sign; where it was left out the value begins at once
    const value = valueOf(card.slice(card[9] === ' ' ? 10 : 9));
    if (value === null) continue;
    if (cards.has(key)) {
      if (cards.get(key) !== value.value) cards.twofold.add(key);
      continue;
    }
    cards.set(key, value.value);
    if (value.open) open = key;
    const unit = unitIn(value.comment);
    if (unit) cards.units.set(key, unit.trim());
  }
  return { ok: false, message: 'The FITS header has no END card: the file is cut short.' };
}

/** Where a picture was pointed, as far as its header says. */
export interface HeaderFraming {
  raDeg: number;
  decDeg: number;
  /** Position angle of the picture's top, null when the header has no solved orientation. */
  angleDeg: number | null;
  /** The solved picture is a mirror image. */
  mirrored: boolean;
  scaleArcsecPerPx: number | null;
  widthPx: number | null;
  heightPx: number | null;
  object: string | null;
  from: 'solved' | 'pointing';
}

/**
 * Degrees of a keyword: a number is degrees, or hours where its comment says so; parts of sixty are hours for a right
 * ascension, degrees where they carry the sign of degrees. Null for what is neither.
 */
export function angleOfCard(
  cards: ReadonlyMap<string, FitsValue>,
  key: string,
  rightAscension: boolean,
): number | null {
  const v = cardOf(cards, key);
  if (v === undefined || typeof v === 'boolean') return null;
  const inHours = /^(h|hr|hrs|hour|hours|hms|hh:mm:ss.*)$/i.test(unitOfCard(cards, key) ?? '');
  if (typeof v === 'number') return inHours ? 15 * v : v;
  const read = readSexagesimal(v);
  if (!read) return null;
  const hours = read.unit === 'h' || (read.unit === null && rightAscension && (read.parts > 1 || inHours));
  return hours ? 15 * read.value : read.value;
}

/** Where keywords of pairs place a picture; a pair that was never filled (nought and nought) says nothing. */
export function placeOfCards(
  cards: ReadonlyMap<string, FitsValue>,
  pairs: readonly (readonly [ra: string, dec: string])[],
): { raDeg: number; decDeg: number } | null {
  for (const [ra, dec] of pairs) {
    const [raDeg, decDeg] = [angleOfCard(cards, ra, true), angleOfCard(cards, dec, false)];
    if (raDeg === null || decDeg === null || (raDeg === 0 && decDeg === 0)) continue;
    if (raDeg >= 0 && raDeg <= 360 && Math.abs(decDeg) <= 90) return { raDeg, decDeg };
  }
  return null;
}

/** Scales of pictures that differ by more are of another camera, binning or focal length; common practice, no source. */
const SAME_SCALE_SHARE = 0.03;
/** Whether two image scales are one [″/px]. */
export const sameScale = (a: number, b: number): boolean => Math.abs(a / b - 1) <= SAME_SCALE_SHARE;

/**
 * Centre and angle of a solved picture from its world coordinates (TAN), or the bare pointing.
 * Source: Calabretta & Greisen (2002), Astronomy & Astrophysics 395, 1077; older CDELT/CROTA2 as in its §6.
 * Rows are taken to be stored bottom to top, as the standard draws them, unless ROWORDER says TOP-DOWN.
 */
export function framingFromHeader(
  cards: ReadonlyMap<string, FitsValue>,
): { ok: true; framing: HeaderFraming } | { ok: false; message: string } {
  const num = (k: string) => {
    const v = cards.get(k);
    return typeof v === 'number' ? v : null;
  };
  const [w, h] = [num('NAXIS1'), num('NAXIS2')];
  const common = {
    widthPx: w,
    heightPx: h,
    object: typeof cards.get('OBJECT') === 'string' && cards.get('OBJECT') !== '' ? String(cards.get('OBJECT')) : null,
  };
  const axes = axesOf(cards);
  const solved =
    axes === 'other' ? null : solvedFraming(num, w, h, cards.get('ROWORDER') === 'TOP-DOWN', axes === 'dec-first');
  if (solved) return checked({ ...common, ...solved });
  const beyond = POINTED.map(([r, d]) => [angleOfCard(cards, r, true), angleOfCard(cards, d, false)] as const).find(
    ([r, d]) => r !== null && d !== null,
  );
  const pointed = placeOfCards(cards, POINTED);
  const [ra, dec] = pointed ? [pointed.raDeg, pointed.decDeg] : (beyond ?? [null, null]);
  if (ra === null || dec === null)
    return {
      ok: false,
      message:
        axes === 'other' && cards.has('CRVAL1')
          ? `The picture is solved in “${String(cards.get('CTYPE1'))}”, “${String(cards.get('CTYPE2'))}”, which is not read: right ascension and declination are wanted.`
          : 'The header says neither where the picture is (CRVAL1, CRVAL2) nor where it was pointed (RA, DEC).',
    };
  return checked({
    ...common,
    raDeg: ra,
    decDeg: dec,
    angleDeg: null,
    mirrored: false,
    scaleArcsecPerPx: null,
    from: 'pointing',
  });
}

/** Where programs write what was pointed at, the likelier first. */
export const POINTED = [
  ['OBJCTRA', 'OBJCTDEC'],
  ['RA', 'DEC'],
  ['RA_OBJ', 'DEC_OBJ'],
  ['TELRA', 'TELDEC'],
] as const;

/** What the axes of a solution are: as usual, turned about, or something else, such as galactic coordinates. */
function axesOf(cards: ReadonlyMap<string, FitsValue>): 'ra-first' | 'dec-first' | 'other' {
  const [one, two] = ['CTYPE1', 'CTYPE2'].map((k) => String(cards.get(k) ?? '').toUpperCase());
  // some programs leave the names out, and mean the usual
  if ((/^RA--/.test(one!) && /^DEC-/.test(two!)) || (one === '' && two === '')) return 'ra-first';
  return /^DEC-/.test(one!) && /^RA--/.test(two!) ? 'dec-first' : 'other';
}

function checked(framing: HeaderFraming): { ok: true; framing: HeaderFraming } | { ok: false; message: string } {
  if (!(framing.raDeg >= 0 && framing.raDeg <= 360) || !(Math.abs(framing.decDeg) <= 90))
    return {
      ok: false,
      message: `The header’s place, ${framing.raDeg}° and ${framing.decDeg}°, is not on the sky: right ascension 0 to 360°, declination −90 to 90°.`,
    };
  return { ok: true, framing };
}

function solvedFraming(
  num: (k: string) => number | null,
  w: number | null,
  h: number | null,
  topDown: boolean,
  decFirst: boolean,
) {
  const [ra0, dec0] = decFirst ? [num('CRVAL2'), num('CRVAL1')] : [num('CRVAL1'), num('CRVAL2')];
  if (ra0 === null || dec0 === null) return null;
  let [a, b, c, d] = [num('CD1_1'), num('CD1_2'), num('CD2_1'), num('CD2_2')];
  if ([a, b, c, d].every((v) => v === null)) {
    const [sx, sy] = [num('CDELT1'), num('CDELT2')];
    if (sx === null || sy === null) return null;
    const r = (num('CROTA2') ?? 0) * RAD;
    const pc = [num('PC1_1'), num('PC1_2'), num('PC2_1'), num('PC2_2')];
    if (pc.some((v) => v !== null))
      [a, b, c, d] = [sx * (pc[0] ?? 1), sx * (pc[1] ?? 0), sy * (pc[2] ?? 0), sy * (pc[3] ?? 1)];
    else [a, b, c, d] = [sx * Math.cos(r), -sy * Math.sin(r), sx * Math.sin(r), sy * Math.cos(r)];
  }
  const m = decFirst ? { a: c ?? 0, b: d ?? 0, c: a ?? 0, d: b ?? 0 } : { a: a ?? 0, b: b ?? 0, c: c ?? 0, d: d ?? 0 };
  const determinant = m.a * m.d - m.b * m.c;
  if (Math.abs(determinant) < 1e-20) return null;
  const dx = w === null ? 0 : (w + 1) / 2 - (num('CRPIX1') ?? (w + 1) / 2);
  const dy = h === null ? 0 : (h + 1) / 2 - (num('CRPIX2') ?? (h + 1) / 2);
  // plane coordinates of the centre [deg], then back onto the sphere
  const [x, y] = [(m.a * dx + m.b * dy) * RAD, (m.c * dx + m.d * dy) * RAD];
  const [s, k] = [Math.sin(dec0 * RAD), Math.cos(dec0 * RAD)];
  const along = k - y * s;
  const up = topDown ? -1 : 1;
  return {
    raDeg: (((ra0 + Math.atan2(x, along) / RAD) % 360) + 360) % 360,
    decDeg: Math.atan2(s + y * k, Math.hypot(x, along)) / RAD,
    angleDeg: (((Math.atan2(up * m.b, up * m.d) / RAD) % 360) + 360) % 360,
    mirrored: determinant > 0 !== topDown,
    scaleArcsecPerPx: 3600 * Math.sqrt(Math.abs(determinant)),
    from: 'solved' as const,
  };
}
