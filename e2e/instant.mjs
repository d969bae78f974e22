import { DEMO_MADE } from '../scripts/lib/demoInstant.mjs';

/** The instant all browser walks run at, on the server and in the browser; another one by KEEN_E2E_NOW. */
export const NOW = process.env.KEEN_E2E_NOW ?? DEMO_MADE;
