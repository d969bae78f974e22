/** Part of the Moon’s harm that a narrow filter lets through; common practice, no source. */
export const NARROWBAND_MOON = 0.25;
/** The Moon’s harm fades with its distance over so many degrees; a rough law, no source. */
const MOON_REACH_DEG = 60;

/**
 * What a moment is worth for an object, 0 to 1: its height, less what the Moon takes. Both laws are rough, no source.
 * @param moonlit lit share of the Moon's disk, 0…1
 */
export function worthAt(
  at: { altitudeDeg: number; moonAltitudeDeg: number; moonSeparationDeg: number },
  moonlit: number,
  narrowband: boolean,
): number {
  const height = Math.max(0, Math.sin((at.altitudeDeg * Math.PI) / 180));
  const moon = at.moonAltitudeDeg > 0 ? moonlit * Math.exp(-at.moonSeparationDeg / MOON_REACH_DEG) : 0;
  return height * (1 - moon * (narrowband ? NARROWBAND_MOON : 1));
}
