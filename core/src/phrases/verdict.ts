import type { Verdict, VerdictLevel } from '../calculation/index.ts';
import type { Phrase, PhraseValue } from './say.ts';
import { sentences } from './words.ts';

/** A phrase of the book. */
export const phrase = (code: string, values: Record<string, PhraseValue> = {}): Phrase => ({ code, values });

/** A verdict made of phrases: codes and values first, the metric sentence from them. */
export const judge = (level: VerdictLevel, ...said: Phrase[]): Verdict => ({ level, text: sentences(said), said });
