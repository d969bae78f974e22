import { z } from 'zod';
import {
  angleOfCard,
  cardOf,
  framingFromHeader,
  placeOfCards,
  POINTED,
  unitOfCard,
  type FitsValue,
} from './fitsHeader.ts';
import { secondsPer } from './cells.ts';
import { instantMs, readClock, readInstant } from './instant.ts';

export const FrameKind = z.enum(['light', 'dark', 'flat', 'bias', 'darkFlat']);
export type FrameKind = z.infer<typeof FrameKind>;

/** What is looked for in a frame's header, with the keywords that usually hold it, the likelier first. */
export const FRAME_KEYWORDS = {
  kind: ['IMAGETYP', 'FRAME', 'OBSTYPE', 'FRAMETYP'],
  object: ['OBJECT', 'OBJNAME', 'TARGET'],
  ra: POINTED.map(([ra]) => ra),
  dec: POINTED.map(([, dec]) => dec),
  filter: ['FILTER', 'FILTER1', 'FILTNAM', 'INSFLNAM'],
  exposureS: ['EXPTIME', 'EXPOSURE', 'EXP_TIME', 'ITIME'],
  startedAt: ['DATE-OBS', 'DATE-BEG', 'DATE_OBS'],
  setPointC: ['SET-TEMP', 'SETTEMP', 'CCD-TSET'],
  sensorC: ['CCD-TEMP', 'CCDTEMP', 'DET-TEMP', 'SENSTEMP'],
  gain: ['GAIN', 'CCDGAIN'],
  offset: ['OFFSET', 'BLKLEVEL', 'BRIGHTNE'],
  binning: ['XBINNING', 'BINNING', 'CCDXBIN', 'CCDSUM'],
  pixelUm: ['XPIXSZ', 'PIXSIZE1', 'PIXSIZE'],
  focalLengthMm: ['FOCALLEN', 'FOCAL', 'FLENGTH'],
  focuserPosition: ['FOCUSPOS', 'FOCPOS', 'FOCUSER', 'FOCUSSTP'],
  focuserC: ['FOCUSTEM', 'FOCTEMP', 'FOCUSTMP'],
  rotationDeg: ['ROTATANG', 'ROTATOR', 'POSANGLE', 'ROTANGLE'],
  bayer: ['BAYERPAT', 'COLORTYP', 'CFAPAT'],
} as const satisfies Record<string, readonly string[]>;
export type FrameField = keyof typeof FRAME_KEYWORDS;
/** Keywords somebody chose instead of the usual ones. */
export type KeywordMapping = Partial<Record<FrameField, string>>;

export interface ReadFrame {
  kind: FrameKind;
  /** The header said so; otherwise it is taken for a light frame. */
  kindSaid: boolean;
  object: string | null;
  raDeg: number | null;
  decDeg: number | null;
  /** As the header spells it; empty where it names none. */
  filter: string;
  exposureS: number | null;
  startedAt: string | null;
  setPointC: number | null;
  sensorC: number | null;
  gain: number | null;
  offset: number | null;
  binning: number;
  pixelUm: number | null;
  focalLengthMm: number | null;
  focuserPosition: number | null;
  focuserC: number | null;
  rotationDeg: number | null;
  bayer: string | null;
  widthPx: number | null;
  heightPx: number | null;
}

/** What was done to a frame is no kind: “light, dark subtracted” is a light. */
const DONE_TO_IT =
  /(?:master\s*)?(?:dark|bias|flat|offset|zero)s?[\s_-]*(?:sub(?:tracted)?|corr(?:ected)?|fielded|div(?:ided)?|applied|removed|calibrated)\b|[-−]\s*(?:dark|bias|flat)s?\b/g;

/** The kind of a frame from what a header calls it; null for words nobody knows. */
export function frameKindOf(text: string): FrameKind | null {
  const written = text.toLowerCase();
  const t = written.replace(DONE_TO_IT, ' ').replace(/[^a-z]+/g, '');
  if (/darkflat|flatdark|darkforflat/.test(t)) return 'darkFlat';
  // the kinds that are named first is meant: “light (flat 3)” is a light
  const named = [
    ...t.matchAll(/twilight|skyflat|domeflat|flat|dark|bias|zero|offset|light|object|science|target/g),
  ].map((m) => m[0]);
  switch (named[0]) {
    case 'twilight':
    case 'skyflat':
    case 'domeflat':
    case 'flat':
      return 'flat';
    case 'dark':
      return 'dark';
    case 'bias':
    case 'zero':
    case 'offset':
      return 'bias';
    case undefined:
      return null;
    default:
      return 'light';
  }
}

/** Seconds by which other time scales are ahead of UTC since 2017: TAI by its leap seconds, TT by 32.184 s more, GPS by 18 s. */
const AHEAD_S: Readonly<Record<string, number>> = {
  UTC: 0,
  UT: 0,
  UT1: 0,
  GMT: 0,
  TAI: 37,
  TT: 69.184,
  TDT: 69.184,
  TDB: 69.184,
  ET: 69.184,
  GPS: 18,
};

