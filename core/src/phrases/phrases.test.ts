import { readFileSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import {
  BOOK,
  makeVerdict,
  phrase,
  readersFigure,
  say,
  unitOf,
  wanted,
  words,
  type Phrase,
  type PlainPhrase,
} from './index.ts';

const book = {
  a: 'slide {slideMm} forward',
  b: '{n} {n|frame|frames} at {airC}',
  c: 'with {list}',
  d: '{xMm:0-}, {yMm:+1}',
  e: '{text}',
};

/** A phrase of this test's own little book. */
const own = (code: string, values: Phrase['values'] = {}): Phrase => ({ code, values });

describe('a phrase', () => {
  test('is said in the reader’s units', () => {
    expect(say(book, own('a', { slideMm: 25.4 }))).toBe('slide 25\u202fmm forward');
    expect(say(book, own('a', { slideMm: 25.4 }), 'imperial')).toBe('slide 1.00\u202fin forward');
    expect(say(book, own('b', { n: 1, airC: -10 }), 'imperial')).toBe('1 frame at 14\u202f°F');
    expect(say(book, own('b', { n: 3, airC: -10 }))).toBe('3 frames at −10\u202f°C');
    expect(say(book, own('d', { xMm: 1.26, yMm: 2 }))).toBe('1, +2.0\u202fmm');
  });
  test('lists stand with commas, phrases in them are said too', () => {
    expect(
      say(
        book,
        own('c', { list: [own('a', { slideMm: 2 }) as PlainPhrase, own('e', { text: 'care' }) as PlainPhrase] }),
      ),
    ).toBe('with slide 2\u202fmm forward, care');
    expect(say(book, own('c', { list: ['L', 'R'] }))).toBe('with L, R');
  });
  test('part of a second is said, whole seconds stay whole', () => {
    const of = (exposureS: number) => say({ x: '{exposureS}' }, own('x', { exposureS }));
    expect([0.25, 0.5, 1.5, 2, 12.4, 300].map(of)).toEqual(
      ['0.25', '0.50', '1.5', '2', '12', '300'].map((t) => `${t}\u202fs`),
    );
  });
  test('a code without words, and a value that is missing, are errors and not blanks', () => {
    expect(() => say(book, own('nobody'))).toThrow('no words');
    expect(() => say(book, own('a'))).toThrow('slideMm');
  });
  test('what somebody typed is never taken for a template', () => {
    expect(say(book, own('e', { text: '{slideMm} $& $1' }))).toBe('{slideMm} $& $1');
  });
  test('a figure of a working is shown in the reader’s unit, its remark kept; metric stays as it is', () => {
    expect(readersFigure(50.8, 'mm without rings', 'imperial').unit).toBe('in without rings');
    expect(readersFigure(1.8, '°C', 'imperial').value).toBeCloseTo(3.24, 9);
    expect(readersFigure(11.5212, 'kg·mm', 'imperial').value).toBeCloseTo(1, 4);
    expect(readersFigure(11.5212, 'kg·mm', 'metric')).toEqual({ value: 11.5212, unit: 'kg·mm' });
    expect(readersFigure(3, 'px', 'imperial')).toEqual({ value: 3, unit: 'px' });
  });
  test('a verdict carries its codes, its text is metric', () => {
    const v = makeVerdict('caution', phrase('assumed.place', { name: 'tube', spreadMm: 20, momentKgCm: 1.4 }));
    expect(v.text).toBe('Assumed place of the tube ±20\u202fmm: ±1.4\u202fkg·cm; measure it.');
    expect(words(v.phrases!, 'imperial')).toContain('±0.79\u202fin: ±1.22\u202fin·lb');
  });
});

/** A value such as a template asks for: a number where a unit or a plural hangs on it, words elsewhere. */
function sampleOf(template: string, name: string): string | number {
  const plural = template.includes(`{${name}|`);
  const shaped = template.includes(`{${name}:`);
  return plural || shaped || unitOf(name, 'metric') !== '' ? 12.5 : 'words';
}

describe('the book', () => {
  const files = (dir: string): string[] =>
    readdirSync(dir).flatMap((f) => {
      const path = join(dir, f);
      return statSync(path).isDirectory()
        ? f === 'dist' || f === 'node_modules'
          ? []
          : files(path)
        : /\.(ts|vue)$/.test(f)
          ? [path]
          : [];
    });
  const ROOT = join(import.meta.dirname, '../../..');
  const source = ['core/src', 'server/src', 'web/src']
    .flatMap((d) => files(join(ROOT, d)))
    .filter((f) => !f.includes('/phrases/book/') && !f.endsWith('.test.ts'))
    .map((f) => readFileSync(f, 'utf8'))
    .join('\n');
  test('every entry is said somewhere: by its code, or by a code put together from a beginning and a name', () => {
    // `log.${code}-advice` becomes log.<anything>-advice; the compiler holds the other way, no code without words
    const built = [...source.matchAll(/`([a-z]+\.[a-zA-Z-]*(?:\$\{[^`]*)+)`/g)].map(
      ([, template]) => new RegExp(`^${template!.replace(/\$\{[^}]*\}/g, '[a-zA-Z-]+')}$`),
    );
    for (const code of Object.keys(BOOK))
      expect([code, source.includes(`'${code}'`) || built.some((b) => b.test(code))]).toEqual([code, true]);
  });
  test('it is documented: every code stands in docs/phrases.md with its words', () => {
    const page = readFileSync(join(ROOT, 'docs/phrases.md'), 'utf8');
    const rows = Object.entries(BOOK).map(([code, template]) => `| \`${code}\` | ${template.replaceAll('|', '\\|')} |`);
    expect(rows.filter((row) => !page.includes(row))).toEqual([]);
  });
  test.each(Object.entries(BOOK))(
    '%s is said whole in either system, and never in the other’s units',
    (code, template) => {
      const values = Object.fromEntries(wanted(template).map((name) => [name, sampleOf(template, name)]));
      const [metric, imperial] = (['metric', 'imperial'] as const).map((s) => say(BOOK, { code, values } as Phrase, s));
      for (const text of [metric!, imperial!]) expect(text).not.toMatch(/[{}]|undefined|NaN/);
      // what is a person's own words, or a thread, is not a quantity
      expect(imperial!).not.toMatch(/\d\u202f(mm|kg|kg·cm|N·m|°C|m)(?![\w·])/);
      expect(metric!).not.toMatch(/\d\u202f(in|lb|in·lb|ft·lb|°F|ft)(?![\w·])/);
    },
  );
  test('every template asks for names that can be values', () => {
    for (const template of Object.values(BOOK))
      for (const name of wanted(template)) expect(name).toMatch(/^[a-z][A-Za-z]*$/);
  });
});
