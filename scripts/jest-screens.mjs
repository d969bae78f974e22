import { bundlePackages, bundleToolkit } from './lib/testBundle.mjs';

/** Before the tests of the screens: what lies below them and what they are made with, in a few files. */
export default async () => {
  await bundlePackages();
  await bundleToolkit();
};
