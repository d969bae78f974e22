import type { DemoMember } from './sites.ts';
import type { DemoRig } from './rigs.ts';

export interface DemoProject {
  name: string;
  object: string;
  rig: DemoRig['key'];
  /** Key of the imaging system, where the rig has more than one. */
  system?: string;
  owner: DemoMember['key'];
  angleDeg: number;
  minimumAltitudeDeg: number;
  goals: { filter: string; exposureS: number; quota: number }[];
  note: string;
}

const lrgb = (l: number, c: number, exposureS = 180) => [
  { filter: 'L', exposureS, quota: l },
  { filter: 'R', exposureS, quota: c },
  { filter: 'G', exposureS, quota: c },
  { filter: 'B', exposureS, quota: c },
];
const narrow = (n: number, exposureS: number, ...filters: string[]) =>
  filters.map((filter) => ({ filter, exposureS, quota: n }));

/** Spread over the year, so that every night has something to work on at every site. */
export const PROJECTS: DemoProject[] = [
  {
    name: 'NGC 7331 and its neighbours',
    object: 'NGC 7331',
    rig: 'astrograph',
    owner: 'mirela',
    angleDeg: 90,
    minimumAltitudeDeg: 32,
    goals: lrgb(140, 50),
    note: 'Dust lanes first; colour can wait for poorer nights.',
  },
  {
    name: 'NGC 891 edge-on',
    object: 'NGC 891',
    rig: 'astrograph',
    owner: 'teun',
    angleDeg: 22,
    minimumAltitudeDeg: 30,
    goals: lrgb(200, 80),
    note: '',
  },
  {
    name: 'NGC 2403 spiral arms',
    object: 'NGC 2403',
    rig: 'astrograph',
    owner: 'odalys',
    angleDeg: 0,
    minimumAltitudeDeg: 30,
    goals: [...lrgb(120, 45), { filter: 'Ha', exposureS: 300, quota: 30 }],
    note: '',
  },
  {
    name: 'NGC 6543 halo',
    object: 'NGC 6543',
    rig: 'astrograph',
    owner: 'mirela',
    angleDeg: 45,
    minimumAltitudeDeg: 30,
    goals: narrow(48, 300, 'Ha', 'OIII'),
    note: 'For moonlit summer nights.',
  },
  {
    name: 'NGC 281 in three lines',
    object: 'NGC 281',
    rig: 'refractor',
    owner: 'teun',
    angleDeg: 0,
    minimumAltitudeDeg: 30,
    goals: narrow(60, 300, 'SII', 'Ha', 'OIII'),
    note: 'City sky: narrowband only.',
  },
  {
    name: 'M 33 with hydrogen',
    object: 'M 33',
    rig: 'refractor',
    owner: 'sefu',
    angleDeg: 30,
    minimumAltitudeDeg: 32,
    goals: [...lrgb(90, 40, 120), { filter: 'Ha', exposureS: 300, quota: 30 }],
    note: '',
  },
  {
    name: 'M 81 from the yard',
    object: 'M 81',
    rig: 'refractor',
    owner: 'teun',
    angleDeg: 60,
    minimumAltitudeDeg: 32,
    goals: lrgb(100, 40, 120),
    note: 'Stands behind the gable until it has climbed.',
  },
  {
    name: 'NGC 7000, the gulf',
    object: 'NGC 7000',
    rig: 'refractor',
    owner: 'sefu',
    angleDeg: 90,
    minimumAltitudeDeg: 30,
    goals: narrow(40, 300, 'SII', 'Ha', 'OIII'),
    note: '',
  },
  {
    name: 'M 13, short frames',
    object: 'M 13',
    rig: 'refractor',
    owner: 'sefu',
    angleDeg: 0,
    minimumAltitudeDeg: 45,
    goals: lrgb(240, 120, 60),
    note: 'For the second half of spring nights, when nothing else stands over the roofs.',
  },
  {
    name: 'NGC 253 deep',
    object: 'NGC 253',
    rig: 'newtonian',
    owner: 'sefu',
    angleDeg: 52,
    minimumAltitudeDeg: 35,
    goals: lrgb(300, 120, 120),
    note: '',
  },
  {
    name: 'NGC 3372 mosaic, first field',
    object: 'NGC 3372',
    rig: 'newtonian',
    owner: 'odalys',
    angleDeg: 12,
    minimumAltitudeDeg: 30,
    goals: narrow(50, 240, 'SII', 'Ha', 'OIII'),
    note: 'Rises late in November; best from January on.',
  },
  {
    name: 'NGC 6744',
    object: 'NGC 6744',
    rig: 'newtonian',
    owner: 'mirela',
    angleDeg: 0,
    minimumAltitudeDeg: 32,
    goals: lrgb(120, 50, 150),
    note: '',
  },
  {
    name: 'NGC 2070 wide',
    object: 'NGC 2070',
    rig: 'newtonian',
    system: 'lens',
    owner: 'sefu',
    angleDeg: 0,
    minimumAltitudeDeg: 28,
    goals: [
      { filter: 'L', exposureS: 60, quota: 300 },
      { filter: 'Ha', exposureS: 240, quota: 150 },
      { filter: 'OIII', exposureS: 240, quota: 150 },
    ],
    note: 'Rides along whatever the Newtonian does nearby.',
  },
];

/** Nights of the past to play through, in days before today. */
export const PAST_NIGHTS = [19, 14, 11, 8, 5, 3];
