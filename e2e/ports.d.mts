export const DEMO_PORTS: number[];
export const EMPTY_PORT: number;
export const LATE: { port: number; name: string; hour: string; now: string }[];
export const READY_PORT: number;
