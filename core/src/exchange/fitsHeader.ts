import { RAD } from '../quantities/index.ts';
/**
 * The primary header of a FITS file: 2880-byte blocks of 80-character cards. Source: FITS Standard 4.0 (2018), §3, §4.
 */
const BLOCK = 2880;
const CARD = 80;
/** A header longer than this is not a picture's. */
export const MAX_HEADER_BYTES = 400 * BLOCK;

export type FitsValue = string | number | boolean;
export type FitsRead = { ok: true; cards: ReadonlyMap<string, FitsValue> } | { ok: false; message: string };

function valueOf(text: string): FitsValue | null {
  const t = text.trim();
  if (t.startsWith("'")) {
    const end = /^'((?:[^']|'')*)'/.exec(t);
    return end ? end[1]!.replace(/''/g, "'").trimEnd() : null;
  }
  const bare = t.split('/')[0]!.trim();
  if (bare === 'T' || bare === 'F') return bare === 'T';
  const n = Number(bare.replace(/D/i, 'E'));
  return bare !== '' && Number.isFinite(n) ? n : null;
}

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
  const text = new TextDecoder('latin1').decode(bytes.subarray(at, at + MAX_HEADER_BYTES));
  const [opens, what] = at === 0 ? ['SIMPLE  =', 'SIMPLE'] : ['XTENSION=', 'XTENSION'];
  if (!text.startsWith(opens)) return { ok: false, message: at === 0 ? 'This is not a FITS file: it does not begin with SIMPLE.' : `The extension at byte ${at} does not begin with ${what}.` }; // prettier-ignore
  const cards = new Map<string, FitsValue>();
  for (let p = 0; p + CARD <= text.length; p += CARD) {
    const card = text.slice(p, p + CARD);
    const key = card.slice(0, 8).trimEnd();
    if (key === 'END') return { ok: true, cards, dataAt: at + Math.ceil((p + CARD) / BLOCK) * BLOCK };
    if (card[8] !== '=') continue;
    const value = valueOf(card.slice(10));
    if (value !== null && !cards.has(key)) cards.set(key, value);
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

const sexagesimal = (v: FitsValue | undefined, perUnit: number): number | null => {
  if (typeof v === 'number') return v;
  const m = /^\s*([+-]?)(\d+)[:\s]+(\d+)[:\s]+([\d.]+)\s*$/.exec(String(v ?? ''));
  if (m) return (m[1] === '-' ? -1 : 1) * perUnit * (Number(m[2]) + Number(m[3]) / 60 + Number(m[4]) / 3600);
  const n = Number(v);
  return v !== undefined && v !== '' && Number.isFinite(n) ? n : null;
};

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
  const solved = solvedFraming(num, w, h, cards.get('ROWORDER') === 'TOP-DOWN');
  if (solved) return checked({ ...common, ...solved });
  const ra = sexagesimal(cards.get('OBJCTRA'), 15) ?? sexagesimal(cards.get('RA'), 15);
  const dec = sexagesimal(cards.get('OBJCTDEC'), 1) ?? sexagesimal(cards.get('DEC'), 1);
  if (ra === null || dec === null)
    return {
      ok: false,
      message: 'The header says neither where the picture is (CRVAL1, CRVAL2) nor where it was pointed (RA, DEC).',
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

function checked(framing: HeaderFraming): { ok: true; framing: HeaderFraming } | { ok: false; message: string } {
  if (!(framing.raDeg >= 0 && framing.raDeg <= 360) || !(Math.abs(framing.decDeg) <= 90))
    return {
      ok: false,
      message: `The header’s place, ${framing.raDeg}° and ${framing.decDeg}°, is not on the sky: right ascension 0 to 360°, declination −90 to 90°.`,
    };
  return { ok: true, framing };
}

function solvedFraming(num: (k: string) => number | null, w: number | null, h: number | null, topDown: boolean) {
  const [ra0, dec0] = [num('CRVAL1'), num('CRVAL2')];
  if (ra0 === null || dec0 === null) return null;
  let [a, b, c, d] = [num('CD1_1'), num('CD1_2'), num('CD2_1'), num('CD2_2')];
  if (a === null || d === null) {
    const [sx, sy] = [num('CDELT1'), num('CDELT2')];
    if (sx === null || sy === null) return null;
    const r = (num('CROTA2') ?? 0) * RAD;
    const pc = [num('PC1_1'), num('PC1_2'), num('PC2_1'), num('PC2_2')];
    if (pc.some((v) => v !== null))
      [a, b, c, d] = [sx * (pc[0] ?? 1), sx * (pc[1] ?? 0), sy * (pc[2] ?? 0), sy * (pc[3] ?? 1)]; // prettier-ignore
    else [a, b, c, d] = [sx * Math.cos(r), -sy * Math.sin(r), sx * Math.sin(r), sy * Math.cos(r)];
  }
  const m = { a: a ?? 0, b: b ?? 0, c: c ?? 0, d: d ?? 0 };
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
