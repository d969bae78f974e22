import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { calculations } from './calculations.ts';
import { InvalidInput } from './calculation/index.ts';
import { highsSolver } from './solver/index.ts';
import { exampleFile } from './test/exampleFiles.ts';
import { shippedStars } from './test/shippedStars.ts';
import { differences, type ExampleCase } from './exampleComparison.ts';

/** Every case under examples/ of every registered calculation, by an independent implementation. */
const root = join(import.meta.dirname, '../../examples');
const stars = shippedStars();
const solver = await highsSolver();

/** Calculations of our own beyond the examples; each has its own test. */
const WITHOUT_CASES = ['train.configurations', 'exposure.moon', 'sky.year'];
test('every calculation but these has cases', () => {
  expect([...calculations.keys()].filter((n) => !existsSync(join(root, n)))).toEqual(WITHOUT_CASES);
});

/** Cases whose calculation is not built yet: a name leaves this list with it, and no other folder may be without one. */
const NOT_BUILT_YET: string[] = [];
/** Picture files that cases of frames refer to, and no calculation. */
const NO_CALCULATION = ['frames'];
test('every folder of cases has its calculation, but for those named here', () => {
  const without = readdirSync(root).filter((n) => !calculations.has(n) && !NO_CALCULATION.includes(n));
  expect(without.sort()).toEqual([...NOT_BUILT_YET].sort());
});

for (const [name, calculation] of calculations) {
  if (WITHOUT_CASES.includes(name)) continue;
  describe(name, () => {
    const files = readdirSync(join(root, name)).filter((f) => f.endsWith('.json'));
    test('has cases', () => expect(files.length).toBeGreaterThan(0));
    test.each(files)('%s', (file) => {
      const example = JSON.parse(readFileSync(join(root, name, file), 'utf8')) as ExampleCase;
      if (example.error) {
        expect(() => calculation.run(example.input, { stars, solver, file: exampleFile })).toThrow(InvalidInput);
        return;
      }
      const output = calculation.run(example.input, { stars, solver, file: exampleFile });
      expect(differences(example, output)).toEqual([]);
      const parsed = calculation.output.safeParse(output);
      expect(parsed.error?.issues ?? []).toEqual([]);
    });
  });
}

test('the comparison notices a wrong number, a missing item and a broken bound', () => {
  const example: ExampleCase = {
    input: {},
    expect: { a: 1, list: [{ t: '2026-01-01T00:00:00Z' }] },
    tolerance: { a: 0.1, 'list.t': '60s' },
    max: { b: 2 },
  };
  expect(differences(example, { a: 1.05, b: 2, list: [{ t: '2026-01-01T00:00:59Z' }] })).toEqual([]);
  expect(differences(example, { a: 1.2, b: 2, list: [{ t: '2026-01-01T00:00:59Z' }] })).toHaveLength(1);
  expect(differences(example, { a: 1, b: 2.1, list: [{ t: '2026-01-01T00:01:01Z' }] })).toHaveLength(2);
  expect(differences(example, { a: 1, b: 2, list: [] })).toHaveLength(1);
});
