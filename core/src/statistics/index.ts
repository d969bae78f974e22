export * from './random.ts';
export * from './leastSquares.ts';
export * from './huber.ts';
export { median, mean, quantileSorted } from 'simple-statistics';
export * from './periodogram.ts';
export { runningMedian } from './runningMedian.ts';
export { lowerBound } from './lowerBound.ts';
export { convexMinimum } from './convexMinimum.ts';
export { studentFactor } from './student.ts';