/**
 * An instant from DATE-OBS, which is UTC by the standard unless TIMESYS says otherwise, and often lacks its Z, or the time
 * of day, which then stands in a keyword of its own. An impossible date, or a time scale nobody can turn into UTC, is none.
 */
function instantOf(cards: ReadonlyMap<string, FitsValue>, v: FitsValue | undefined): string | null {
  const read = readInstant(String(v ?? ''));
  if (!read.ok) return null;
  const { wallMs, dayOnly } = read.value;
  const midnight = wallMs % 86_400_000 === 0 && read.value.offsetMin === null;
  const kept = ['TIME-OBS', 'UT', 'UTC', 'UTSTART', 'UT-OBS']
    .map((k) => cardOf(cards, k))
    .find((c) => typeof c === 'string' && readClock(c));
  const clock = kept === undefined ? null : readClock(String(kept));
  if (dayOnly && !clock) return null;
  // midnight to the millisecond is what a date without a time of day is filled up with
  const at = midnight && clock ? wallMs + clock.ms : instantMs(read.value);
  const scale = String(cards.get('TIMESYS') ?? 'UTC')
    .trim()
    .toUpperCase()
    .replace(/\(.*\)$/, '');
  const aheadS = read.value.offsetMin !== null ? 0 : AHEAD_S[scale === '' ? 'UTC' : scale];
  return aheadS === undefined ? null : new Date(at - 1000 * aheadS).toISOString();
}

/** Nothing in the beam, as a wheel calls it. */
const OPEN = /^(?:open|clear|clr|empty|none|no\s?filter|blank|nothing|air|null|n\/?a|-+)?$/i;
/** What a header says of its filters: of two wheels the one that holds something, or both. */
function filterOf(cards: ReadonlyMap<string, FitsValue>, chosen: string | undefined): string {
  const named = (k: string) => {
    const v = cardOf(cards, k);
    return typeof v === 'string' || typeof v === 'number' ? String(v).trim() : null;
  };
  if (chosen) return named(chosen) ?? '';
  const [plain, one, two, ...others] = ['FILTER', 'FILTER1', 'FILTER2', 'FILTNAM', 'INSFLNAM'].map(named);
  if (plain) return plain;
  const wheels = [one, two].filter((f): f is string => !!f);
  const held = wheels.filter((f) => !OPEN.test(f));
  if (held.length) return held.join(' + ');
  return wheels[0] ?? others.find((f) => f) ?? '';
}

/** Degrees Celsius from a sensor’s reading, in the unit it names. */
function celsius(v: FitsValue | undefined, unit: string | null): number | null {
  const text = typeof v === 'number' ? `${v}` : typeof v === 'string' ? v.trim() : '';
  const m =
    /^([+-]?\d{1,4}(?:\.\d{1,30})?)\s{0,3}(?:°|deg(?:rees)?\.?)?\s{0,3}([CFK]|celsius|fahrenheit|kelvin)?$/i.exec(text);
  if (!m) return null;
  const named = (
    m[2] ??
    /\b(?:deg(?:rees)?\.?\s*|°\s*)?(celsius|fahrenheit|kelvin|C|F|K)\b/i.exec(unit ?? '')?.[1] ??
    'C'
  )[0]!.toUpperCase();
  const n = Number(m[1]);
  return named === 'K' ? n - 273.15 : named === 'F' ? (n - 32) / 1.8 : n;
}

/** The pattern of a colour sensor; a monochrome one has none, whatever word says so. */
const bayerOf = (text: string | null): string | null => {
  const t = (text ?? '').replace(/[^A-Za-z]/g, '').toUpperCase();
  return /^[RGBCMYWE]{4}$/.test(t) ? t : null;
};

const within = (n: number | null, min: number, max: number) => (n !== null && n >= min && n <= max ? n : null);

/** A number and nothing else, with the second or the like behind it that some write. */
const plainNumber = (text: string): number | null => {
  const m =
    /^([+-]?(?:\d{1,30}(?:\.\d{0,40})?|\.\d{1,30})(?:e[+-]?\d{1,2})?)\s{0,3}(?:s|sec|seconds|mm|um|µm|deg|°)?$/i.exec(
      text.trim(),
    );
  return m ? Number(m[1]) : null;
};

const numberOf = (v: FitsValue | undefined): number | null =>
  typeof v === 'number' ? v : typeof v === 'string' ? plainNumber(v) : null;
const MILLIMETRES: Readonly<Record<string, number>> = {
  um: 0.001,
  µm: 0.001,
  micron: 0.001,
  microns: 0.001,
  mm: 1,
  cm: 10,
  m: 1000,
  inch: 25.4,
  inches: 25.4,
};
const MICRO = new Set(['us', 'µs', 'usec', 'microsecond', 'microseconds']);
/**
 * Seconds of exposure, in the unit a comment names. Of several keywords those that were never filled (nought) say nothing;
 * two that differ say two things, and nobody can tell which is meant.
 */
