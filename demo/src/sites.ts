/** The three places of the invented club. Horizons: azimuth, altitude. */
export interface DemoSite {
  key: 'yard' | 'dome' | 'ridge';
  name: string;
  kind: 'backyard' | 'club' | 'remote';
  latitudeDeg: number;
  longitudeDeg: number;
  elevationM: number;
  timeZone: string;
  skyMagArcsec2: number;
  horizon: { azimuthDeg: number; altitudeDeg: number }[];
  horizonNote: string;
}

const line = (...points: [number, number][]) =>
  points.map(([azimuthDeg, altitudeDeg]) => ({ azimuthDeg, altitudeDeg }));

export const SITES: DemoSite[] = [
  {
    key: 'yard',
    name: 'Tannery Yard',
    kind: 'backyard',
    latitudeDeg: 47.07,
    longitudeDeg: 15.44,
    elevationM: 353,
    timeZone: 'Europe/Vienna',
    skyMagArcsec2: 18.9,
    horizon: line(
      [0, 18],
      [40, 14],
      [95, 12],
      [140, 16],
      [180, 14],
      [225, 22],
      [248, 35],
      [292, 35],
      [305, 24],
      [340, 20],
    ),
    horizonNote: 'Roofs to 35° in the west, a walnut tree in the south-west.',
  },
  {
    key: 'dome',
    name: 'Larkmoor Dome',
    kind: 'club',
    latitudeDeg: 50.21,
    longitudeDeg: 15.83,
    elevationM: 412,
    timeZone: 'Europe/Prague',
    skyMagArcsec2: 20.6,
    horizon: line([0, 12], [70, 10], [110, 9], [180, 11], [210, 13], [262, 19], [283, 24], [300, 17], [330, 12]),
    horizonNote: 'A row of pines in the west-north-west.',
  },
  {
    key: 'ridge',
    name: 'Rooikop Ridge',
    kind: 'remote',
    latitudeDeg: -23.31,
    longitudeDeg: 16.27,
    elevationM: 1780,
    timeZone: 'Africa/Windhoek',
    skyMagArcsec2: 21.8,
    horizon: line([0, 6], [90, 4], [180, 8], [270, 5]),
    horizonNote: 'Open; a low ridge in the south.',
  },
];

export interface DemoMember {
  key: 'odalys' | 'teun' | 'mirela' | 'sefu' | 'ines';
  name: string;
  signIn: string;
  role: 'steward' | 'member' | 'guest';
}

export const CLUB = 'Larkmoor Observers’ Club';

export const MEMBERS: DemoMember[] = [
  { key: 'odalys', name: 'Odalys Brandt', signIn: 'odalys', role: 'steward' },
  { key: 'teun', name: 'Teun Achterberg', signIn: 'teun', role: 'member' },
  { key: 'mirela', name: 'Mirela Costin', signIn: 'mirela', role: 'member' },
  { key: 'sefu', name: 'Sefu Wanjala', signIn: 'sefu', role: 'member' },
  { key: 'ines', name: 'Ines Quadros', signIn: 'ines', role: 'guest' },
];
