export const DEMO_PORTS: number[];
export const EMPTY_PORT: number;
