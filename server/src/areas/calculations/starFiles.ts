import { bandSource, type StarIndex, type StarSource } from '@keen/core/sky';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';

/** The shipped star catalogue, read when somebody first asks for stars; 15 MB once read whole. */
export function starFiles(dataFolder: string): StarSource {
  const folder = join(dataFolder, 'stars');
  let stars: StarSource | undefined;
  return (cap) => {
    stars ??= bandSource(JSON.parse(readFileSync(join(folder, 'index.json'), 'utf8')) as StarIndex, (file) =>
      readFileSync(join(folder, file)),
    );
    return stars(cap);
  };
}
