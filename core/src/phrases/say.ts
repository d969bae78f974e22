import type { UnitSystem } from '../quantities/index.ts';
import { quantityText } from './units.ts';

/** What a sentence is made of: a code of the book and the values that go into it, units in their names. */
export interface Phrase {
  code: string;
  values: Record<string, PhraseValue>;
}
/** A phrase that stands in another's list. */
export interface PlainPhrase {
  code: string;
  values: Record<string, string | number | string[]>;
}
export type PhraseValue = string | number | string[] | PlainPhrase[];

export type Book = Readonly<Record<string, string>>;

/**
 * Puts a phrase in words. A template holds
 *   `{massKg}`        a value in the reader's unit, with the unit's usual decimals
 *   `{slideMm:1}`     with so many decimals; `{slideMm:+1}` with its sign; `{aMm:0-}` without the unit
 *   `{n|frame|frames}` one word for 1, another for any other number
 *   `{list}`          phrases or words, with commas between
 * @throws Error for a code the book does not have or a value the template wants and did not get
 */
export function say(book: Book, phrase: Phrase, system: UnitSystem = 'metric'): string {
  const template = book[phrase.code];
  if (template === undefined) throw new Error(`no words for “${phrase.code}”`);
  return template.replace(/\{(\w+)(?::(\+?)(\d*)(-?))?(?:\|([^|}]*)\|([^}]*))?\}/g, (_whole, ...groups) => {
    const [name, plus, decimals, bare, one, many] = groups as (string | undefined)[];
    const value = phrase.values[name!];
    if (value === undefined) throw new Error(`“${phrase.code}” has no ${name}`);
    if (one !== undefined) return value === 1 ? one : many!;
    if (typeof value === 'string') return value;
    if (typeof value === 'number')
      return quantityText(name!, value, system, {
        decimals: decimals ? Number(decimals) : undefined,
        signed: plus === '+',
        bare: bare === '-',
      });
    return value.map((v) => (typeof v === 'string' ? v : say(book, v, system))).join(', ');
  });
}

/** Names of the values a template asks for. */
export const wanted = (template: string): string[] => [
  ...new Set([...template.matchAll(/\{(\w+)/g)].map((m) => m[1]!)),
];
