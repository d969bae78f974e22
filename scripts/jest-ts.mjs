// TypeScript for the tests of screens. A page's context looks every mention of a global up through its window: in loops that takes
// most of the time. A binding of the module's own is found at once. (Without a page: jest-node.mjs.)
import swcJest from '@swc/jest';

export const SWC = {
  jsc: { target: 'es2022', parser: { syntax: 'typescript' } },
  module: { type: 'es6' },
  sourceMaps: 'inline',
};
const swc = swcJest.createTransformer(SWC);
const GLOBALS =
  'Math Number Array Object String Boolean Map Set WeakMap JSON Error Symbol Infinity NaN Float64Array Float32Array Uint8Array Uint16Array Int32Array Int16Array';
/** On the first line, so that every other keeps its number. Not what tests replace, as the clock. */
export const ownGlobals = (wanted = () => true) =>
  `const { ${GLOBALS.split(' ').filter(wanted).join(', ')} } = globalThis; `;
export const OWN_GLOBALS = ownGlobals();

export default {
  ...swc,
  process: (source, path, options) => swc.process(OWN_GLOBALS + source, path, options),
  processAsync: (source, path, options) => swc.processAsync(OWN_GLOBALS + source, path, options),
  getCacheKey: (source, path, options) => swc.getCacheKey(OWN_GLOBALS + source, path, options),
};
