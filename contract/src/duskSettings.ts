import { z } from 'zod';
import { PATTERNS } from '@keen/core/dither';
import { COOLER } from '@keen/core/setup';
import { byId, Id, none, versioned } from './common.ts';
import { route } from './route.ts';

const between = (min: number, max: number) => z.number().min(min).max(max);
const whole = (min: number, max: number) => z.int().min(min).max(max);

/** A second tube or lens on the same mount, with its camera and the screws that hold it. */
export const SecondTube = z.strictObject({
  name: z.string().trim().max(40).default('wide camera'),
  focalLengthMm: between(1, 20_000).default(135),
  pixelUm: between(0.5, 50).default(3.76),
  widthPx: whole(10, 50_000).default(6248),
  heightPx: whole(10, 50_000).default(4176),
  cameraAngleDeg: between(-360, 360).default(0),
  holder: z.enum(['plate', 'rings']).default('plate'),
  leverMm: between(1, 2000).default(60),
  pitchMm: between(0.05, 5).default(1),
  /** Where the star that is centred in the main picture stands in this one, from its centre. */
  rightPx: between(-50_000, 50_000).default(0),
  upPx: between(-50_000, 50_000).default(0),
  exposureS: between(0.1, 7200).default(120),
  downloadS: between(0, 600).default(4),
  /** Worth of its open shutter beside the main camera's. */
  weight: between(0, 100).default(1),
});
export type SecondTube = z.infer<typeof SecondTube>;

/** What a person told about a rig's evenings, beside the rig itself. Defaults are common values, no source. */
export const DuskSettings = z.strictObject({
  cooling: z
    .strictObject({
      ambientC: between(-60, 60).default(8),
      setPointC: between(-100, 40).default(-10),
      warmestNightC: between(-60, 60).default(22),
      deepestBelowAmbientC: between(1, 120).default(COOLER.deepestBelowAmbientC),
      ratePerMinC: between(0.05, 20).default(COOLER.ratePerMinC),
    })
    .prefault({}),
  guider: z
    .strictObject({
      /** Share of the sidereal rate; a dither moves at it too. */
      guideRate: between(0.01, 4).default(0.5),
      /** Way of a calibration; null: as the wanted angle asks. */
      travelPx: between(1, 500).nullable().default(null),
      /** Wanted accuracy of the camera's angle, and the noise of one star place. */
      angleErrorDeg: between(0.05, 10).default(0.5),
      centroidNoisePx: between(0.01, 5).default(0.2),
      steps: whole(1, 200).default(10),
      snr: between(1, 1000).default(20),
      fwhmArcsec: between(0.1, 60).default(3),
      frameS: between(0.1, 7200).default(300),
      seeingArcsec: between(0.1, 60).default(2.2),
      rmsArcsec: between(0, 60).default(0.5),
      /** Star where no framing has one pinned. */
      mag: between(-2, 20).default(10),
      /** 0: as advised. */
      exposureS: between(0, 60).default(0),
      binning: whole(1, 16).default(1),
    })
    .prefault({}),
  dither: z
    .strictObject({
      ditherPx: between(0.1, 1000).default(5),
      reference: z.enum(['finest', 'coarsest']).default('finest'),
      settlePx: between(0.01, 100).default(1),
      settleTimeS: between(0, 600).default(10),
      pattern: z.enum(PATTERNS).default('low-discrepancy'),
      order: z.enum(['rolling', 'block']).default('rolling'),
      /** 0: once a round. */
      everyFrames: whole(0, 100).default(0),
      leadExposureS: between(0.1, 7200).default(180),
    })
    .prefault({}),
  second: SecondTube.nullable().default(null),
});
export type DuskSettings = z.infer<typeof DuskSettings>;

export const DuskSettingsRecord = z.strictObject({
  rigId: Id,
  settings: DuskSettings,
  /** Somebody kept them; otherwise they are what every rig begins with. */
  kept: z.boolean(),
  ...versioned,
});
export type DuskSettingsRecord = z.infer<typeof DuskSettingsRecord>;

export const duskSettingsRoutes = {
  duskSettings: route({
    method: 'get',
    path: '/api/rigs/:id/dusk-settings',
    summary: 'What was told about a rig’s evenings: cooler, guider, dither, second tube',
    area: 'Dusk',
    role: 'guest',
    params: byId,
    query: none,
    body: none,
    response: DuskSettingsRecord,
  }),
  keepDuskSettings: route({
    method: 'put',
    path: '/api/rigs/:id/dusk-settings',
    summary: 'Keep them for everybody who uses the rig',
    area: 'Dusk',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({
      settings: DuskSettings,
      version: z
        .int()
        .min(0)
        .max(1e9)
        .meta({ description: 'Version the change is based on; 0 while nothing was kept' }),
    }),
    response: DuskSettingsRecord,
  }),
};
