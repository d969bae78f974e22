/** One value that two versions of a record hold differently, by its place in words. */
export interface Difference {
  field: string;
  /** Last name of the path, whose suffix tells the unit. */
  key: string;
  mine: unknown;
  theirs: unknown;
}

/** Lists by what one of their entries is called, and boxes that say nothing of their own. */
const NAMED: Record<string, string> = {
  placed: 'part',
  counterweights: 'weight',
  counterweightStock: 'weight in stock',
  train: 'piece',
  systems: 'system',
  legs: 'leg',
  goals: 'goal',
  filters: 'filter',
  wheel: 'slot',
  horizon: 'horizon point',
  trimPoints: 'trim place',
  relocations: 'what may move',
  variants: 'configuration',
  opening: 'opening step',
  closing: 'closing step',
  items: 'step',
  locks: 'closed field',
};
const BOXES = new Set(['setup', 'settings', 'value']);
const UNITS = /(?:KgM2|KgMm|KgCm|Kg|Mm|Deg|Arcsec|Arcmin|Nm|Px|Um|Ms|Min|Hours|Percent|S|C|M|E)$/;

/** `centreWithinArcmin` → `centre within`. */
const plain = (key: string): string =>
  (key.replace(UNITS, '') || key).replace(/([a-z])([A-Z])/g, (_, a: string, b: string) => `${a} ${b.toLowerCase()}`);
type Entry = Record<string, unknown>;
const isBox = (v: unknown): v is Entry => v !== null && typeof v === 'object';
/** What an entry of a list is told apart by, in both versions the same. */
function callOf(entry: unknown, place: number): string {
  if (!isBox(entry)) return String(place + 1);
  for (const key of ['name', 'filter', 'object', 'text', 'field', 'step'])
    if (typeof entry[key] === 'string' && entry[key]) return `“${String(entry[key])}”`;
  return String(place + 1);
}

/** Where two versions differ, leaf by leaf; what only one of them has stands there with undefined on the other side. */
export function differences(mine: unknown, theirs: unknown): Difference[] {
  const found: Difference[] = [];
  function walk(a: unknown, b: unknown, words: string[], key: string): void {
    if (isBox(a) || isBox(b)) {
      const [x, y] = [isBox(a) ? a : {}, isBox(b) ? b : {}];
      const list = Array.isArray(a) || Array.isArray(b);
      for (const k of new Set([...Object.keys(x), ...Object.keys(y)])) {
        const own = list ? [callOf(x[k] ?? y[k], Number(k))] : BOXES.has(k) ? [] : [NAMED[k] ?? plain(k)];
        walk(
          x[k],
          y[k],
          list ? [...words.slice(0, -1), [words.at(-1), ...own].filter(Boolean).join(' ')] : [...words, ...own],
          list ? key : k,
        );
      }
      return;
    }
    if (a !== b && ((a ?? null) !== null || (b ?? null) !== null))
      found.push({ field: words.join(', '), key, mine: a, theirs: b });
  }
  walk(mine, theirs, [], '');
  return found;
}
