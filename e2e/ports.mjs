/** Where the walks find the application: one server with the demo club for each browser that walks, and one nobody has begun on. */
export const DEMO_PORTS = [4399, 4397];
export const EMPTY_PORT = 4398;
