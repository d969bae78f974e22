import { buildOf, viewOf, type PlacedPart, type RigBuild, type RigSetup } from '@keen/core/rig';
import type { DemoSite } from './sites.ts';
import { M42, M48, M54, M68 } from './threads.ts';

export interface DemoRig {
  key: 'refractor' | 'astrograph' | 'newtonian';
  name: string;
  site: DemoSite['key'];
  build: RigBuild;
  /** Seen through its first system. */
  setup: RigSetup;
}

type Kind = PlacedPart['kind'];
const at = (
  name: string,
  kind: Kind,
  massKg: number,
  [xMm, yMm, zMm]: [number, number, number],
  [lengthMm, widthMm]: [number, number],
): PlacedPart => ({ name, kind, massKg, xMm, yMm, zMm, lengthMm, widthMm });

const wheel = (...filters: string[]) => filters.map((filter, i) => ({ slot: i + 1, filter }));

const overheads = {
  downloadS: 4,
  filterChangeS: 6,
  autofocusS: 180,
  ditherS: 14,
  slewCentreS: 120,
  flipS: 260,
  guideStartS: 20,
};

const refractor: RigSetup = {
  focalLengthMm: 840,
  apertureMm: 120,
  camera: { name: 'cooled mono camera, 3.76 µm', pixelUm: 3.76, widthPx: 6248, heightPx: 4176, angleDeg: 0 },
  focuserStepUm: 2.4,
  mount: { name: 'worm mount, 18 kg', drive: 'worm', ratedLoadKg: 18, wormPeriodS: 480 },
  placed: [
    at('120 mm f/7 triplet', 'tube', 5.2, [168, 0, 60], [560, 140]),
    at('rings and bar', 'rings', 1.3, [112, 0, 0], [330, 60]),
    at('focuser', 'focuser', 1.1, [168, 0, -262], [120, 100]),
    at('7-slot wheel', 'wheel', 0.8, [168, 0, -346], [28, 190]),
    at('main camera', 'camera', 0.7, [168, 0, -392], [95, 85]),
    at('guide scope', 'guide-scope', 0.65, [268, 0, 20], [210, 55]),
  ],
  counterweights: [{ massKg: 5, distanceMm: 262 }],
  shaft: { massKg: 1.1, centreMm: 150, minMm: 85, maxMm: 330 },
  slide: { minMm: -95, maxMm: 110, markMm: 124 },
  counterweightStock: [
    { massKg: 5, count: 1 },
    { massKg: 2.5, count: 1 },
    { massKg: 1, count: 1 },
  ],
  trimPoints: [
    { name: 'bar, rear left', xMm: 112, yMm: -48, zMm: -120, maxMassKg: 1 },
    { name: 'bar, rear right', xMm: 112, yMm: 48, zMm: -120, maxMassKg: 1 },
  ],
  trimStockKg: [0.25, 0.25, 0.5],
  train: [
    { name: 'flattener, rear face', lengthMm: 0, role: 'corrector', rear: M48.male },
    { name: 'M48 spacer 16.5 mm', lengthMm: 16.5, front: M48.female, rear: M48.male },
    {
      name: '7-slot wheel',
      lengthMm: 20,
      measuredMm: 20.2,
      measuredBy: 'Teun',
      glassMm: 2,
      front: M48.female,
      rear: M42.male,
    },
    {
      name: 'camera, face to sensor',
      role: 'camera',
      lengthMm: 17.5,
      measuredMm: 17.4,
      measuredBy: 'Teun',
      front: M42.female,
    },
  ],
  corrector: { requiredMm: 55, toleranceMm: 0.5, imageCircleMm: 44 },
  guideScope: {
    focalLengthMm: 240,
    apertureMm: 60,
    pixelUm: 2.9,
    widthPx: 1936,
    heightPx: 1096,
    quantumEfficiency: 0.78,
    readNoiseE: 1.2,
    fullWellE: 14_600,
    flexureArcsecPerMin: 0.06,
  },
  focuserReach: { focalPlaneBehindFocuserMm: 142, travelMm: 80, marginMm: 2, beforeTrainMm: 38, rings: [25, 15] },
  relocations: [
    {
      mass: 'guide scope',
      to: [
        { name: 'over the tail', xMm: 268, yMm: 0, zMm: -140 },
        { name: 'over the nose', xMm: 268, yMm: 0, zMm: 160 },
      ],
    },
  ],
  biasNm: 0,
  practice: false,
  variants: [],
  wheel: wheel('L', 'R', 'G', 'B', 'Ha', 'OIII', 'SII'),
  overheads,
  note: 'Sets up on the paving in the yard; three marks for the tripod feet.',
};

