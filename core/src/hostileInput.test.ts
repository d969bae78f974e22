import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { calculations } from './calculations.ts';
import { InvalidInput } from './calculation/index.ts';
import type { ExampleCase } from './exampleComparison.ts';
import { seeded } from './statistics/index.ts';
import { highsSolver } from './solver/index.ts';
import { shippedStars } from './test/shippedStars.ts';
import { rounds } from './test/rounds.ts';

/** Good inputs with one field spoilt: every calculation answers with a clear refusal or a finite, well-formed result. */
const root = join(import.meta.dirname, '../../examples');
const stars = shippedStars();
const solver = await highsSolver();
const HOSTILE: unknown[] = [undefined, null, '', 'x', -1, 0, 1e-9, 1e6, NaN, Infinity, [], {}, true, '2026-13-45'];
/** Fields spoilt per calculation, drawn at random from all its examples. */
const FIELDS = rounds(12, 40);

type Path = (string | number)[];
function pathsOf(value: unknown, at: Path = []): Path[] {
  if (typeof value !== 'object' || value === null) return [at];
  const inner = Object.entries(value).flatMap(([k, v]) => pathsOf(v, [...at, Array.isArray(value) ? Number(k) : k]));
  return at.length ? [at, ...inner] : inner;
}
function spoilt(input: object, path: Path, value: unknown): object {
  const copy = structuredClone(input) as Record<string | number, unknown>;
  let inner = copy;
  for (const key of path.slice(0, -1)) inner = inner[key] as typeof copy;
  if (value === undefined) delete inner[path.at(-1)!];
  else inner[path.at(-1)!] = value;
  return copy;
}
/** Paths at which a number is not finite, or a sentence shows that one was not. */
function unsound(value: unknown, at = ''): string[] {
  if (typeof value === 'number') return Number.isFinite(value) ? [] : [at];
  if (typeof value === 'string') return /\b(NaN|undefined|Infinity)\b|\[object/.test(value) ? [`${at}: ${value}`] : [];
  if (typeof value !== 'object' || value === null) return [];
  return Object.entries(value).flatMap(([k, v]) => unsound(v, at ? `${at}.${k}` : k));
}
function complaint(run: () => unknown, output: { safeParse: (v: unknown) => { error?: { message: string } } }) {
  try {
    const got = run();
    const bad = unsound(got);
    if (bad.length) return bad.slice(0, 3).join(', ');
    return output.safeParse(got).error?.message ?? null;
  } catch (e) {
    if (!(e instanceof InvalidInput)) return `threw ${String(e)}`;
    return e.issues.length && e.issues.every((i) => i.message.length > 3) ? null : 'refused without a reason';
  }
}

describe.each([...calculations])('%s', (name, calculation) => {
  const folder = join(root, name);
  const examples = (() => {
    try {
      return readdirSync(folder).map((f) => JSON.parse(readFileSync(join(folder, f), 'utf8')) as ExampleCase);
    } catch {
      return [];
    }
  })().filter((e) => !e.error);
  // a field is spoilt as well on twenty nights as on twenty thousand
  const short = (input: object) =>
    'nights' in input && typeof input.nights === 'number' ? { ...input, nights: 20 } : input;
  const spots = examples.flatMap((e) => pathsOf(e.input).map((path) => ({ input: short(e.input as object), path })));
  const r = seeded(name.length * 131 + spots.length);
  const chosen = Array.from(
    { length: Math.min(FIELDS, spots.length) },
    () => spots[Math.floor(r.next() * spots.length)]!,
  );

  test('one spoilt field is refused with a reason, or answered soundly', () => {
    const wrong = chosen.flatMap(({ input, path }) =>
      HOSTILE.flatMap((value) => {
        const wrong = complaint(
          () => calculation.run(spoilt(input, path, value), { stars, solver }),
          calculation.output,
        );
        return wrong ? [`${path.join('.')} = ${String(value)}: ${wrong}`] : [];
      }),
    );
    expect(wrong).toEqual([]);
  });
  test.each([null, 7, 'text', [[]], {}, { nothing: 'known' }])('%j is not an input', (input) => {
    expect(() => calculation.run(input, { stars, solver })).toThrow(InvalidInput);
  });
});
