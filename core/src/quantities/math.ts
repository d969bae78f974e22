/** Radians in a degree. Degrees are what everything public speaks in. */
export const RAD = Math.PI / 180;
