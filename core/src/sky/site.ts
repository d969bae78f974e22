import { z } from 'zod';
import { latitudeDeg, quantity, within } from '../calculation/index.ts';
import { zoneFormatter } from './zone.ts';

/** True when the platform knows the zone by this IANA name. */
export function knownZone(timeZone: string): boolean {
  try {
    zoneFormatter(timeZone);
    return true;
  } catch {
    return false;
  }
}

export const HorizonPoint = z.strictObject({
  azimuthDeg: within('deg', 0, 360, 'From north through east'),
  altitudeDeg: within('deg', -10, 90, 'Height of what hides the sky there'),
});
export type HorizonPoint = z.infer<typeof HorizonPoint>;

/** Points of a horizon at most: one every half degree. */
export const MOST_HORIZON_POINTS = 720;
export const Horizon = z
  .array(HorizonPoint)
  .max(MOST_HORIZON_POINTS)
  // measured from any side on, also across north; two points at one azimuth are a wall and keep their order
  .overwrite((points) => [...points].sort((a, b) => a.azimuthDeg - b.azimuthDeg));

export const Site = z.strictObject({
  latitudeDeg,
  longitudeDeg: within('deg', -180, 180, 'Longitude, east positive'),
  elevationM: quantity('m', 'Height above sea level').default(0),
  timeZone: z.string().max(64).refine(knownZone, 'not a time zone known by its IANA name, such as Europe/Vienna'),
  horizon: Horizon.optional(),
});
export type Site = z.infer<typeof Site>;

/** Share of the sky above an altitude that the horizon hides [0–1], by solid angle. */
export function hiddenShare(horizon: readonly HorizonPoint[] | undefined, aboveDeg: number): number {
  const limit = Math.sin((aboveDeg * Math.PI) / 180);
  let lost = 0;
  for (let az = 0; az < 360; az++) {
    const height = Math.sin((Math.max(aboveDeg, horizonAt(horizon, az)) * Math.PI) / 180);
    lost += (height - limit) / (1 - limit) / 360;
  }
  return lost;
}

/** Height of the horizon at an azimuth [deg]: linear between the points, around the circle; 0 without points. */
export function horizonAt(horizon: readonly HorizonPoint[] | undefined, azimuthDeg: number): number {
  if (!horizon || horizon.length === 0) return 0;
  const n = horizon.length;
  if (n === 1) return horizon[0]!.altitudeDeg;
  let after = horizon.findIndex((p) => p.azimuthDeg > azimuthDeg);
  if (after < 0) after = 0;
  const b = horizon[after]!;
  const a = horizon[(after + n - 1) % n]!;
  const span = after === 0 ? b.azimuthDeg + 360 - a.azimuthDeg : b.azimuthDeg - a.azimuthDeg;
  const along = (azimuthDeg - a.azimuthDeg + 360) % 360;
  if (span <= 0) return Math.max(a.altitudeDeg, b.altitudeDeg);
  return a.altitudeDeg + ((b.altitudeDeg - a.altitudeDeg) * along) / span;
}
