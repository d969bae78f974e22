/** Stops of the day arc, bench to season, and the room each keeps to either side for its name. */
export const STOPS = 5;
const CLEAR = 0.056;

/**
 * Share of the day arc the Sun has run: bench until 0.17, dusk to 0.36, night about 0.5, morning to 0.83. It is kept clear
 * of the stops, so that neither hides the other.
 */
export function sunPlace(altitudeDeg: number, afternoon: boolean): number {
  const a = altitudeDeg;
  const evening =
    a > 0
      ? 0.17 * (1 - Math.min(1, a / 40))
      : a > -18
        ? 0.17 + (0.19 * -a) / 18
        : 0.36 + 0.14 * Math.min(1, (-18 - a) / 30);
  const t = afternoon ? evening : 1 - evening;
  const near = Math.round(t * (STOPS - 1)) / (STOPS - 1);
  if (Math.abs(t - near) >= CLEAR) return t;
  const before = near === 1 || (near > 0 && t < near);
  return near + (before ? -CLEAR : CLEAR);
}
