import { bundlePackages } from './lib/testBundle.mjs';

/** Before the tests of the screens: what lies below them, in a few files. */
export default bundlePackages;