const astrograph: RigSetup = {
  focalLengthMm: 1600,
  apertureMm: 200,
  obstructionMm: 72,
  camera: { name: 'cooled mono camera, 3.76 µm', pixelUm: 3.76, widthPx: 6248, heightPx: 4176, angleDeg: 90 },
  focuserStepUm: 3.1,
  mount: { name: 'dome mount, 40 kg', drive: 'worm', ratedLoadKg: 40, wormPeriodS: 239, pastMeridianDeg: 12 },
  rotator: { afterFlip: 'turn', reachDeg: 180 },
  supply: { switched: true, closesBelowV: 11.8, battery: null },
  placed: [
    at('200 mm f/8 astrograph', 'tube', 8.6, [205, 0, 42], [600, 245]),
    at('rings and bar', 'rings', 2.1, [138, 0, 0], [420, 75]),
    at('focuser', 'focuser', 1.3, [205, 0, -292], [90, 110]),
    at('off-axis guider', 'guider-prism', 0.42, [205, 0, -346], [30, 90]),
    at('7-slot wheel, turned left', 'wheel', 1.1, [205, 52, -374], [26, 210]),
    at('main camera', 'camera', 0.9, [205, 0, -426], [105, 95]),
    at('guide camera', 'guide-camera', 0.14, [205, -62, -346], [30, 40]),
    at('dew controller', 'accessory', 0.35, [138, 60, -120], [110, 45]),
  ],
  counterweights: [
    { massKg: 5, distanceMm: 238 },
    { massKg: 5, distanceMm: 238 },
  ],
  shaft: { massKg: 2.2, centreMm: 160, minMm: 110, maxMm: 380 },
  slide: { minMm: -90, maxMm: 120, markMm: 147 },
  counterweightStock: [
    { massKg: 5, count: 3 },
    { massKg: 2, count: 1 },
  ],
  trimPoints: [
    { name: 'bar, rear left', xMm: 138, yMm: 70, zMm: -150, maxMassKg: 1.5 },
    { name: 'bar, rear right', xMm: 138, yMm: -70, zMm: -150, maxMassKg: 1.5 },
    { name: 'front ring, right', xMm: 205, yMm: -150, zMm: 150, maxMassKg: 1 },
  ],
  trimStockKg: [],
  train: [
    { name: 'corrector, rear face', lengthMm: 0, role: 'corrector', rear: M68.male },
    { name: 'M68 to M54 adapter', lengthMm: 12.5, front: M68.female, rear: M54.male },
    { name: 'M54 spacer 30 mm', lengthMm: 30, front: M54.female, rear: M54.male },
    {
      name: 'off-axis guider body',
      lengthMm: 29,
      measuredMm: 29.1,
      measuredBy: 'Odalys',
      front: M54.female,
      rear: M54.male,
      guider: true,
    },
    {
      name: '7-slot wheel',
      lengthMm: 20,
      measuredMm: 20.1,
      measuredBy: 'Odalys',
      glassMm: 3,
      front: M54.female,
      rear: M54.male,
    },
    { name: 'camera, face to sensor', role: 'camera', lengthMm: 12.5, front: M54.female },
  ],
  corrector: { requiredMm: 105, toleranceMm: 1, imageCircleMm: 52 },
  offAxis: {
    prism: { widthMm: 12, depthMm: 12, angleDeg: 90, innerEdgeMm: 9, glassMm: 0 },
    behindPrismMm: 13.5,
    holderMm: 24,
    spacersMm: 0,
    focuserMinMm: 0,
    focuserMaxMm: 7,
    cameraDepthMm: 12.5,
    camera: {
      pixelUm: 2.9,
      widthPx: 1936,
      heightPx: 1096,
      quantumEfficiency: 0.78,
      readNoiseE: 1.2,
      fullWellE: 14_600,
    },
    turnsAlone: true,
  },
  focuserReach: { focalPlaneBehindFocuserMm: 210, travelMm: 60, marginMm: 2, beforeTrainMm: 46, rings: [30, 20] },
  relocations: [
    {
      mass: 'dew controller',
      to: [
        { name: 'bar, front right', xMm: 138, yMm: -60, zMm: 140 },
        { name: 'bar, rear right', xMm: 138, yMm: -60, zMm: -120 },
      ],
    },
    { mass: '7-slot wheel, turned left', to: [{ name: 'turned below', xMm: 153, yMm: 0, zMm: -374 }] },
  ],
  biasNm: 0,
  practice: false,
  variants: [
    {
      name: 'with the 0.7× reducer',
      focalLengthMm: 1120,
      corrector: {
        requiredMm: 85,
        toleranceMm: 0.6,
        imageCircleMm: 36,
        reducer: { designFactor: 0.7, designSpacingMm: 85, nativeFocalLengthMm: 1600 },
      },
      front: [{ name: '0.7× reducer, rear face', lengthMm: 0, role: 'corrector', rear: M54.male }],
      without: [],
      extra: [at('0.7× reducer', 'reducer', 0.62, [205, 0, -330], [38, 75])],
    },
  ],
  wheel: wheel('L', 'R', 'G', 'B', 'Ha', 'OIII', 'blank'),
  overheads: { ...overheads, filterChangeS: 8, autofocusS: 210, flipS: 300 },
  note: 'Shared. The 0.7× reducer is in the drawer; taking it on makes another train state.',
};

