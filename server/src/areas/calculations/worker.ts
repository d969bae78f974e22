import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { MessagePort } from 'node:worker_threads';
import { calculations, InvalidInput } from '@keen/core';
import { bandSource, type StarIndex, type StarSource } from '@keen/core/sky';

/** One question to the registry, as it reaches a worker. */
export interface Question {
  name: string;
  input: unknown;
  dataFolder: string;
  /** A picture that was sent instead of a question. */
  picture?: Uint8Array | undefined;
  /** Told when the work begins: the time a worker takes to start is nobody's. */
  begun: MessagePort;
}
/** The answer as text, so that the server does not write a large one out itself. */
export interface Reply {
  status: 200 | 400;
  json: string;
}

let stars: StarSource | undefined;
/** The shipped star catalogue, read when somebody first asks for stars; 15 MB once read whole. */
function starsIn(dataFolder: string): StarSource {
  const folder = join(dataFolder, 'stars');
  return (cap) => {
    stars ??= bandSource(JSON.parse(readFileSync(join(folder, 'index.json'), 'utf8')) as StarIndex, (file) =>
      readFileSync(join(folder, file)),
    );
    return stars(cap);
  };
}

/** The picture that came along; a path is never followed. */
function sent(picture: Uint8Array | undefined): (path: string) => Uint8Array {
  return (path) => {
    if (picture && path === PICTURE) return picture;
    throw InvalidInput.at('file', 'no path is taken here: send the picture itself as application/fits');
  };
}
export const PICTURE = 'the picture sent';

export default function answer({ name, input, dataFolder, begun, picture }: Question): Reply {
  begun.postMessage('begun');
  begun.close();
  try {
    const surroundings = { stars: starsIn(dataFolder), file: sent(picture) };
    return { status: 200, json: JSON.stringify(calculations.get(name)!.run(input, surroundings)) };
  } catch (e) {
    if (e instanceof InvalidInput) return { status: 400, json: JSON.stringify(e) };
    throw e;
  }
}
