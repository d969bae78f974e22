import { expect, test } from '@jest/globals';
import { studentFactor } from './student.ts';

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
  expect(Math.abs(studentFactor(dof) / printed - 1)).toBeLessThan(0.01);
});
test.each([
  [1, 636.6],
  [2, 31.6],
  [6, 5.959],
  [10, 4.587],
  [30, 3.646],
])('99.9 %%, %d degrees of freedom: %d', (dof, printed) => {
  expect(Math.abs(studentFactor(dof, 0.999) / printed - 1)).toBeLessThan(0.05);
});
