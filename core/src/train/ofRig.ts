import { parseInput, type SpokenVerdict } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';
import { GLASS_INDEX, plateShiftMm } from '../rig/index.ts';
import type { Corrector, Face, Part, RigSetup, TrainPart, Variant } from '../rig/index.ts';
import type { Mosaic } from '../sky/index.ts';
import type { z } from 'zod';
import { backfocus, BackfocusInput, type BackfocusOutput } from './backfocus.ts';
import type { ConfigurationsInput } from './configurations.ts';
import { guidePath, type GuidePathInput } from './guidePath.ts';
import type { PrismInput } from './prism.ts';
import { pathShiftMm, type PathPart } from './schemas.ts';
import { stretchOf, type Stretch } from './stretch.ts';

/** What the train calculations take, for a rig as it stands. */

export const pathPart = (p: TrainPart): PathPart => ({
  name: p.name,
  lengthMm: p.lengthMm,
  ...(p.measuredMm === undefined ? {} : { measuredMm: p.measuredMm }),
  ...(p.use === undefined || (p.use === 'measured' && p.measuredMm === undefined) ? {} : { use: p.use }),
  ...(p.glassMm ? { glass: { thicknessMm: p.glassMm, refractiveIndex: p.glassIndex ?? GLASS_INDEX } } : {}),
});

/** Null while nobody has said what the corrector asks for. */
const backfocusInputOf = (setup: Pick<RigSetup, 'corrector'>, counted: readonly TrainPart[]): BackfocusInput | null =>
  setup.corrector
    ? { requiredMm: setup.corrector.requiredMm, toleranceMm: setup.corrector.toleranceMm, parts: counted.map(pathPart) }
    : null;

/** A train's distance as a person is told it: the arithmetic, and what it rests on. */
export interface TrainDistance {
  result: BackfocusOutput;
  stretch: Stretch;
  /** Never better than what it rests on: what is assumed, not asked yet or left out is named. */
  verdict: SpokenVerdict;
}

/** Null while nobody has said what the corrector asks for. Lengths that are only assumed keep it from being good. */
export function trainDistance(
  setup: Pick<RigSetup, 'corrector' | 'train'>,
  train: readonly TrainPart[] = setup.train,
): TrainDistance | null {
  const stretch = stretchOf(train);
  const input = backfocusInputOf(setup, stretch.counted);
  if (!input) return null;
  const result = backfocus(parseInput(BackfocusInput, input));
  const assumed = stretch.counted
    .filter((p) => p.from?.kind === 'assumed' && p.measuredMm === undefined)
    .map((p) => p.name);
  const doubts = [
    ...stretch.asked.map((a) =>
      phrase(a.as === 'corrector' ? 'train.is-corrector' : 'train.is-camera', { name: a.name }),
    ),
    ...(stretch.behind.length
      ? [phrase('train.behind-sensor', { names: stretch.behind.map((p) => p.name).join(', ') })]
      : []),
    ...(setup.corrector!.from?.kind === 'assumed'
      ? [phrase('train.assumed-distance', { requiredMm: input.requiredMm })]
      : []),
    ...(assumed.length ? [phrase('train.assumed', { names: assumed.join(', ') })] : []),
  ];
  const { level, phrases } = result.verdict;
  if (doubts.length === 0) return { result, stretch, verdict: result.verdict };
  return { result, stretch, verdict: makeVerdict(level === 'good' ? 'caution' : level, ...phrases, ...doubts) };
}

/** Place of the guider's body in the train, −1 without one. */
export const guiderAt = (setup: Pick<RigSetup, 'train'>): number => setup.train.findIndex((p) => p.guider);
/** A tip-tilt plate behind the guider's prism: the guide camera does not see what it does. */
export const tiltsUnseen = (setup: Pick<RigSetup, 'train'>): string | null => {
  const at = guiderAt(setup);
  return setup.train.find((p, i) => p.tilts && at >= 0 && i > at)?.name ?? null;
};
/** From the guider's rear face to the sensor. */
const behindGuider = (setup: Pick<RigSetup, 'train'>): TrainPart[] => {
  const { behind } = stretchOf(setup.train);
  return setup.train.slice(guiderAt(setup) + 1, setup.train.length - behind.length);
};

/** Null without an off-axis guider. */
export function guidePathInputOf(setup: RigSetup): GuidePathInput | null {
  const g = setup.offAxis;
  const at = guiderAt(setup);
  if (!g || at < 0) return null;
  return {
    afterPrism: [{ name: 'guider, behind the prism', lengthMm: g.behindPrismMm }, ...behindGuider(setup).map(pathPart)],
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
  const now = pathShiftMm(behindGuider(setup).map(pathPart));
  return plateShiftMm(otherGlassMm) - now;
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
 * A train without its loose pieces, cut for the search: what stays before the guider, and what is common from the guider
 * to the sensor. Without a guider all of it is common; spacers go behind the corrector and before the camera.
 * @returns after: how many of the common pieces stand before the common spacers
 */
export function cutForSearch(train: readonly TrainPart[], isLoose: (p: TrainPart) => boolean) {
  const { before, counted } = stretchOf(train);
  const at = counted.findIndex((p) => p.guider);
  const stays = (list: TrainPart[]) => list.filter((p) => !isLoose(p));
  const [front, common] = at < 0 ? [[], stays(counted)] : [stays(counted.slice(0, at)), stays(counted.slice(at))];
  const after = at < 0 ? Math.max(0, common.length - 1) : Math.min(1, common.length);
  return { front, common, after, hasGuider: at >= 0, rear: before.at(-1)?.rear };
}

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
  const isLoose = (p: TrainPart) => loose.has(p.name);
  const { front, common, after, hasGuider, rear } = cutForSearch(setup.train, isLoose);
  const g = setup.offAxis;
  const configuration = (name: string, corrector: Corrector, pieces: readonly TrainPart[], its: Face | undefined) => ({
    name,
    requiredMm: corrector.requiredMm,
    toleranceMm: corrector.toleranceMm,
    ...(its ? { corrector: its } : {}),
    front: pieces.map(face),
  });
  return {
    configurations: [
      configuration('as it stands', setup.corrector, front, rear),
      ...(setup.variants ?? []).map((v: Variant) => {
        const its = stretchOf(v.front);
        return configuration(
          v.name,
          v.corrector,
          its.counted.filter((p) => !isLoose(p)),
          its.before.at(-1)?.rear,
        );
      }),
    ],
    common: common.map(face),
    spaceAfter: after,
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
    // with the camera alone both places are one
    ...(after === 0 ? { maxCommonPieces: 0 } : {}),
    stock: spacerStock(drawer),
  };
}
