import { afterAll, beforeAll } from '@jest/globals';

/** What a double does during the tests of the file that says so, and not in those of the next one. */
export function forThisFile(set: () => void, reset: () => void): void {
  beforeAll(set);
  afterAll(reset);
}
