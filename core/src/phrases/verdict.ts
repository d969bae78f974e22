import type { SpokenVerdict, VerdictLevel } from '../calculation/index.ts';
import type { Phrase, PhraseValue, PlainPhrase } from './say.ts';
import { BOOK, type Code, type NameCode } from './book/index.ts';
import { sentences } from './words.ts';

/** A phrase of the book; one without phrases in its values may stand in another's list. */
export function phrase(code: Code, values?: PlainPhrase['values']): PlainPhrase;
export function phrase(code: Code, values: Record<string, PhraseValue>): Phrase;
export function phrase(code: Code, values: Record<string, PhraseValue> = {}): Phrase {
  return { code, values };
}

/** What a code is called, for lists and headings. */
export const nameOf = (code: NameCode): PlainPhrase => phrase(`name.${code}`);
/** A code somebody else wrote: a name where the book has one. */
export const isNameCode = (code: string): code is NameCode => `name.${code}` in BOOK;

/** A verdict made of phrases: codes and values first, the metric sentence from them. */
export const makeVerdict = (level: VerdictLevel, ...phrases: Phrase[]): SpokenVerdict => ({
  level,
  text: sentences(phrases),
  phrases,
});
