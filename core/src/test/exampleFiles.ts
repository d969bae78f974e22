import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { InvalidInput } from '../calculation/index.ts';

const root = join(import.meta.dirname, '../../..');
/** Files that cases name, from the top of the project. */
export function exampleFile(path: string): Uint8Array {
  const at = join(root, path);
  if (!existsSync(at)) throw InvalidInput.at('file', `there is no file ${path}`);
  return readFileSync(at);
}
