import type { Book } from '../say.ts';
import { assumedPhrases } from './assumed.ts';
import { balancePhrases } from './balance.ts';
import { drillPhrases } from './drills.ts';
import { cablePhrases } from './cables.ts';
import { ditherPhrases } from './dither.ts';
import { duskPhrases } from './dusk.ts';
import { exposurePhrases } from './exposure.ts';
import { findingPhrases } from './findings.ts';
import { focusPhrases } from './focus.ts';
import { framePhrases } from './frames.ts';
import { guidingPhrases } from './guiding.ts';
import { jobPhrases } from './jobs.ts';
import { livePhrases } from './live.ts';
import { namePhrases } from './names.ts';
import { nightPhrases } from './nights.ts';
import { rigPhrases } from './rig.ts';
import { runPhrases } from './run.ts';
import { screenPhrases } from './screens.ts';
import { seasonPhrases } from './season.ts';
import { sequencePhrases } from './sequence.ts';
import { skyPhrases } from './sky.ts';
import { trainPhrases } from './train.ts';
import { typedPhrases } from './typed.ts';

/** Every sentence the product says about its results, by code. */
export const BOOK = {
  ...assumedPhrases,
  ...balancePhrases,
  ...cablePhrases,
  ...ditherPhrases,
  ...drillPhrases,
  ...duskPhrases,
  ...exposurePhrases,
  ...findingPhrases,
  ...focusPhrases,
  ...framePhrases,
  ...guidingPhrases,
  ...jobPhrases,
  ...livePhrases,
  ...namePhrases,
  ...nightPhrases,
  ...rigPhrases,
  ...runPhrases,
  ...screenPhrases,
  ...seasonPhrases,
  ...sequencePhrases,
  ...skyPhrases,
  ...trainPhrases,
  ...typedPhrases,
} as const satisfies Book;

/** A code that has words: one without is an error of the compiler. */
export type Code = keyof typeof BOOK;
export type { NameCode } from './names.ts';
