import { existsSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { calculations, InvalidInput, jsonSchema } from '@keen/core';
import { bandSource, type StarIndex, type StarSource } from '@keen/core/sky';

/** The `keen` command: one calculation, JSON on standard input, one JSON object on standard output. */
const USAGE = 'usage: keen <calculation> < input.json   |   keen <calculation> --schema   |   keen';

const print = (v: unknown) => {
  process.stdout.write(`${JSON.stringify(v, null, 2)}\n`);
};
const fail = (v: unknown) => {
  process.stderr.write(`${JSON.stringify(v)}\n`);
  process.exitCode = 2;
};
const refuse = (path: string, message: string) => fail(InvalidInput.at(path, message));

/** The star catalogue that ships with the product; read only when a calculation asks for stars. */
function shippedStars(): StarSource | undefined {
  const folder = join(import.meta.dirname, '../../data/stars');
  if (!existsSync(join(folder, 'index.json'))) return undefined;
  let source: StarSource | undefined;
  return (cap) => {
    source ??= bandSource(JSON.parse(readFileSync(join(folder, 'index.json'), 'utf8')) as StarIndex, (file) =>
      readFileSync(join(folder, file)),
    );
    return source(cap);
  };
}

/** A file that a question names, seen from where the command was called. */
function callersFile(path: string): Uint8Array {
  try {
    return readFileSync(resolve(process.env.INIT_CWD ?? process.cwd(), path));
  } catch (e) {
    throw InvalidInput.at('file', `${path} cannot be read: ${(e as Error).message}`);
  }
}

async function main(args: string[]): Promise<void> {
  const [name, flag] = args;
  if (name === undefined || name === '--help') {
    process.stdout.write([...calculations.values()].map((c) => `${c.name.padEnd(20)} ${c.summary}\n`).join(''));
    return;
  }
  const calculation = calculations.get(name);
  if (!calculation) return refuse('', `no calculation is called “${name}”. ${USAGE}`);
  if (flag === '--schema') return print(jsonSchema(calculation.input, 'input'));
  if (flag === '--output-schema') return print(jsonSchema(calculation.output, 'output'));
  if (flag !== undefined) return refuse('', `“${flag}” is not understood. ${USAGE}`);
  let input: unknown;
  try {
    input = JSON.parse(readFileSync(0, 'utf8'));
  } catch (e) {
    return refuse('', `standard input is not JSON: ${(e as Error).message}`);
  }
  try {
    // two megabytes that few questions need
    const more = calculation.needsSolver ? { solver: await (await import('@keen/core/solver')).highsSolver() } : {};
    print(calculation.run(input, { stars: shippedStars(), file: callersFile, ...more }));
  } catch (e) {
    if (!(e instanceof InvalidInput)) throw e;
    fail(e);
  }
}

await main(process.argv.slice(2));
