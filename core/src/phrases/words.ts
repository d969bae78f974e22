import type { UnitSystem } from '../quantities/index.ts';
import { BOOK } from './book/index.ts';
import { say, type Phrase } from './say.ts';

/** Greek letters stay small: σ Octantis is a star’s name. */
const capital = (text: string) => (/^[a-z]/.test(text) ? text.charAt(0).toUpperCase() + text.slice(1) : text);

/** Phrases as sentences: each begins with a capital. */
export const sentences = (phrases: readonly Phrase[], system: UnitSystem = 'metric'): string =>
  phrases.map((p) => capital(say(BOOK, p, system))).join(' ');

/** Phrases of the product's own book as one text. */
export const words = (phrases: Phrase | readonly Phrase[], system: UnitSystem = 'metric', between = ' '): string =>
  (Array.isArray(phrases) ? (phrases as readonly Phrase[]) : [phrases as Phrase])
    .map((p) => say(BOOK, p, system))
    .join(between);
