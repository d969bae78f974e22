import { readFileSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { BOOK, judge, phrase, say, wanted, words } from './index.ts';

const book = { a: 'slide {slideMm} forward', b: '{n} {n|frame|frames} at {airC}', c: 'with {list}', d: '{xMm:0-}, {yMm:+1}', e: '{text}' }; // prettier-ignore

describe('a phrase', () => {
  test('is said in the reader’s units', () => {
    expect(say(book, phrase('a', { slideMm: 25.4 }))).toBe('slide 25\u202fmm forward');
    expect(say(book, phrase('a', { slideMm: 25.4 }), 'imperial')).toBe('slide 1.00\u202fin forward');
    expect(say(book, phrase('b', { n: 1, airC: -10 }), 'imperial')).toBe('1 frame at 14\u202f°F');
    expect(say(book, phrase('b', { n: 3, airC: -10 }))).toBe('3 frames at −10\u202f°C');
    expect(say(book, phrase('d', { xMm: 1.26, yMm: 2 }))).toBe('1, +2.0\u202fmm');
  });
  test('lists stand with commas, phrases in them are said too', () => {
    expect(say(book, phrase('c', { list: [phrase('a', { slideMm: 2 }) as never, phrase('e', { text: 'care' }) as never] }))).toBe('with slide 2\u202fmm forward, care'); // prettier-ignore
    expect(say(book, phrase('c', { list: ['L', 'R'] }))).toBe('with L, R');
  });
  test('a code without words, and a value that is missing, are errors and not blanks', () => {
    expect(() => say(book, phrase('nobody'))).toThrow('no words');
    expect(() => say(book, phrase('a'))).toThrow('slideMm');
  });
  test('what somebody typed is never taken for a template', () => {
    expect(say(book, phrase('e', { text: '{slideMm} $& $1' }))).toBe('{slideMm} $& $1');
  });
  test('a verdict carries its codes, its text is metric', () => {
    const v = judge('caution', phrase('assumed.place', { name: 'tube', spreadMm: 20, momentKgCm: 1.4 }));
    expect(v.text).toBe('Assumed place of the tube ±20\u202fmm: ±1.4\u202fkg·cm; measure it.');
    expect(words(v.said!, 'imperial')).toContain('±0.79\u202fin: ±1.22\u202fin·lb');
  });
});

describe('the book', () => {
  const files = (dir: string): string[] =>
    readdirSync(dir).flatMap((f) => {
      const path = join(dir, f);
      return statSync(path).isDirectory() ? (f === 'dist' || f === 'node_modules' ? [] : files(path)) : /\.(ts|vue)$/.test(f) ? [path] : []; // prettier-ignore
    });
  const ROOT = join(import.meta.dirname, '../../..');
  const source = ['core/src', 'server/src', 'web/src'].flatMap((d) => files(join(ROOT, d))).filter((f) => !f.includes('/phrases/') && !f.endsWith('.test.ts')).map((f) => readFileSync(f, 'utf8')).join('\n'); // prettier-ignore
  test('every code that is said has words, and every entry is said somewhere', () => {
    const said = new Set(
      [...source.matchAll(/(?:phrase\(|code: |: )\s*'([a-z]+(?:[.-][a-zA-Z-]+)+)'/g)].map((m) => m[1]!),
    );
    for (const code of Object.keys(BOOK)) {
      const [area, name] = [code.split('.')[0]!, code.slice(code.indexOf('.') + 1)];
      // some are put together from an area and a name
      const built = (source.includes(`'${name}'`) && area === 'rig') || code.startsWith('balance.step-');
      expect([code, said.has(code) || source.includes(`'${code}'`) || built || area === 'redo']).toEqual([code, true]);
    }
  });
  test('it is documented: every code stands in docs/phrases.md with its words', () => {
    const page = readFileSync(join(ROOT, 'docs/phrases.md'), 'utf8');
    for (const [code, template] of Object.entries(BOOK)) expect(page).toContain(`| \`${code}\` | ${template.replaceAll('|', '\\|')} |`); // prettier-ignore
  });
  test('every template asks for names that can be values', () => {
    for (const template of Object.values(BOOK))
      for (const name of wanted(template)) expect(name).toMatch(/^[a-z][A-Za-z]*$/);
  });
});
