/** When the demo that every test server begins with was made: an afternoon in November, whatever the day is. */
export const TEMPLATE_NOW = '2026-11-19T13:00:00.000Z';
