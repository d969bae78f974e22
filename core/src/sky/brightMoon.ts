import { brightness } from './brightness.ts';
import { moonDistanceDeg } from './catalogue.ts';
import { darkLeft } from './darkLeft.ts';
import type { NightOutput } from './night.ts';

/** From so much lit, and so long up in the dark hours, on the Moon decides what is taken; common practice, no source. */
const BRIGHT_FROM = 0.35;
const COUNTS_FROM_H = 1;

/** What a bright Moon leaves of a night. */
export interface BrightMoon {
  litShare: number;
  /** Dark hours with the Moon up, and without; once the dark has begun, those that are left. */
  moonlitHours: number;
  moonlessHours: number;
  begun: boolean;
  /** At so many degrees from it, how much brighter the sky is [mag], and how much longer the same depth takes where the sky decides. */
  away: { separationDeg: number; brighteningMag: number; timesAsLong: number }[];
  /** What the schools keep off it, tonight [deg]. */
  keepOff: { broadbandDeg: number; narrowbandDeg: number };
}

/**
 * What moonlight does to an object 30° from the zenith, the Moon 45° from it.
 * @param fromMs the moment from which hours count; null for a night as a whole
 * @returns null where the Moon hardly matters
 */
export function brightMoon(night: NightOutput, darkZenithMag: number, fromMs: number | null = null): BrightMoon | null {
  const { illumination, phaseAngleDeg } = night.moon;
  const { hours, moonlessHours, begun } = darkLeft(night, fromMs);
  const moonlitHours = hours - moonlessHours;
  if (illumination < BRIGHT_FROM || moonlitHours < COUNTS_FROM_H) return null;
  const away = [60, 90, 120].map((separationDeg) => {
    const { brighteningMag } = brightness({
      moonPhaseAngleDeg: phaseAngleDeg,
      moonSeparationDeg: separationDeg,
      moonZenithDeg: 45,
      targetZenithDeg: 30,
      extinction: 0.172,
      darkZenithMag,
    });
    return { separationDeg, brighteningMag, timesAsLong: 10 ** (0.4 * brighteningMag) };
  });
  return {
    litShare: illumination,
    moonlitHours,
    moonlessHours,
    begun,
    away,
    keepOff: {
      broadbandDeg: moonDistanceDeg('broadband', illumination),
      narrowbandDeg: moonDistanceDeg('narrowband', illumination),
    },
  };
}
