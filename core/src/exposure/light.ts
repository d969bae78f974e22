import { z } from 'zod';
import { atLeastZero, define, explained, InvalidInput, positive, within } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

/** Photons of magnitude 0 near V [s⁻¹ cm⁻² nm⁻¹]; textbook, 1000 s⁻¹ cm⁻² Å⁻¹. */
export const PHOTONS_MAG_0 = 1.0e4;

const share = (d: string) => z.number().gt(0).max(1).meta({ description: d });
/** Telescope, filter and camera, as far as they decide how much light a pixel gets. */
export const instrument = {
  apertureMm: positive('mm', 'Clear aperture'),
  obstructionMm: atLeastZero('mm', 'Diameter of the obstruction').default(0),
  scaleArcsecPerPx: positive('″/px', 'Scale of the camera'),
  bandwidthNm: positive('nm', 'Width of the filter’s band'),
  quantumEfficiency: share('Quantum efficiency in that band'),
  transmission: share('Optics and filter').default(0.85),
};
export const surfaceMag = (d: string) => within('mag/arcsec²', -5, 40, d);

export const SkyLightInput = z.strictObject({
  skyMagArcsec2: surfaceMag('Brightness of the sky as it is seen'),
  ...instrument,
});
export type SkyLightInput = z.infer<typeof SkyLightInput>;
export type Instrument = Omit<SkyLightInput, 'skyMagArcsec2'>;
export const SkyLightOutput = z.strictObject({ electronsPerSPx: z.number(), ...explained });

/** Collecting area [cm²]. @throws InvalidInput where the obstruction fills the aperture */
export function areaCm2(i: Pick<Instrument, 'apertureMm' | 'obstructionMm'>): number {
  if (i.obstructionMm >= i.apertureMm)
    throw InvalidInput.at('obstructionMm', `must be smaller than the aperture of ${i.apertureMm} mm`);
  return (Math.PI / 4) * ((i.apertureMm / 10) ** 2 - (i.obstructionMm / 10) ** 2);
}

/** The brightness of a surface that gives a pixel so many electrons a second [mag/arcsec²]: the same the other way. */
export const surfaceMagOf = (i: Instrument, electronsPerSPx: number): number =>
  -2.5 * Math.log10(electronsPerSPx / surfaceElectrons(i, 0));

/** Electrons a second that a surface of this brightness gives a pixel; extinction is in the brightness. */
export const surfaceElectrons = (i: Instrument, magArcsec2: number): number =>
  PHOTONS_MAG_0 *
  10 ** (-0.4 * magArcsec2) *
  areaCm2(i) *
  i.bandwidthNm *
  i.quantumEfficiency *
  i.transmission *
  i.scaleArcsecPerPx ** 2;

export function skyLight(i: SkyLightInput): z.input<typeof SkyLightOutput> {
  const electronsPerSPx = surfaceElectrons(i, i.skyMagArcsec2);
  return {
    electronsPerSPx,
    working: [
      { label: 'Collecting area', formula: 'π/4·(D² − obstruction²)', value: areaCm2(i), unit: 'cm²' },
      {
        label: 'Sky in a pixel',
        formula: '10⁴·10^(−0.4 m)·A·Δλ·QE·T·scale²',
        value: electronsPerSPx,
        unit: 'e⁻/s',
        source: 'photometric zero point, textbook',
      },
    ],
    verdict: makeVerdict('good', phrase('exposure.sky', { perMinute: 60 * electronsPerSPx })),
  };
}

export const exposureSky = define({
  name: 'exposure.sky',
  summary: 'Electrons a second that the sky puts into a pixel through a filter',
  sources: ['Photometric zero point near V: textbook'],
  input: SkyLightInput,
  output: SkyLightOutput,
  compute: skyLight,
});
