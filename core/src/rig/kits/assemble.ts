import { plateShiftMm } from '../glass.ts';
import type { BayerPattern, OffAxis, PlacedPart, RigBuild, TrainPart } from '../schemas.ts';
import { assumed, type MountKit, type SensorKit, type TubeKit } from './kit.ts';

/** What a person says about a new rig; the rest is typical for things of that kind. */
export interface RigChoices {
  mount: MountKit;
  tube: TubeKit;
  sensor: SensorKit;
  /** Colour cells, or null for a monochrome sensor. */
  bayer: BayerPattern | null;
  guider: 'none' | 'guide-scope' | 'off-axis';
  /** What holds the filters. */
  holder: 'none' | 'drawer' | 'wheel';
  /** Filters by slot, first slot first. */
  filters: readonly string[];
  dewHeater: boolean;
  cablesKg: number;
}

/** How far a typical value may be off, to either side; common practice, no source. */
export const SPREAD = {
  massShare: 0.15,
  placeMm: 20,
  saddleMm: 15,
  backFocusMm: 0,
  trainMm: 1,
  stepShare: 0.5,
} as const;
const GUIDE_SENSOR = { pixelUm: 2.9, widthPx: 1936, heightPx: 1096 } as const;
const LENGTHS = { wheel: 20, drawer: 21, offAxis: 16.5, camera: 95 } as const;

const round = (v: number, to = 10) => Math.round(v * to) / to;

interface Rider {
  name: string;
  kind: PlacedPart['kind'];
  massKg: number;
  x: number;
  y?: number;
  z: number;
  size: [lengthMm: number, widthMm: number];
}

/** A part at a typical place; both numbers say that they are assumed, and how far they may be off. */
const placed = (r: Rider): PlacedPart => ({
  name: r.name,
  kind: r.kind,
  massKg: round(r.massKg, 1000),
  xMm: round(r.x),
  yMm: round(r.y ?? 0),
  zMm: round(r.z),
  lengthMm: r.size[0],
  widthMm: r.size[1],
  massFrom: assumed(round(Math.max(0.05, SPREAD.massShare * r.massKg), 100)),
  placeFrom: assumed(SPREAD.placeMm),
});

/** Pieces from the corrector to the sensor, filled up with a spacer to what the corrector asks for. */
function trainOf(c: RigChoices): TrainPart[] {
  const holderMm = c.holder === 'wheel' ? LENGTHS.wheel : c.holder === 'drawer' ? LENGTHS.drawer : 0;
  const glassMm = c.holder === 'none' ? 0 : 2;
  const guiderMm = c.guider === 'off-axis' ? LENGTHS.offAxis : 0;
  const rest = holderMm + guiderMm + c.sensor.depthMm;
  // glass in the beam moves the focus back by about a third of its thickness
  const wanted = c.tube.backFocusMm === null ? rest : c.tube.backFocusMm + plateShiftMm(glassMm);
  const spacer = round(wanted - rest, 10);
  const from = assumed(SPREAD.trainMm);
  return [
    ...(c.tube.corrector
      ? [{ name: `${c.tube.corrector.name}, rear face`, lengthMm: 0, role: 'corrector' as const }]
      : []),
    // nobody has this spacer yet: it is the one that is missing
    ...(spacer > 0.05 ? [{ name: `spacer ${spacer} mm`, lengthMm: spacer, from }] : []),
    ...(guiderMm ? [{ name: 'off-axis guider body', lengthMm: guiderMm, guider: true, from }] : []),
    ...(holderMm
      ? [{ name: c.holder === 'wheel' ? 'filter wheel' : 'filter drawer', lengthMm: holderMm, glassMm, from }]
      : []),
    { name: 'camera, face to sensor', lengthMm: c.sensor.depthMm, role: 'camera' as const, from },
  ];
}

