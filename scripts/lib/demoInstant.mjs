/** When the demo of tests and walks was made: an afternoon in November, whatever the day is. */
export const DEMO_MADE = '2026-11-19T13:10:00.000Z';
