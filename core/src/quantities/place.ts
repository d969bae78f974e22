/** A place on Earth as people write or copy it. */
export interface Place {
  latitudeDeg: number;
  longitudeDeg: number;
}
export type PlaceRead = { ok: true; place: Place } | { ok: false; message: string };

const LIMIT = { latitude: 90, longitude: 180 };
const EXAMPLE = 'such as “47.07, 15.44” or “47°04′12″ N 15°26′24″ E”';

interface Angle {
  deg: number;
  /** Hemisphere letter, or the word for its axis, where one was written. */
  side: 'N' | 'S' | 'E' | 'W' | 'lat' | 'lon' | null;
}

type Token =
  | { kind: 'number'; text: string; value: number }
  | { kind: 'sign'; sign: 1 | -1 }
  /** Of degrees, minutes or seconds; `letter`: written as one. */
  | { kind: 'mark'; of: 0 | 1 | 2; letter: boolean }
  | { kind: 'colon' }
  | { kind: 'side'; side: 'N' | 'S' | 'E' | 'W' }
  | { kind: 'axis'; axis: 'latitude' | 'longitude' }
  | { kind: 'comma' };

const WORDS: readonly (readonly [RegExp, Token])[] = [
  [/^(?:latitude|lat)\b\.?\s*[:=]?/i, { kind: 'axis', axis: 'latitude' }],
  [/^(?:longitude|long|lon|lng)\b\.?\s*[:=]?/i, { kind: 'axis', axis: 'longitude' }],
  [/^(?:north|nord)\b/i, { kind: 'side', side: 'N' }],
  [/^(?:south|süd)\b/i, { kind: 'side', side: 'S' }],
  [/^(?:east)\b/i, { kind: 'side', side: 'E' }],
  [/^(?:west)\b/i, { kind: 'side', side: 'W' }],
  [/^(?:degrees?|deg)\b\.?/i, { kind: 'mark', of: 0, letter: true }],
  [/^(?:minutes?|min)\b\.?/i, { kind: 'mark', of: 1, letter: true }],
  [/^(?:seconds?|sec)\b\.?/i, { kind: 'mark', of: 2, letter: true }],
  [/^[°º˚]/, { kind: 'mark', of: 0, letter: false }],
  [/^(?:''|["″])/, { kind: 'mark', of: 2, letter: false }],
  [/^['′]/, { kind: 'mark', of: 1, letter: false }],
  [/^:/, { kind: 'colon' }],
  [/^[,;]/, { kind: 'comma' }],
  [/^\+/, { kind: 'sign', sign: 1 }],
  [/^-/, { kind: 'sign', sign: -1 }],
];

/** @returns null for anything that is no part of a place */
function tokensOf(text: string): Token[] | null {
  const tokens: Token[] = [];
  let rest = text.trim();
  while (rest !== '') {
    const n = /^\d{1,30}(?:\.\d{1,30})?/.exec(rest)?.[0];
    if (n) {
      tokens.push({ kind: 'number', text: n, value: Number(n) });
      rest = rest.slice(n.length);
      // “47.07.5” and “12abc” are no numbers
      if (/^[.\d]/.test(rest)) return null;
    } else {
      const word = WORDS.find(([re]) => re.test(rest));
      const letter = word ? null : letterOf(rest, tokens);
      if (!word && !letter) return null;
      tokens.push(word ? word[1] : letter!);
      rest = rest.slice(word ? word[0].exec(rest)![0].length : 1);
    }
    rest = rest.trimStart();
  }
  return tokens;
}

/**
 * A single letter: d and m mark degrees and minutes, s the seconds where both stand before it; any other N, S, E, W is a
 * hemisphere.
 */
function letterOf(rest: string, before: readonly Token[]): Token | null {
  const letter = rest[0]!;
  if (/^[a-z]{2}/i.test(rest) || !/[dmsnew]/i.test(letter)) return null;
  const low = letter.toLowerCase();
  const last = before.at(-1);
  const marks = before.filter((t) => t.kind === 'mark').slice(-2);
  if (low === 'd') return last?.kind === 'number' ? { kind: 'mark', of: 0, letter: true } : null;
  if (low === 'm') return last?.kind === 'number' ? { kind: 'mark', of: 1, letter: true } : null;
  const third = last?.kind === 'number' && marks.length === 2 && marks[0]!.of === 0 && marks[1]!.of === 1;
  // a capital S behind degrees and minutes in signs is the south
  if (low === 's' && third && (letter === 's' || marks[1]!.letter)) return { kind: 'mark', of: 2, letter: true };
  return { kind: 'side', side: letter.toUpperCase() as 'N' };
}

/** One angle from its own tokens; null where they are none, or say two things. */
function angleOf(tokens: readonly Token[]): Angle | null {
  const sides = tokens.filter((t) => t.kind === 'side');
  const axes = tokens.filter((t) => t.kind === 'axis');
  const signs = tokens.filter((t) => t.kind === 'sign');
  const numbers = tokens.filter((t) => t.kind === 'number');
  if (sides.length > 1 || axes.length > 1 || signs.length > 1 || numbers.length < 1 || numbers.length > 3) return null;
  // a hemisphere and a sign say the same thing twice, or the contrary
  if (signs.length && sides.length) return null;
  const core = tokens.filter((t) => t.kind !== 'side' && t.kind !== 'axis');
  if (signs.length && core[0]!.kind !== 'sign') return null;
  let part = -1;
  for (const t of core) {
    if (t.kind === 'comma') return null;
    if (t.kind === 'number') part++;
    if (t.kind === 'mark' && t.of !== part) return null;
  }
  if (numbers.slice(0, -1).some((n) => n.text.includes('.'))) return null;
  const [d, m = 0, s = 0] = numbers.map((n) => n.value) as [number, number?, number?];
  if (m >= 60 || s >= 60 || numbers[0]!.text.split('.')[0]!.length > 3) return null;
  const side = sides[0]?.side ?? (axes[0]?.axis === 'latitude' ? 'lat' : axes[0]?.axis === 'longitude' ? 'lon' : null);
  const size = d + m / 60 + s / 3600;
  return { deg: (signs[0]?.sign ?? 1) * (side === 'S' || side === 'W' ? -1 : 1) * size, side };
}

/** The two numbers in an address copied from a map: `geo:`, `@lat,lon`, `q=lat,lon`, `mlat=…&mlon=…`, `#map=z/lat/lon`. */
function fromAddress(text: string): [number, number] | null {
  const n = '(-?\\d{1,3}\\.?\\d{0,40})';
  const m =
    new RegExp(`^geo:${n},${n}`, 'i').exec(text) ??
    new RegExp(`@${n},${n}`).exec(text) ??
    new RegExp(`[?&](?:q|ll|query|center)=${n}(?:,|%2C)(?:\\+|%20| )?${n}`, 'i').exec(text) ??
    new RegExp(`[?&]m?lat=${n}&m?lon=${n}`, 'i').exec(text) ??
    new RegExp(`#(?:map=)?\\d{1,2}(?:\\.\\d{1,30})?/${n}/${n}`).exec(text);
  return m ? [Number(m[1]), Number(m[2])] : null;
}

/** Where one angle ends and the next begins. */
function halves(tokens: readonly Token[]): [readonly Token[], readonly Token[]] | null {
  const commas = tokens.flatMap((t, i) => (t.kind === 'comma' ? [i] : []));
  if (commas.length > 1) return null;
  if (commas.length === 1) return [tokens.slice(0, commas[0]), tokens.slice(commas[0]! + 1)];
  const axes = tokens.flatMap((t, i) => (t.kind === 'axis' ? [i] : []));
  if (axes.length === 2 && axes[0] === 0) return [tokens.slice(0, axes[1]), tokens.slice(axes[1])];
  const sides = tokens.flatMap((t, i) => (t.kind === 'side' ? [i] : []));
  if (sides.length === 2) {
    const cut = sides[0] === 0 ? sides[1]! : sides[0]! + 1;
    return [tokens.slice(0, cut), tokens.slice(cut)];
  }
  if (sides.length || axes.length) return null;
  const signs = tokens.flatMap((t, i) => (t.kind === 'sign' && i > 0 ? [i] : []));
  if (signs.length === 1) return [tokens.slice(0, signs[0]), tokens.slice(signs[0])];
  const degrees = tokens.flatMap((t, i) => (t.kind === 'mark' && t.of === 0 ? [i] : []));
  if (degrees.length === 2) return [tokens.slice(0, degrees[1]! - 1), tokens.slice(degrees[1]! - 1)];
  if (tokens.some((t) => t.kind === 'colon')) {
    const cut = tokens.findIndex((t, i) => i > 0 && t.kind === 'number' && tokens[i - 1]!.kind === 'number');
    return cut < 0 ? null : [tokens.slice(0, cut), tokens.slice(cut)];
  }
  // nothing but numbers, the first perhaps with a sign: one, two or three for each
  const first = tokens[0]?.kind === 'sign' ? 1 : 0;
  const numbers = tokens.length - first;
  if (tokens.slice(first).some((t) => t.kind !== 'number') || ![2, 4, 6].includes(numbers)) return null;
  return [tokens.slice(0, first + numbers / 2), tokens.slice(first + numbers / 2)];
}

const tidy = (typed: string) => typed.trim().replace(/[−–‐]/g, '-').replace(/[’‘]/g, "'").replace(/[”“]/g, '"');

/** “47,07 15,44”, “47,07, 15,44”, “47,07; 15,44”: the comma between digits is the decimal sign. */
const DECIMAL_COMMAS = /^([-+]?\d{1,3}),(\d{1,30})\s*(?:[;,]\s+|;|\s)\s*([-+]?\d{1,3}),(\d{1,30})$/;
/** Hemispheres between them say where the first ends. */
const COMMA_IN_ANGLE = /(\d),(\d)/g;

/**
 * Reads a place in any usual form: decimal degrees, degrees with minutes and seconds, hemisphere letters, words, or an
 * address copied from a map. What could be two things (“47,07”, a sign beside a hemisphere) is refused with both.
 */
export function parsePlace(typed: string): PlaceRead {
  const text = tidy(typed);
  const no = (): PlaceRead => ({
    ok: false,
    message: `“${typed.trim().slice(0, 60)}” is no place; type latitude and longitude ${EXAMPLE}`,
  });
  if (text === '') return { ok: false, message: `is empty; type a place ${EXAMPLE}` };
  if (text.length > 400) return { ok: false, message: `is too long for a place; type one ${EXAMPLE}` };
  const found = fromAddress(text);
  if (found) return checked({ deg: found[0], side: null }, { deg: found[1], side: null });
  const inner = /^[([{]\s*(.*?)\s*[)\]}]$/.exec(text)?.[1] ?? text;
  if (/^[-+]?\d{1,3},\d{1,30}$/.test(inner))
    return {
      ok: false,
      message: `“${typed.trim()}” could be one number with a decimal comma or two; type latitude and longitude ${EXAMPLE}`,
    };
  // with hemispheres to part them and no point anywhere, a comma between digits is the decimal sign
  const letters = /[NSEW]/i.test(inner) && !inner.includes('.');
  const plain = inner.replace(DECIMAL_COMMAS, '$1.$2 ; $3.$4').replace(letters ? COMMA_IN_ANGLE : /$^/g, '$1.$2');
  const tokens = tokensOf(plain);
  const pair = tokens && halves(tokens);
  const [a, b] = pair ? [angleOf(pair[0]), angleOf(pair[1])] : [null, null];
  return a && b ? checked(a, b) : no();
}

function checked(a: Angle, b: Angle): PlaceRead {
  const across = (x: Angle) => x.side === 'E' || x.side === 'W' || x.side === 'lon';
  const along = (x: Angle) => x.side === 'N' || x.side === 'S' || x.side === 'lat';
  const turned = across(a) || along(b);
  const [lat, lon] = turned ? [b, a] : [a, b];
  if (across(lat) || along(lon))
    return { ok: false, message: `needs one latitude (N or S) and one longitude (E or W), ${EXAMPLE}` };
  if (Math.abs(lat.deg) > LIMIT.latitude)
    return { ok: false, message: `latitude ${lat.deg}° is beyond the pole; it lies between −90° and 90°` };
  if (Math.abs(lon.deg) > LIMIT.longitude)
    return { ok: false, message: `longitude ${lon.deg}° is outside −180° to 180°` };
  return { ok: true, place: { latitudeDeg: lat.deg, longitudeDeg: lon.deg } };
}

/** One angle of a place typed by itself, with its hemisphere's letter if it has one. */
export function parseCoordinate(
  typed: string,
  kind: 'latitude' | 'longitude',
): { ok: true; deg: number } | { ok: false; message: string } {
  // by itself a comma can only be the decimal sign
  const tokens = tokensOf(tidy(typed).replace(/^([-+]?\d{1,3}),(\d{1,30})(?!\d)/, '$1.$2'));
  const a = tokens && angleOf(tokens);
  const wrong = kind === 'latitude' ? /[EW]|lon/ : /[NS]|lat/;
  if (!a || (a.side && wrong.test(a.side)))
    return {
      ok: false,
      message: `“${typed.trim().slice(0, 40)}” is no ${kind}; type it such as ${kind === 'latitude' ? '47.07 or 47°04′ N' : '15.44 or 15°26′ E'}`,
    };
  if (Math.abs(a.deg) > LIMIT[kind]) return { ok: false, message: `between −${LIMIT[kind]}° and ${LIMIT[kind]}°` };
  return { ok: true, deg: a.deg };
}
