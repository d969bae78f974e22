import { z } from 'zod';
import type { FitsValue } from './fitsHeader.ts';

export const FrameKind = z.enum(['light', 'dark', 'flat', 'bias', 'darkFlat']);
export type FrameKind = z.infer<typeof FrameKind>;

/** What is looked for in a frame's header, with the keywords that usually hold it, the likelier first. */
export const FRAME_KEYWORDS = {
  kind: ['IMAGETYP', 'FRAME', 'OBSTYPE', 'FRAMETYP'],
  object: ['OBJECT', 'OBJNAME', 'TARGET'],
  ra: ['OBJCTRA', 'RA', 'RA_OBJ', 'TELRA'],
  dec: ['OBJCTDEC', 'DEC', 'DEC_OBJ', 'TELDEC'],
  filter: ['FILTER', 'FILTER1', 'FILTNAM', 'INSFLNAM'],
  exposureS: ['EXPTIME', 'EXPOSURE', 'EXP_TIME', 'ITIME'],
  startedAt: ['DATE-OBS', 'DATE-BEG', 'DATE_OBS'],
  setPointC: ['SET-TEMP', 'SETTEMP', 'CCD-TSET'],
  sensorC: ['CCD-TEMP', 'CCDTEMP', 'DET-TEMP', 'SENSTEMP'],
  gain: ['GAIN', 'CCDGAIN'],
  offset: ['OFFSET', 'BLKLEVEL', 'BRIGHTNE'],
  binning: ['XBINNING', 'BINNING', 'CCDXBIN'],
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

/** The kind of a frame from what a header calls it; null for words nobody knows. */
export function frameKindOf(text: string): FrameKind | null {
  const t = text.toLowerCase().replace(/[^a-z]+/g, '');
  if (/darkflat|flatdark/.test(t)) return 'darkFlat';
  if (t.includes('flat')) return 'flat';
  if (t.includes('dark')) return 'dark';
  if (/bias|zero|offset/.test(t)) return 'bias';
  if (/light|object|science|target/.test(t)) return 'light';
  return null;
}

/** Degrees from a number, or from sexagesimal text, whose right ascension is in hours. */
function degrees(v: FitsValue | undefined, hours: boolean): number | null {
  if (typeof v === 'number') return v;
  const m = /^\s*([+-−]?)\s*(\d{1,3})[:\shd°]+(\d{1,2})[:\sm′']+([\d.]{1,12})[s″"]?\s*$/.exec(String(v ?? ''));
  if (m) {
    const size = Number(m[2]) + Number(m[3]) / 60 + Number(m[4]) / 3600;
    return (m[1] === '-' || m[1] === '−' ? -1 : 1) * size * (hours ? 15 : 1);
  }
  const text = String(v ?? '').trim();
  return text !== '' && Number.isFinite(Number(text)) ? Number(text) : null;
}

/** An instant from DATE-OBS, which is UTC by the standard and often lacks its Z, or lacks the time of day. */
function instantOf(cards: ReadonlyMap<string, FitsValue>, v: FitsValue | undefined): string | null {
  const text = String(v ?? '').trim();
  const day = /^\d{4}-\d{2}-\d{2}$/.test(text);
  const time = String(cards.get('TIME-OBS') ?? cards.get('UT') ?? cards.get('UTC') ?? '').trim();
  const whole = day ? (/^\d{2}:\d{2}/.test(time) ? `${text}T${time}` : '') : text;
  if (!/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}/.test(whole)) return null;
  const ms = Date.parse(/Z|[+-]\d{2}:\d{2}$/.test(whole) ? whole : `${whole}Z`);
  return Number.isNaN(ms) ? null : new Date(ms).toISOString();
}

const within = (n: number | null, min: number, max: number) => (n !== null && n >= min && n <= max ? n : null);

/**
 * A frame's own account of itself. What a header does not say, or says unreadably, is null: it can be set by hand.
 * Keywords: FITS Standard 4.0 (2018), table 14 and its registry of common keywords (from memory); the rest is common
 * practice, no source.
 */
export function readFrame(cards: ReadonlyMap<string, FitsValue>, mapping: KeywordMapping = {}): ReadFrame {
  const raw = (f: FrameField): FitsValue | undefined => {
    const keys: readonly string[] = mapping[f] ? [mapping[f]] : FRAME_KEYWORDS[f];
    for (const k of keys) {
      const v = cards.get(k);
      if (v !== undefined && v !== '') return v;
    }
    return undefined;
  };
  const text = (f: FrameField) => {
    const v = raw(f);
    return v === undefined ? null : String(v).trim();
  };
  const num = (f: FrameField, min = -Infinity, max = Infinity) => {
    const v = raw(f);
    const n = typeof v === 'number' ? v : v === undefined || String(v).trim() === '' ? NaN : Number(v);
    return within(Number.isFinite(n) ? n : null, min, max);
  };
  const solved = String(cards.get('CTYPE1') ?? '').startsWith('RA--');
  const card = (k: string) => (typeof cards.get(k) === 'number' ? (cards.get(k) as number) : null);
  const ra = solved ? card('CRVAL1') : degrees(raw('ra'), true);
  const dec = solved ? card('CRVAL2') : degrees(raw('dec'), false);
  const named = frameKindOf(text('kind') ?? '');
  const placed = within(ra, 0, 360) !== null && within(dec, -90, 90) !== null;
  const binning = num('binning', 1, 16);
  return {
    kind: named ?? 'light',
    kindSaid: named !== null,
    object: text('object')?.slice(0, 120) || null,
    raDeg: placed ? ra : null,
    decDeg: placed ? dec : null,
    filter: (text('filter') ?? '').slice(0, 40),
    exposureS: num('exposureS', 0, 86_400),
    startedAt: instantOf(cards, raw('startedAt')),
    setPointC: num('setPointC', -120, 60),
    sensorC: num('sensorC', -120, 80),
    gain: num('gain', 0, 1e6),
    offset: num('offset', -1e6, 1e6),
    binning: binning === null ? 1 : Math.round(binning),
    pixelUm: num('pixelUm', 0.1, 200),
    focalLengthMm: num('focalLengthMm', 1, 1e5),
    focuserPosition: num('focuserPosition', -1e7, 1e7),
    focuserC: num('focuserC', -90, 80),
    rotationDeg: num('rotationDeg', -720, 720),
    bayer: text('bayer')?.slice(0, 8) || null,
    widthPx: card('NAXIS1'),
    heightPx: card('NAXIS2'),
  };
}
