import { expect, test } from '@jest/globals';
import { createRequire } from 'node:module';
import { studentFactor } from './student.ts';

const { jStat } = createRequire(import.meta.url)('jstat') as {
  jStat: { studentt: { inv: (p: number, dof: number) => number } };
};

// Source: Student's t, two-sided, from the usual tables (from memory)
test.each([
  [1, 12.706],
  [2, 4.303],
  [3, 3.182],
  [4, 2.776],
  [6, 2.447],
  [10, 2.228],
  [30, 2.042],
  [120, 1.98],
])('95 %%, %d degrees of freedom: %d', (dof, printed) => {
  expect(Math.abs(studentFactor(dof) / printed - 1)).toBeLessThan(0.0005);
});
test.each([
  [1, 636.6],
  [2, 31.6],
  [6, 5.959],
  [10, 4.587],
  [30, 3.646],
])('99.9 %%, %d degrees of freedom: %d', (dof, printed) => {
  expect(Math.abs(studentFactor(dof, 0.999) / printed - 1)).toBeLessThan(0.0005);
});

test('another library has the same factors, wherever it is exact itself', () => {
  for (let dof = 1; dof < 400; dof++) {
    expect(Math.abs(studentFactor(dof) / jStat.studentt.inv(0.975, dof) - 1)).toBeLessThan(1e-6);
    expect(Math.abs(studentFactor(dof, 0.999) / jStat.studentt.inv(0.9995, dof) - 1)).toBeLessThan(1e-6);
  }
});
test('fewer degrees of freedom ask for more, without a step where sum and expansion meet', () => {
  for (const level of [0.95, 0.999] as const)
    for (let dof = 2; dof < 500; dof++) expect(studentFactor(dof, level)).toBeLessThan(studentFactor(dof - 1, level));
});
