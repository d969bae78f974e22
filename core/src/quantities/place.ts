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
  /** Hemisphere letter, when one was written. */
  side: 'N' | 'S' | 'E' | 'W' | null;
}

const NUMBER = '\\d{1,3}(?:\\.\\d{1,12})?';
/** Degrees with optional minutes and seconds, a sign or a letter before or behind. */
const ANGLE = new RegExp(
  `^\\s*([NSEW])?\\s*([+-])?\\s*(${NUMBER})\\s*(?:°|d|deg|\\s)?\\s*(?:(${NUMBER})\\s*(?:'|′|m|\\s)\\s*(?:(${NUMBER})\\s*(?:"|″|''|s)?)?|(${NUMBER}))?\\s*([NSEW])?\\s*$`,
  'i',
);

function readAngle(text: string): Angle | null {
  const m = ANGLE.exec(text);
  if (!m) return null;
  const [, before, sign, d, min, sec, bareMin, after] = m;
  const [minutes, seconds] = [Number(min ?? bareMin ?? 0), Number(sec ?? 0)];
  if (minutes >= 60 || seconds >= 60) return null;
  const side = ((before ?? after)?.toUpperCase() ?? null) as Angle['side'];
  const size = Number(d) + minutes / 60 + seconds / 3600;
  return { deg: (sign === '-' ? -1 : 1) * (side === 'S' || side === 'W' ? -1 : 1) * size, side };
}

/** The two numbers in an address copied from a map: `geo:`, `@lat,lon`, `q=lat,lon`, `mlat=…&mlon=…`, `#map=z/lat/lon`. */
function fromAddress(text: string): [string, string] | null {
  const n = '(-?\\d{1,3}\\.?\\d{0,12})';
  const m =
    new RegExp(`^geo:${n},${n}`, 'i').exec(text) ??
    new RegExp(`@${n},${n}`).exec(text) ??
    new RegExp(`[?&](?:q|ll|query|center)=${n}(?:,|%2C)${n}`, 'i').exec(text) ??
    new RegExp(`[?&]m?lat=${n}&m?lon=${n}`, 'i').exec(text) ??
    new RegExp(`#(?:map=)?\\d{1,2}(?:\\.\\d+)?/${n}/${n}`).exec(text);
  return m ? [m[1]!, m[2]!] : null;
}

/** Splits "47.07, 15.44" or "47°04′12″N 15°26′24″E" where one angle ends and the next begins. */
function halves(text: string): [string, string] | null {
  const byComma = text.split(/[,;]\s+|[;]|,(?=\s*[-+NSEW\d])/i).filter((t) => t.trim());
  if (byComma.length === 2) return [byComma[0]!, byComma[1]!];
  const letters = /^(.*?[NS])\s*(.*[EW])\s*$/i.exec(text) ?? /^\s*([NS].*?)\s*([EW].*)$/i.exec(text);
  if (letters) return [letters[1]!, letters[2]!];
  const bare = text.trim().split(/\s+/);
  return bare.length === 2 ? [bare[0]!, bare[1]!] : null;
}

/**
 * Reads a place in any usual form: decimal degrees, degrees with minutes and seconds, hemisphere letters, or an address
 * copied from a map. A comma between digits is a decimal sign only where a second number follows after a space or semicolon.
 */
export function parsePlace(typed: string): PlaceRead {
  const text = typed.trim().replace(/[−–]/g, '-').replace(/[’]/g, "'").replace(/[”]/g, '"');
  if (text === '') return { ok: false, message: `is empty; type a place ${EXAMPLE}` };
  if (text.length > 400) return { ok: false, message: `is too long for a place; type one ${EXAMPLE}` };
  // "47,07 15,44" and "47,07; 15,44": the comma is the decimal sign
  const decimalComma = /^[-+]?\d{1,3},\d+\s*[;\s]\s*[-+]?\d{1,3},\d+$/.test(text);
  const pair = fromAddress(text) ?? halves(decimalComma ? text.replace(/(\d),(\d)/g, '$1.$2') : text);
  const [a, b] = pair ? [readAngle(pair[0]), readAngle(pair[1])] : [null, null];
  if (!a || !b)
    return { ok: false, message: `“${typed.trim().slice(0, 60)}” is no place; type latitude and longitude ${EXAMPLE}` };
  const turned = a.side === 'E' || a.side === 'W' || b.side === 'N' || b.side === 'S';
  const [lat, lon] = turned ? [b, a] : [a, b];
  if (lat.side === 'E' || lat.side === 'W' || lon.side === 'N' || lon.side === 'S')
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
  const text = typed
    .trim()
    .replace(/[−–]/g, '-')
    .replace(/[’]/g, "'")
    .replace(/[”]/g, '"')
    .replace(/^([-+]?\d{1,3}),(\d+)/, '$1.$2');
  const a = readAngle(text);
  const wrong = kind === 'latitude' ? /[EW]/ : /[NS]/;
  if (!a || (a.side && wrong.test(a.side)))
    return {
      ok: false,
      message: `“${typed.trim().slice(0, 40)}” is no ${kind}; type it such as ${kind === 'latitude' ? '47.07 or 47°04′ N' : '15.44 or 15°26′ E'}`,
    };
  if (Math.abs(a.deg) > LIMIT[kind]) return { ok: false, message: `between −${LIMIT[kind]}° and ${LIMIT[kind]}°` };
  return { ok: true, deg: a.deg };
}
