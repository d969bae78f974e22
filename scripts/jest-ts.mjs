// TypeScript for Jest. Tests run in a context of their own, where every mention of a global is looked up through it: in the
// loops of the craft that takes most of the time. A binding of the module's own is found at once.
import swcJest from '@swc/jest';

const swc = swcJest.createTransformer({
  jsc: { target: 'es2022', parser: { syntax: 'typescript' } },
  module: { type: 'es6' },
  sourceMaps: 'inline',
});
// on the first line, so that every other keeps its number
export const OWN_GLOBALS = 'const { Math, Number, Array, Object, Float64Array } = globalThis; ';

export default {
  ...swc,
  process: (source, path, options) => swc.process(OWN_GLOBALS + source, path, options),
  processAsync: (source, path, options) => swc.processAsync(OWN_GLOBALS + source, path, options),
  getCacheKey: (source, path, options) => swc.getCacheKey(OWN_GLOBALS + source, path, options),
};
