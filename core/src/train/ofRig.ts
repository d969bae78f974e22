import type { Part, RigSetup, TrainPart, Variant } from '../rig/index.ts';
import type { Mosaic } from '../sky/index.ts';
import type { z } from 'zod';
import type { BackfocusInput } from './backfocus.ts';
import type { ConfigurationsInput } from './configurations.ts';
import { guidePath, type GuidePathInput } from './guidePath.ts';
import type { PrismInput } from './prism.ts';
import { GLASS_INDEX, lengthOf, pathShiftMm, type PathPart } from './schemas.ts';

/** What the train calculations take, for a rig as it stands. */

export const pathPart = (p: TrainPart): PathPart => ({
  name: p.name,
  lengthMm: p.lengthMm,
  ...(p.measuredMm === undefined ? {} : { measuredMm: p.measuredMm }),
  ...(p.use === undefined || (p.use === 'measured' && p.measuredMm === undefined) ? {} : { use: p.use }),
  ...(p.glassMm ? { glass: { thicknessMm: p.glassMm, refractiveIndex: p.glassIndex ?? GLASS_INDEX } } : {}),
});
export const trainLength = (p: TrainPart): number => lengthOf(pathPart(p));

/** Null while nobody has said what the corrector asks for. */
export const backfocusInputOf = (setup: RigSetup, train: readonly TrainPart[] = setup.train): BackfocusInput | null =>
  setup.corrector
    ? { requiredMm: setup.corrector.requiredMm, toleranceMm: setup.corrector.toleranceMm, parts: train.map(pathPart) }
    : null;

/** Place of the guider's body in the train, −1 without one. */
export const guiderAt = (setup: RigSetup): number => setup.train.findIndex((p) => p.guider);

/** Null without an off-axis guider. */
export function guidePathInputOf(setup: RigSetup): GuidePathInput | null {
  const g = setup.offAxis;
  const at = guiderAt(setup);
  if (!g || at < 0) return null;
  return {
    afterPrism: [
      { name: 'guider, behind the prism', lengthMm: g.behindPrismMm },
      ...setup.train.slice(at + 1).map(pathPart),
    ],
    guide: {
      holderMm: g.holderMm,
      spacersMm: g.spacersMm,
      focuserMinMm: g.focuserMinMm,
      focuserMaxMm: g.focuserMaxMm,
      cameraDepthMm: g.cameraDepthMm,
      ...(g.prism.glassMm ? { glass: { thicknessMm: g.prism.glassMm, refractiveIndex: GLASS_INDEX } } : {}),
    },
  };
}

/** How far the main focus moves when the glass behind the guider is exchanged for so many millimetres [mm, backward positive]. */
export function filterShiftMm(setup: RigSetup, otherGlassMm: number): number {
  const now = pathShiftMm(setup.train.slice(guiderAt(setup) + 1).map(pathPart));
  return otherGlassMm * (1 - 1 / GLASS_INDEX) - now;
}

/** The mosaic a framing makes with this system: what `panelsOf` and `panelAt` ask for. */
export const mosaicOf = <
  F extends { raDeg: number; decDeg: number; angleDeg: number; columns: number; rows: number; overlap: number },
>(
  { raDeg, decDeg, angleDeg, columns, rows, overlap }: F,
  setup: Pick<RigSetup, 'camera' | 'focalLengthMm'>,
): Mosaic => {
  const { widthMm: width, heightMm: height } = sensorOf(setup.camera);
  return {
    raDeg,
    decDeg,
    angleDeg,
    columns,
    rows,
    overlap,
    focalLengthMm: setup.focalLengthMm,
    sensorMm: { width, height },
  };
};

export const sensorOf = (c: { pixelUm: number; widthPx: number; heightPx: number }) => ({
  widthMm: (c.widthPx * c.pixelUm) / 1000,
  heightMm: (c.heightPx * c.pixelUm) / 1000,
});

/**
 * @param pupil 'far' takes the light as telecentric, 'objective' puts the exit pupil a focal length away, as it is for bare
 * objectives and mirrors
 */
export function prismInputOf(setup: RigSetup, pupil: 'far' | 'objective' = 'far'): PrismInput | null {
  const path = guidePathInputOf(setup);
  const g = setup.offAxis;
  if (!g || !path) return null;
  const { opticalPathMm } = guidePath(path);
  if (!(opticalPathMm > 0)) return null;
  const { glassMm: _g, ...prism } = g.prism;
  return {
    sensor: sensorOf(setup.camera),
    imageCircleMm: setup.corrector?.imageCircleMm ?? 44,
    focalRatio: setup.focalLengthMm / setup.apertureMm,
    focalLengthMm: setup.focalLengthMm,
    ...(pupil === 'objective' ? { exitPupilMm: setup.focalLengthMm } : {}),
    prism,
    prismToSensorMm: opticalPathMm,
    guideSensor: sensorOf(g.camera),
  };
}

type Stock = Pick<Part, 'name' | 'kind' | 'lengthMm' | 'measuredMm' | 'count' | 'front' | 'rear'>;
const face = (p: TrainPart) => ({
  ...pathPart(p),
  ...(p.front ? { front: p.front } : {}),
  ...(p.rear ? { rear: p.rear } : {}),
});

/** Spacers of the drawer: adapters with a length. */
export const spacerStock = (parts: readonly Stock[]): ConfigurationsInput['stock'] =>
  parts
    .filter((p) => p.kind === 'adapter' && p.lengthMm !== undefined && p.count > 0)
    .slice(0, 60)
    .map((p) => ({
      id: p.name,
      lengthMm: p.measuredMm ?? p.lengthMm!,
      count: Math.min(20, p.count),
      ...(p.front ? { a: p.front } : {}),
      ...(p.rear ? { b: p.rear } : {}),
    }));

/**
 * The search over all configurations: loose spacers of the present train go back into the drawer first, the rest stays.
 * @param loose names of pieces that may be taken out
 */
export function configurationsInputOf(
  setup: RigSetup,
  drawer: readonly Stock[],
  loose: ReadonlySet<string>,
): z.input<typeof import('./configurations.ts').ConfigurationsInput> | null {
  if (!setup.corrector) return null;
  const at = Math.max(0, guiderAt(setup));
  const hasGuider = guiderAt(setup) >= 0;
  const fixed = (list: readonly TrainPart[]) => list.filter((p) => !loose.has(p.name)).map(face);
  const common = hasGuider ? fixed(setup.train.slice(at)) : fixed(setup.train);
  const front = hasGuider ? setup.train.slice(0, at) : [];
  const g = setup.offAxis;
  const configuration = (name: string, requiredMm: number, toleranceMm: number, pieces: readonly TrainPart[]) => ({
    name,
    requiredMm,
    toleranceMm,
    front: fixed(pieces),
  });
  return {
    configurations: [
      configuration('as it stands', setup.corrector.requiredMm, setup.corrector.toleranceMm, front),
      ...(setup.variants ?? []).map((v: Variant) =>
        configuration(v.name, v.corrector.requiredMm, v.corrector.toleranceMm, v.front),
      ),
    ],
    common,
    spaceAfter: Math.min(1, common.length),
    ...(g && hasGuider
      ? {
          guide: {
            behindPrismMm: g.behindPrismMm,
            minMm: g.holderMm + g.spacersMm + g.focuserMinMm + g.cameraDepthMm,
            maxMm: g.holderMm + g.spacersMm + g.focuserMaxMm + g.cameraDepthMm,
            glassMm: g.prism.glassMm,
          },
        }
      : {}),
    stock: spacerStock(drawer),
  };
}
