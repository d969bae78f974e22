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

export default function answer({ name, input, dataFolder, begun }: Question): Reply {
  begun.postMessage('begun');
  begun.close();
  try {
    return { status: 200, json: JSON.stringify(calculations.get(name)!.run(input, { stars: starsIn(dataFolder) })) };
  } catch (e) {
    if (e instanceof InvalidInput) return { status: 400, json: JSON.stringify(e) };
    throw e;
  }
}
