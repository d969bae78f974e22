import type * as looking from '../../workers/looking.ts';
import { forThisFile } from './forThisFile.ts';

/** Stands in every test of a screen where pictures are measured in workers of their own. */
type Looking = typeof looking;
const nothing: Partial<Looking> = {};
let looks = nothing;
/** What is found in pictures in this file of tests; nothing, where nothing is said. */
export const lookWith = (does: { [name in keyof Looking]?: (...given: never[]) => Promise<unknown> }): void =>
  forThisFile(
    () => (looks = does as Partial<Looking>),
    () => (looks = nothing),
  );
export const lookAtFiles: Looking['lookAtFiles'] = async (...given) => looks.lookAtFiles?.(...given);
export const lookAtPractice: Looking['lookAtPractice'] = async (...given) => looks.lookAtPractice?.(...given);
export const lookAtScene: Looking['lookAtScene'] = (...given) => looks.lookAtScene!(...given);
export const practiceFits: Looking['practiceFits'] = (...given) => looks.practiceFits!(...given);
