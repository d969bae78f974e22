/** One number read from the beginning of a text. */
export type NumberRead = { ok: true; value: number; length: number } | { ok: false; reason: string } | null;

const FRACTIONS: Readonly<Record<string, number>> = {
  '½': 1 / 2,
  '⅓': 1 / 3,
  '⅔': 2 / 3,
  '¼': 1 / 4,
  '¾': 3 / 4,
  '⅛': 1 / 8,
  '⅜': 3 / 8,
  '⅝': 5 / 8,
  '⅞': 7 / 8,
};
/** Separators that hold when they group by threes: spaces of any width, apostrophes. */
const GROUPED = /^\d{1,3}(?:[\s'’]\d{3})+(?!\d)/;
const PLAIN = /^(?:\d{1,30}(?:[.,]\d{0,40})?|[.,]\d{1,30})/;
const DECIMALS = /^[.,]\d{1,30}/;
const EXPONENT = /^e([+-]?\d{1,3})(?![a-z])/i;
/** "2 1/4", "1/4": a fraction of two whole numbers, alone or behind a whole one. */
const FRACTION = /^(?:(\d{1,30})[\s-])?(\d{1,3})\/(\d{1,3})(?!\d)/;

/**
 * Reads the number a text begins with: grouped by threes, with one decimal sign (point or comma), an exponent, or a
 * fraction. What could be two numbers is not guessed at.
 * @returns the number and how many characters it takes; a reason where it could be read two ways; null where none begins
 */
export function readNumber(text: string): NumberRead {
  const fraction = FRACTION.exec(text);
  if (fraction) {
    const [whole, whole0, top, bottom] = fraction;
    if (Number(bottom) === 0) return { ok: false, reason: `“${whole}” divides by nothing` };
    return {
      ok: true,
      value: Number(whole0 ?? 0) + Number(top) / Number(bottom),
      length: whole.length,
    };
  }
  const lone = FRACTIONS[text.charAt(0)];
  if (lone !== undefined) return ended(text, lone, 1);
  const grouped = GROUPED.exec(text)?.[0];
  const head = grouped ?? PLAIN.exec(text)?.[0];
  if (head === undefined) return null;
  let length = head.length;
  let digits = grouped ? head.replace(/[\s'’]/g, '') : head.replace(',', '.');
  if (grouped) {
    const decimals = DECIMALS.exec(text.slice(length))?.[0] ?? '';
    digits += decimals.replace(',', '.');
    length += decimals.length;
  } else if (/^[1-9]\d{0,2},\d{3}$/.test(head))
    return {
      ok: false,
      reason: `“${head}” could be ${head.replace(',', '.')} or ${head.replace(',', '')}: write the one that is meant`,
    };
  if (/^[.,]\d/.test(text.slice(length)))
    return { ok: false, reason: `“${text.slice(0, 24)}” has more than one decimal sign` };
  const small = FRACTIONS[text.slice(length).trimStart().charAt(0)];
  if (small !== undefined && /^\d+$/.test(digits)) {
    const at = text.length - text.slice(length).trimStart().length;
    return ended(text, Number(digits) + small, at + 1);
  }
  const power = EXPONENT.exec(text.slice(length));
  const value = Number(digits + (power ? `e${power[1]}` : ''));
  if (!Number.isFinite(value)) return { ok: false, reason: `“${text.slice(0, 24)}” is too large a number` };
  return ended(text, value, length + (power?.[0].length ?? 0));
}

/** A number may not run into another one. */
const ended = (text: string, value: number, length: number): NumberRead =>
  /^\d/.test(text.slice(length))
    ? { ok: false, reason: `“${text.slice(0, 24)}” is not one number` }
    : { ok: true, value, length };
