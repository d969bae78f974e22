import { z } from 'zod';
import { define, explained, within } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';
import { RAD } from '../quantities/index.ts';

const degrees = (most: number, d: string) => within('deg', 0, most, d);
export const BrightnessInput = z.strictObject({
  moonPhaseAngleDeg: within('deg', -180, 180, 'Phase angle of the Moon, 0 when full; either sign'),
  moonSeparationDeg: degrees(180, 'From the Moon to the object'),
  moonZenithDeg: degrees(180, 'Zenith distance of the Moon'),
  targetZenithDeg: within('deg', 0, 89.9, 'Zenith distance of the object'),
  extinction: within('mag', 0, 5, 'Extinction per airmass').default(0.172),
  darkZenithMag: within('mag/arcsec²', 10, 25, 'Zenith of a moonless night').default(21.587),
});
export type BrightnessInput = z.infer<typeof BrightnessInput>;
export const BrightnessOutput = z.strictObject({
  moonNl: z.number(),
  darkNl: z.number(),
  skyMag: z.number(),
  brighteningMag: z.number(),
  ...explained,
});

/** Nanolamberts of a surface brightness in V, and back. */
const nanolamberts = (mag: number) => 34.08 * Math.exp(20.7233 - 0.92104 * mag);
const magOf = (nl: number) => (20.7233 - Math.log(nl / 34.08)) / 0.92104;
/** Air a ray comes through, gentle towards the horizon. */
const path = (zenithDeg: number) => (1 - 0.96 * Math.sin(zenithDeg * RAD) ** 2) ** -0.5;

/** Moonlight scattered at an angle from the Moon: by air (Rayleigh) and by haze (Mie), by an empirical law inside 10°. */
function scattered(separationDeg: number): number {
  const rho = Math.max(separationDeg, NEAREST_DEG);
  const air = 10 ** 5.36 * (1.06 + Math.cos(rho * RAD) ** 2);
  return air + (rho >= 10 ? 10 ** (6.15 - rho / 40) : 6.2e7 / rho ** 2);
}
/** Inside the Moon's disk the law has no meaning. */
const NEAREST_DEG = 0.25;

/**
 * Brightness of the sky beside the Moon. Source: Krisciunas & Schaefer 1991, PASP 103, 1033, without the opposition surge;
 * and held at its value a quarter of a degree from the Moon’s middle inside that. How good it is was not tried here.
 */
export function brightness(i: BrightnessInput): z.input<typeof BrightnessOutput> {
  const k = i.extinction;
  const x = path(i.targetZenithDeg);
  const darkNl = nanolamberts(i.darkZenithMag) * 10 ** (-0.4 * k * (x - 1)) * x;
  const alpha = Math.abs(i.moonPhaseAngleDeg);
  const light = 10 ** (-0.4 * (3.84 + 0.026 * alpha + 4e-9 * alpha ** 4));
  const moonNl =
    i.moonZenithDeg >= 90
      ? 0
      : scattered(i.moonSeparationDeg) * light * 10 ** (-0.4 * k * path(i.moonZenithDeg)) * (1 - 10 ** (-0.4 * k * x));
  const skyMag = magOf(moonNl + darkNl);
  const brighteningMag = 2.5 * Math.log10(1 + moonNl / darkNl);
  return {
    moonNl,
    darkNl,
    skyMag,
    brighteningMag,
    working: [
      { label: 'Dark sky there', formula: 'B(zenith)·10^(−0.4k(X − 1))·X', value: darkNl, unit: 'nL' },
      {
        label: 'Moonlight there',
        formula: 'f(ρ)·I*·10^(−0.4kX☾)·(1 − 10^(−0.4kX))',
        value: moonNl,
        unit: 'nL',
        source: 'Krisciunas & Schaefer 1991',
      },
      { label: 'Sky', formula: '(20.7233 − ln(B/34.08))/0.92104', value: skyMag, unit: 'mag/arcsec²' },
    ],
    verdict:
      moonNl === 0
        ? makeVerdict('good', phrase('sky.moon-down', { skyMag }))
        : makeVerdict(brighteningMag > 1 ? 'caution' : 'good', phrase('sky.moonlight', { skyMag, brighteningMag })),
  };
}

export const skyBrightness = define({
  name: 'sky.brightness',
  summary: 'Brightness of the sky beside the Moon',
  sources: ['Krisciunas & Schaefer 1991, PASP 103, 1033'],
  input: BrightnessInput,
  output: BrightnessOutput,
  compute: brightness,
});