function exposureOf(cards: ReadonlyMap<string, FitsValue>, chosen: string | undefined): number | null {
  const candidates = (chosen ? [chosen] : FRAME_KEYWORDS.exposureS).flatMap((key) => {
    const n = numberOf(cardOf(cards, key));
    const unit = (unitOfCard(cards, key) ?? '').toLowerCase();
    const per = MICRO.has(unit) ? 1e-6 : (secondsPer(unit) ?? 1);
    return n === null ? [] : [n * per];
  });
  const filled = candidates.filter((s) => s !== 0);
  if (filled.some((s) => Math.abs(s - filled[0]!) > 0.01 * Math.abs(filled[0]!))) return null;
  return filled[0] ?? candidates[0] ?? null;
}

/** The centre of a solved picture, else where it was pointed. */
function placeOf(
  cards: ReadonlyMap<string, FitsValue>,
  mapping: KeywordMapping,
): { raDeg: number; decDeg: number } | null {
  if (mapping.ra || mapping.dec) {
    const [raDeg, decDeg] = [
      angleOfCard(cards, mapping.ra ?? 'RA', true),
      angleOfCard(cards, mapping.dec ?? 'DEC', false),
    ];
    return raDeg !== null && decDeg !== null && raDeg >= 0 && raDeg <= 360 && Math.abs(decDeg) <= 90
      ? { raDeg, decDeg }
      : null;
  }
  const got = framingFromHeader(cards);
  if (got.ok && got.framing.from === 'solved') return { raDeg: got.framing.raDeg, decDeg: got.framing.decDeg };
  return placeOfCards(cards, POINTED);
}

/**
 * A frame's own account of itself. What a header does not say, or says unreadably, is null: it can be set by hand.
 * Keywords: FITS Standard 4.0 (2018), table 14 and its registry of common keywords (from memory); the rest is common
 * practice, no source.
 */
export function readFrame(cards: ReadonlyMap<string, FitsValue>, mapping: KeywordMapping = {}): ReadFrame {
  /** The first keyword that holds something. */
  const keyOf = (f: FrameField): string | undefined => {
    const keys: readonly string[] = mapping[f] ? [mapping[f]] : FRAME_KEYWORDS[f];
    return keys.find((key) => cards.get(key) !== undefined && cards.get(key) !== '');
  };
  const raw = (f: FrameField): FitsValue | undefined => {
    const key = keyOf(f);
    return key === undefined ? undefined : cardOf(cards, key);
  };
  const text = (f: FrameField) => {
    const v = raw(f);
    return v === undefined ? null : String(v).trim();
  };
  const num = (f: FrameField, min = -Infinity, max = Infinity) => within(numberOf(raw(f)), min, max);
  /** A length in the unit its comment names, else in the usual one. */
  const length = (f: 'pixelUm' | 'focalLengthMm', inMm: number, min: number, max: number) => {
    const key = keyOf(f);
    const n = numberOf(raw(f));
    const per = key === undefined ? undefined : MILLIMETRES[(unitOfCard(cards, key) ?? '').toLowerCase()];
    return within(n === null ? null : (n * (per ?? inMm)) / inMm, min, max);
  };
  const temperature = (f: FrameField, min: number, max: number) => {
    const key = keyOf(f);
    return key === undefined ? null : within(celsius(cardOf(cards, key), unitOfCard(cards, key)), min, max);
  };
  const card = (k: string) => (typeof cards.get(k) === 'number' ? (cards.get(k) as number) : null);
  const place = placeOf(cards, mapping);
  const named = frameKindOf(text('kind') ?? '');
  // “2x2”, “2 2”, “2:2”: the first is across
  const binning = within(Number(/^\s*(\d{1,2})(?!\d)/.exec(String(raw('binning') ?? ''))?.[1] ?? NaN) || null, 1, 16);
  return {
    kind: named ?? 'light',
    kindSaid: named !== null,
    object: text('object')?.slice(0, 120) || null,
    raDeg: place?.raDeg ?? null,
    decDeg: place?.decDeg ?? null,
    filter: filterOf(cards, mapping.filter).slice(0, 40),
    exposureS: within(exposureOf(cards, mapping.exposureS), 0, 86_400),
    startedAt: instantOf(cards, raw('startedAt')),
    setPointC: temperature('setPointC', -120, 60),
    sensorC: temperature('sensorC', -120, 80),
    gain: num('gain', 0, 1e6),
    offset: num('offset', -1e6, 1e6),
    binning: binning === null ? 1 : Math.round(binning),
    pixelUm: length('pixelUm', 0.001, 0.1, 200),
    focalLengthMm: length('focalLengthMm', 1, 1, 1e5),
    focuserPosition: num('focuserPosition', -1e7, 1e7),
    focuserC: temperature('focuserC', -90, 80),
    rotationDeg: num('rotationDeg', -720, 720),
    bayer: bayerOf(text('bayer')),
    // of a picture packed in tiles the table’s own size says nothing
    widthPx: card('ZNAXIS1') ?? card('NAXIS1'),
    heightPx: card('ZNAXIS2') ?? card('NAXIS2'),
  };
}
