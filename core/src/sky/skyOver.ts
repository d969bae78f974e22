import { brightness } from './brightness.ts';

interface TrackPoint {
  time: string;
  altitudeDeg: number;
  moonAltitudeDeg: number;
  moonSeparationDeg: number;
}
export interface SkyOver {
  /** Without the Moon, at the object's mean height in its windows [mag/arcsec²]. */
  darkMag: number;
  /** With the Moon as it stands in them: the mean of the light, not of the magnitudes. */
  withMoonMag: number;
  brighteningMag: number;
  /** Share of the windows with the Moon above the horizon. */
  moonShare: number;
}

/**
 * The sky that lies over an object in the hours it can be worked, with this night's Moon.
 * @param darkZenithMag zenith of a moonless night at the site
 * @returns null where no point of the track lies in a window
 */
export function skyOver(
  track: readonly TrackPoint[],
  windows: readonly { start: string; end: string }[],
  moonPhaseAngleDeg: number,
  darkZenithMag: number,
): SkyOver | null {
  const inside = track.filter((p) => p.altitudeDeg > 0.5 && windows.some((w) => p.time >= w.start && p.time <= w.end));
  if (inside.length === 0) return null;
  const there = inside.map((p) =>
    brightness({
      moonPhaseAngleDeg,
      moonSeparationDeg: p.moonSeparationDeg,
      moonZenithDeg: 90 - p.moonAltitudeDeg,
      targetZenithDeg: 90 - p.altitudeDeg,
      extinction: 0.172,
      darkZenithMag,
    }),
  );
  const mean = (of: (b: (typeof there)[number]) => number) => there.reduce((s, b) => s + of(b), 0) / there.length;
  const [darkNl, moonNl] = [mean((b) => b.darkNl), mean((b) => b.moonNl)];
  const magOf = (nl: number) => there[0]!.skyMag - 2.5 * Math.log10(nl / (there[0]!.darkNl + there[0]!.moonNl));
  return {
    darkMag: magOf(darkNl),
    withMoonMag: magOf(darkNl + moonNl),
    brighteningMag: 2.5 * Math.log10(1 + moonNl / darkNl),
    moonShare: inside.filter((p) => p.moonAltitudeDeg > 0).length / inside.length,
  };
}
