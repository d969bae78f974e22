/** An angle in parts of sixty, or as one number, with the unit it names. */
export interface Sexagesimal {
  /** In its own unit: hours where it says h, degrees where it says ° or d, else whatever the reader expects. */
  value: number;
  unit: 'h' | 'deg' | null;
  /** How many parts it has: 1 is a plain number. */
  parts: 1 | 2 | 3;
}

const MINUS = /[-−–‐‑]/;
const FIRST = /^([+]|[-−–‐‑])?\s*(\d{1,3}(?:\.\d{1,30})?)/;
const NEXT = /^\d{1,2}(?:\.\d{1,30})?/;
/** What may stand behind each part; a colon or white space names no unit. */
const MARKS = [
  /^(?:h(?:ours?|rs?)?|d(?:eg(?:rees?)?)?|[°º˚]|:)/i,
  /^(?:m(?:in)?|['′’‘]|:)/i,
  /^(?:s(?:ec)?|''|["″”“])/i,
];

/**
 * Reads "13:29:52.7", "13h 29m 52.7s", "47°11′43″", "-00 12 30", "+47 11.7": two or three parts, each below sixty, a
 * fraction only in the last. A plain number is one part.
 * @returns null for anything else
 */
export function readSexagesimal(text: string): Sexagesimal | null {
  let rest = text.trim();
  const first = FIRST.exec(rest);
  if (!first) return null;
  rest = rest.slice(first[0].length);
  const sign = first[1] && MINUS.test(first[1]) ? -1 : 1;
  const numbers = [first[2]!];
  let unit: Sexagesimal['unit'] = null;
  for (let i = 0; ; i++) {
    const spaced = /^\s+/.exec(rest)?.[0] ?? '';
    const mark = MARKS[i]!.exec(rest.slice(spaced.length))?.[0] ?? '';
    if (i === 0 && mark && mark !== ':') unit = /^h/i.test(mark) ? 'h' : 'deg';
    if (i === 1 && unit === null && mark && mark !== ':') return null;
    rest = rest.slice(spaced.length + mark.length);
    const gap = spaced + mark + (/^\s*/.exec(rest)?.[0] ?? '');
    rest = rest.trimStart();
    if (rest === '') break;
    const next = gap === '' || i === 2 ? null : NEXT.exec(rest)?.[0];
    if (next === undefined || next === null) return null;
    // only the last part has a fraction
    if (numbers.at(-1)!.includes('.')) return null;
    numbers.push(next);
    rest = rest.slice(next.length);
  }
  const [a, b = 0, c = 0] = numbers.map(Number) as [number, number?, number?];
  if (b >= 60 || c >= 60) return null;
  return { value: sign * (a + b / 60 + c / 3600), unit, parts: numbers.length as 1 | 2 | 3 };
}