const newtonianPlaced = [
  at('250 mm f/4 Newtonian', 'tube', 13.8, [240, 0, 70], [980, 300]),
  at('rings and long bar', 'rings', 3.2, [150, 0, 0], [560, 90]),
  at('focuser and corrector', 'focuser', 1.5, [240, 178, 430], [90, 70]),
  at('wheel and main camera', 'camera', 1.7, [240, 246, 430], [120, 70]),
  at('135 mm lens with camera', 'lens', 2.3, [150, -205, 150], [240, 90]),
];

const newtonian: RigSetup = {
  focalLengthMm: 1000,
  apertureMm: 250,
  camera: { name: 'cooled mono camera, 3.76 µm', pixelUm: 3.76, widthPx: 9576, heightPx: 6388, angleDeg: 12 },
  focuserStepUm: 1.5,
  mount: { name: 'ridge mount, 50 kg', drive: 'direct', ratedLoadKg: 50 },
  placed: newtonianPlaced,
  counterweights: [
    { massKg: 10, distanceMm: 260 },
    { massKg: 7, distanceMm: 260 },
  ],
  shaft: { massKg: 3.1, centreMm: 190, minMm: 130, maxMm: 430 },
  slide: { minMm: -140, maxMm: 60, markMm: 210 },
  counterweightStock: [
    { massKg: 10, count: 1 },
    { massKg: 7, count: 1 },
    { massKg: 3, count: 1 },
  ],
  trimPoints: [
    { name: 'rear ring, far side', xMm: 240, yMm: -190, zMm: -160, maxMassKg: 2 },
    { name: 'front ring, far side', xMm: 240, yMm: -190, zMm: 180, maxMassKg: 2 },
  ],
  trimStockKg: [],
  train: [
    { name: 'corrector, rear face', lengthMm: 0, role: 'corrector', rear: M54.male },
    { name: 'M54 spacer 17.5 mm', lengthMm: 17.5, front: M54.female, rear: M54.male },
    { name: 'wheel', lengthMm: 20, glassMm: 2, front: M54.female, rear: M54.male },
    { name: 'camera, face to sensor', role: 'camera', lengthMm: 17.5, front: M54.female },
  ],
  corrector: { requiredMm: 55, toleranceMm: 0.5, imageCircleMm: 48 },
  guideScope: { focalLengthMm: 320, pixelUm: 3.75, flexureArcsecPerMin: 0.03 },
  focuserReach: { focalPlaneBehindFocuserMm: 96, travelMm: 48, marginMm: 2, beforeTrainMm: 22, rings: [] },
  relocations: [],
  biasNm: 0,
  practice: false,
  variants: [],
  wheel: wheel('L', 'R', 'G', 'B', 'Ha', 'OIII', 'SII'),
  overheads: { ...overheads, slewCentreS: 90, autofocusS: 150, flipS: 240 },
  note: 'Remote. The 135 mm lens sits on the same mount, opposite the focuser.',
};

const lens: RigSetup = {
  ...newtonian,
  focalLengthMm: 135,
  apertureMm: 48,
  camera: { name: 'cooled mono camera, 3.76 µm', pixelUm: 3.76, widthPx: 6248, heightPx: 4176, angleDeg: 0 },
  focuserStepUm: 1.1,
  train: [
    { name: 'lens flange', lengthMm: 0 },
    { name: 'filter drawer', lengthMm: 21 },
    { name: 'camera, face to sensor', role: 'camera', lengthMm: 17.5 },
  ],
  corrector: { requiredMm: 38.5, toleranceMm: 0.1, imageCircleMm: 43 },
  focuserReach: undefined,
  wheel: wheel('L', 'Ha', 'OIII'),
  overheads: { ...overheads, filterChangeS: 10, autofocusS: 160 },
  note: 'Rides beside the Newtonian; both cameras dither together.',
};

const ridge: RigBuild = {
  ...buildOf(newtonian, '250 mm Newtonian', 'newtonian'),
  systems: [
    ...buildOf(newtonian, '250 mm Newtonian', 'newtonian').systems,
    ...buildOf(lens, '135 mm lens', 'lens').systems,
  ],
};
/** The club practises on stand-ins: their nights count here. */
const rig = (key: DemoRig['key'], name: string, site: DemoSite['key'], build: RigBuild): DemoRig => {
  const practised = { ...build, practice: true };
  return { key, name, site, build: practised, setup: viewOf(practised) };
};

export const RIGS: DemoRig[] = [
  rig('refractor', '120 mm triplet', 'yard', buildOf(refractor, '120 mm triplet')),
  rig('astrograph', '200 mm astrograph', 'dome', buildOf(astrograph, '200 mm astrograph')),
  rig('newtonian', '250 mm Newtonian', 'ridge', ridge),
];
