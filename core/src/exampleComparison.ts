/** How a case under examples/ is compared with what a calculation gives. */
export interface ExampleCase {
  input: unknown;
  expect?: unknown;
  tolerance?: number | string | Record<string, number | string>;
  min?: Record<string, number>;
  max?: Record<string, number>;
  findingsInclude?: string[];
  findingsExclude?: string[];
  error?: string;
  why?: string;
}

const DEFAULT_NUMBER = 1e-6;
const DEFAULT_SECONDS = 1;
const INSTANT = /^\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d(\.\d+)?)?Z$/;

const plain = (path: string) => path.replace(/\[\d+\]/g, '');

/** The tolerance of a path: the longest key that covers it, keys with list places before keys without. */
function toleranceAt(path: string, tolerance: ExampleCase['tolerance']): number | string | undefined {
  if (tolerance === undefined || typeof tolerance !== 'object') return tolerance;
  const covers = (key: string, p: string) => p === key || p.startsWith(`${key}.`) || p.startsWith(`${key}[`);
  let best: { key: string; score: number } | null = null;
  for (const key of Object.keys(tolerance)) {
    const exact = key.includes('[');
    if (!covers(key, exact ? path : plain(path))) continue;
    const score = key.length * 2 + (exact ? 1 : 0);
    if (!best || score > best.score) best = { key, score };
  }
  return best ? tolerance[best.key] : undefined;
}

function read(value: unknown, path: string): unknown {
  return path
    .replace(/\[(\d+)\]/g, '.$1')
    .split('.')
    .reduce<unknown>((v, k) => (v as Record<string, unknown> | undefined)?.[k], value);
}

function compare(want: unknown, got: unknown, path: string, example: ExampleCase, out: string[]): void {
  const say = (got: unknown) => out.push(`${path}: wanted ${JSON.stringify(want)}, got ${JSON.stringify(got)}`);
  if (typeof want === 'number') {
    const t = toleranceAt(path, example.tolerance);
    const limit = typeof t === 'number' ? t : DEFAULT_NUMBER;
    if (typeof got !== 'number' || !(Math.abs(got - want) <= limit)) say(got);
  } else if (typeof want === 'string' && INSTANT.test(want)) {
    const t = toleranceAt(path, example.tolerance);
    const seconds = typeof t === 'string' ? Number.parseFloat(t) : DEFAULT_SECONDS;
    const far = typeof got === 'string' ? Math.abs(Date.parse(got) - Date.parse(want)) / 1000 : Infinity;
    if (!(far <= seconds)) say(got);
  } else if (Array.isArray(want)) {
    if (!Array.isArray(got) || got.length !== want.length) say(Array.isArray(got) ? `${got.length} items` : got);
    else want.forEach((w, i) => compare(w, got[i], `${path}[${i}]`, example, out));
  } else if (want !== null && typeof want === 'object') {
    if (got === null || typeof got !== 'object') say(got);
    else
      for (const [k, w] of Object.entries(want))
        compare(w, (got as Record<string, unknown>)[k], path ? `${path}.${k}` : k, example, out);
  } else if (want !== got) say(got);
}

/** What differs between a case and an output; empty when they agree. */
export function differences(example: ExampleCase, output: unknown): string[] {
  const out: string[] = [];
  if (example.expect !== undefined) compare(example.expect, output, '', example, out);
  for (const [path, bound] of Object.entries(example.min ?? {})) {
    const v = read(output, path);
    if (typeof v !== 'number' || v < bound) out.push(`${path}: ${String(v)} is below ${bound}`);
  }
  for (const [path, bound] of Object.entries(example.max ?? {})) {
    const v = read(output, path);
    if (typeof v !== 'number' || v > bound) out.push(`${path}: ${String(v)} is above ${bound}`);
  }
  const codes = ((output as { findings?: { code: string }[] })?.findings ?? []).map((f) => f.code);
  for (const c of example.findingsInclude ?? []) if (!codes.includes(c)) out.push(`finding ${c} is missing`);
  for (const c of example.findingsExclude ?? []) if (codes.includes(c)) out.push(`finding ${c} is not wanted`);
  return out;
}
