import type { SpokenVerdict, VerdictLevel } from '../calculation/index.ts';
import type { Phrase, PhraseValue, PlainPhrase } from './say.ts';
import type { Code } from './book/index.ts';
import { sentences } from './words.ts';

/** A phrase of the book; one without phrases in its values may stand in another's list. */
export function phrase(code: Code, values?: PlainPhrase['values']): PlainPhrase;
export function phrase(code: Code, values: Record<string, PhraseValue>): Phrase;
export function phrase(code: Code, values: Record<string, PhraseValue> = {}): Phrase {
  return { code, values };
}

/** A verdict made of phrases: codes and values first, the metric sentence from them. */
export const makeVerdict = (level: VerdictLevel, ...phrases: Phrase[]): SpokenVerdict => ({
  level,
  text: sentences(phrases),
  phrases,
});
