export const DEMO_MADE: string;
