import type { UnitSystem } from '../quantities/index.ts';
import { BOOK } from './book/index.ts';
import { say, type Phrase } from './say.ts';

/** Phrases of the product's own book as one text. */
export const words = (phrases: Phrase | readonly Phrase[], system: UnitSystem = 'metric', between = ' '): string =>
  (Array.isArray(phrases) ? (phrases as readonly Phrase[]) : [phrases as Phrase])
    .map((p) => say(BOOK, p, system))
    .join(between);
