/** Where the walks find the application: one server with the demo club for each browser that walks, and one nobody has begun on. */
export const DEMO_PORTS = [4399, 4397];
export const EMPTY_PORT = 4398;
/** Two more that nobody has begun on, whose clocks show ten in the evening and three in the morning at the walks’ place. */
export const LATE = [
  { port: 4396, name: 'ten', hour: '22:00', now: '2026-11-19T21:00:00.000Z' },
  { port: 4395, name: 'three', hour: '03:00', now: '2026-11-20T02:00:00.000Z' },
];
/** Answers once all of them do. */
export const READY_PORT = 4394;
