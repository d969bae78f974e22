import { InvalidInput } from '@keen/core';

/** The result, or null where the input is not (yet) one that can be reckoned with; anything else that goes wrong is thrown. */
export function tried<T>(work: () => T): T | null {
  try {
    return work();
  } catch (e) {
    if (e instanceof InvalidInput) return null;
    throw e;
  }
}
