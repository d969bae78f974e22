/** The instant all browser walks run at, on the server and in the browser; another one by KEEN_E2E_NOW. */
export const NOW = process.env.KEEN_E2E_NOW ?? '2026-11-19T13:10:00.000Z';
