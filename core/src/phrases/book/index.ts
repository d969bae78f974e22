import type { Book } from '../say.ts';
import { assumedPhrases } from './assumed.ts';
import { balancePhrases } from './balance.ts';
import { duskPhrases } from './dusk.ts';
import { nightPhrases } from './nights.ts';
import { rigPhrases } from './rig.ts';
import { trainPhrases } from './train.ts';

/** Every sentence the product says about its results, by code. */
export const BOOK: Book = {
  ...assumedPhrases,
  ...balancePhrases,
  ...duskPhrases,
  ...nightPhrases,
  ...rigPhrases,
  ...trainPhrases,
};