/** A guider beside a sensor this high: the prism just outside the light that reaches its long side. */
function offAxisOf(c: RigChoices): OffAxis {
  const halfHeight = (c.sensor.heightPx * c.sensor.pixelUm) / 2000;
  const behindPrismMm = 8;
  const toSensor =
    behindPrismMm +
    trainOf(c)
      .slice(trainOf(c).findIndex((t) => t.guider) + 1)
      .reduce((s, t) => s + t.lengthMm, 0);
  const cone = toSensor / (2 * (c.tube.focalLengthMm / c.tube.apertureMm));
  const holderMm = round(Math.max(10, toSensor - 12.5 - 3.5));
  return {
    prism: { widthMm: 8, depthMm: 8, angleDeg: 90, innerEdgeMm: round(halfHeight + cone + 0.3), glassMm: 0 },
    behindPrismMm,
    holderMm,
    spacersMm: 0,
    focuserMinMm: 0,
    focuserMaxMm: 7,
    cameraDepthMm: 12.5,
    camera: { ...GUIDE_SENSOR },
  };
}

/**
 * A whole rig from the kinds of its things: every part at a typical place, in balance order from the saddle outward.
 * Frame and units as everywhere in the balance: x along the declination axis away from the weights, z toward the sky.
 */
export function assembleRig(c: RigChoices, systemName = c.tube.label): RigBuild {
  const { tube, mount, sensor } = c;
  const axisX = mount.saddleMm + 25 + tube.widthMm / 2;
  const half = tube.lengthMm / 2;
  const rear = -half - 10;
  // a Newtonian's camera stands at the front, beside the tube; the others' behind it
  const side = tube.kind === 'newtonian';
  const cameraAt = side
    ? { x: axisX, y: tube.widthMm / 2 + 110, z: half - 0.18 * tube.lengthMm }
    : { x: axisX, y: 0, z: rear - 100 };
  const between = side ? { x: axisX, y: tube.widthMm / 2 + 60, z: cameraAt.z } : { x: axisX, y: 0, z: rear - 50 };
  const focuser = side ? { x: axisX, y: tube.widthMm / 2 + 25, z: cameraAt.z } : { x: axisX, y: 0, z: rear };
  const parts: Rider[] = [
    {
      name: tube.kind === 'lens' ? 'lens' : 'tube',
      kind: tube.kind === 'lens' ? 'lens' : 'tube',
      massKg: tube.massKg,
      x: axisX,
      z: tube.centreMm,
      size: [tube.lengthMm, tube.widthMm],
    },
    {
      name: 'rings and bar',
      kind: 'rings',
      massKg: tube.ringsKg,
      x: mount.saddleMm + 15,
      z: 0,
      size: [Math.max(120, Math.round(0.6 * tube.lengthMm)), 60],
    },
    { name: 'focuser', kind: 'focuser', massKg: tube.focuserKg, ...focuser, size: [90, 90] },
    ...(tube.corrector
      ? [
          {
            name: tube.corrector.name,
            kind: 'reducer' as const,
            massKg: tube.corrector.massKg,
            ...between,
            size: [60, 60] as [number, number],
          },
        ]
      : []),
    { name: 'camera', kind: 'camera', massKg: sensor.massKg, ...cameraAt, size: [LENGTHS.camera, 85] },
    ...(c.holder === 'none'
      ? []
      : [
          {
            name: c.holder === 'wheel' ? 'filter wheel' : 'filter drawer',
            kind: 'wheel' as const,
            massKg: c.holder === 'wheel' ? 0.7 : 0.2,
            ...between,
            size: [28, c.holder === 'wheel' ? 190 : 80] as [number, number],
          },
        ]),
    ...(c.guider === 'guide-scope'
      ? [
          {
            name: 'guide scope',
            kind: 'guide-scope' as const,
            massKg: 0.6,
            x: axisX + tube.widthMm / 2 + 45,
            z: 0,
            size: [190, 50] as [number, number],
          },
        ]
      : []),
    ...(c.guider === 'off-axis'
      ? [
          {
            name: 'off-axis guider',
            kind: 'guider-prism' as const,
            massKg: 0.35,
            ...between,
            z: between.z + (side ? 0 : 18),
            size: [20, 90] as [number, number],
          },
          {
            name: 'guide camera',
            kind: 'guide-camera' as const,
            massKg: 0.14,
            x: between.x + 60,
            y: between.y,
            z: between.z + (side ? 0 : 18),
            size: [70, 40] as [number, number],
          },
        ]
      : []),
    ...(c.dewHeater
      ? [
          {
            name: 'dew heater',
            kind: 'accessory' as const,
            massKg: 0.15,
            x: axisX,
            z: half - 40,
            size: [30, tube.widthMm] as [number, number],
          },
        ]
      : []),
    ...(c.cablesKg > 0
      ? [
          {
            name: 'cables and hub',
            kind: 'accessory' as const,
            massKg: c.cablesKg,
            x: axisX + tube.widthMm / 2 + 20,
            z: -0.2 * tube.lengthMm,
            size: [90, 60] as [number, number],
          },
        ]
      : []),
  ];
  const rings = parts[1]!.size[0];
  const stock = new Map<number, number>();
  for (const kg of mount.weightsKg) stock.set(kg, (stock.get(kg) ?? 0) + 1);
  const holds = c.holder !== 'none' && c.filters.length > 0;
  return {
    mount: { name: mount.label, drive: mount.drive, ratedLoadKg: mount.ratedLoadKg, from: assumed(0) },
    placed: parts.map(placed),
    counterweights: mount.weightsKg
      .slice(0, 1)
      .map((massKg) => ({ massKg, distanceMm: round((mount.shaftMm.min + mount.shaftMm.max) / 2) })),
    shaft: {
      massKg: mount.shaftKg,
      centreMm: round((mount.shaftMm.min + mount.shaftMm.max) / 2.4),
      minMm: mount.shaftMm.min,
      maxMm: mount.shaftMm.max,
      from: assumed(0),
    },
    slide: { minMm: -Math.round(rings / 3), maxMm: Math.round(rings / 3), markMm: 0 },
    saddle: {
      xMm: mount.saddleMm,
      marks: [
        { name: 'bar’s front end', zMm: Math.round(rings / 2) },
        { name: 'bar’s rear end', zMm: -Math.round(rings / 2) },
        { name: 'saddle’s middle', zMm: 0, fixed: true },
      ],
      from: assumed(SPREAD.saddleMm),
    },
    counterweightStock: [...stock].map(([massKg, count]) => ({ massKg, count })),
    trimPoints: [],
    trimStockKg: [],
    relocations: [],
    biasNm: 0,
    practice: false,
    note: '',
    systems: [
      {
        key: 'main',
        name: systemName.slice(0, 120),
        focalLengthMm: tube.focalLengthMm,
        apertureMm: tube.apertureMm,
        ...(tube.obstructionMm ? { obstructionMm: tube.obstructionMm } : {}),
        opticsFrom: { kind: 'documented' },
        camera: {
          name: `${c.bayer ? 'colour' : 'monochrome'} camera, ${sensor.label}`,
          pixelUm: sensor.pixelUm,
          widthPx: sensor.widthPx,
          heightPx: sensor.heightPx,
          angleDeg: 0,
          ...(c.bayer ? { bayer: c.bayer } : {}),
          from: { kind: 'documented' },
        },
        focuserStepUm: tube.focuserStepUm,
        focuserStepFrom: assumed(round(SPREAD.stepShare * tube.focuserStepUm, 100)),
        train: trainOf(c),
        ...(tube.backFocusMm === null
          ? {}
          : {
              corrector: {
                requiredMm: tube.backFocusMm,
                toleranceMm: tube.toleranceMm,
                imageCircleMm: tube.imageCircleMm,
                from: assumed(SPREAD.backFocusMm),
              },
            }),
        ...(c.guider === 'off-axis' ? { offAxis: offAxisOf(c) } : {}),
        ...(c.guider === 'guide-scope'
          ? { guideScope: { focalLengthMm: 200, apertureMm: 50, ...GUIDE_SENSOR, flexureArcsecPerMin: 0 } }
          : {}),
        variants: [],
        wheel: holds ? c.filters.map((filter, i) => ({ slot: i + 1, filter })) : [],
        overheads: {
          downloadS: 4,
          filterChangeS: c.holder === 'wheel' ? 6 : c.holder === 'drawer' ? 90 : 0,
          autofocusS: 180,
          ditherS: 15,
          slewCentreS: 120,
          flipS: 240,
          guideStartS: c.guider === 'none' ? 0 : 20,
        },
      },
    ],
  };
}
