/** The lights a page can stand in. */
export const LIGHTS = ['day', 'night', 'dark-adapted'] as const;
export type Light = (typeof LIGHTS)[number];
