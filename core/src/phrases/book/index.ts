import type { Book } from '../say.ts';
import { assumedPhrases } from './assumed.ts';
import { nightPhrases } from './nights.ts';
import { rigPhrases } from './rig.ts';

/** Every sentence the product says about its results, by code. */
export const BOOK: Book = {
  ...assumedPhrases,
  ...nightPhrases,
  ...rigPhrases,
};
