import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { bandSource, type StarIndex, type StarSource } from '../sky/index.ts';

/** The shipped star catalogue, for tests. */
export function shippedStars(): StarSource {
  const folder = join(import.meta.dirname, '../../../data/stars');
  const index = JSON.parse(readFileSync(join(folder, 'index.json'), 'utf8')) as StarIndex;
  return bandSource(index, (file) => readFileSync(join(folder, file)));
}
