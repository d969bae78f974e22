import { torqueAt } from '../balance/index.ts';
import { field } from './drawing.ts';
import { between, of, oneOf, table, type Situation } from './situation.ts';

const round = (value: number, step: number) => Math.round(value / step) * step;
const EDGES = ['left', 'right', 'top', 'bottom'] as const;

/** Balance, train and off-axis guider: found by daylight, or paid for at night. */
export const BENCH = {
  'side-heavy': {
    field: 'bench',
    level: 2,
    cause: 'side-mass',
    cure: 'trim-opposite',
    at: '/bench/balance',
    otherCauses: ['nose-heavy', 'clamp-loose', 'weights-short'],
    otherCures: ['slide-tube', 'tighten-clamp', 'more-weight'],
    make(r) {
      const kg = round(between(r, 0.5, 1.1), 0.05);
      const armMm = round(between(r, 70, 130), 5);
      const latitudeDeg = Math.round(between(r, 35, 55));
      const moment = { x: 0, y: kg * armMm, z: 0 };
      // on the meridian the shaft is level, and the tube turns about it in the upright plane
      const at = (decDeg: number) => Math.abs(torqueAt(moment, latitudeDeg, 0, decDeg, 'west').decNm);
      const places = [
        ['level, to the south', at(latitudeDeg - 90)],
        ['at the pole', at(89.9)],
        ['straight up', at(latitudeDeg)],
      ] as const;
      const worst = Math.max(...places.map(([, nm]) => nm));
      const trimKg = moment.y / 150;
      return {
        exhibits: [
          table(
            'Shaft level, declination released, the tube pointing …',
            places.map(([where, nm]) => [where, nm < 0.15 * worst ? 'stays where it is' : 'swings'] as const),
          ),
          table('What hangs on the tube', [
            ['Filter wheel, turned sideways', of('massKg', kg)],
            ['its middle beside the axis', of('armMm', armMm)],
            ['Slid along the bar', 'until the first line stayed'],
            ['Free place for a weight, on the other side', of('armMm', 150)],
          ]),
        ],
        values: { momentKgCm: moment.y / 10, trimKg, worstNm: worst, sideMm: armMm },
      };
    },
  },
  'weights-at-the-end': {
    field: 'bench',
    level: 1,
    cause: 'weights-short',
    cure: 'more-weight',
    at: '/bench/balance',
    otherCauses: ['nose-heavy', 'side-mass', 'clamp-loose'],
    otherCures: ['slide-tube', 'trim-opposite', 'tighten-clamp'],
    make(r) {
      const tubeKg = round(between(r, 9, 13), 0.1);
      const armMm = 280;
      const endMm = round(between(r, 320, 380), 5);
      const weightKg = round((tubeKg * armMm) / endMm - between(r, 0.8, 1.8), 0.1);
      const missing = tubeKg * armMm - weightKg * endMm;
      return {
        exhibits: [
          table('Right ascension released', [
            ['Shaft level, tube in the east', 'tube sinks'],
            ['Shaft level, tube in the west', 'tube sinks'],
          ]),
          table('On the axis', [
            ['Tube with everything', of('massKg', tubeKg, 1)],
            ['its middle from the axis', of('armMm', armMm)],
            ['Weights', of('massKg', weightKg, 1)],
            ['they stand at', of('armMm', endMm)],
            ['End of the shaft', of('armMm', endMm + 10)],
          ]),
        ],
        values: { missingKgCm: missing / 10, moreKg: missing / endMm, endMm },
      };
    },
  },
  'wrong-spacing': {
    field: 'bench',
    level: 1,
    cause: 'spacing',
    cure: 'change-spacing',
    at: '/bench/train',
    otherCauses: ['tilt', 'collimation', 'flexure'],
    otherCures: ['square-sensor', 'collimate', 'off-axis'],
    make(r, seed) {
      const scene = field(r, seed);
      const outward = r.next() < 0.5;
      const spacingPx = scene.seeingFwhmPx * between(r, 2, 2.8) * (outward ? 1 : -1);
      return {
        exhibits: [
          { kind: 'frame', title: 'One frame, 60 s, the corrector just fitted', scene: { ...scene, spacingPx } },
        ],
        values: {
          way: outward ? 'away from the middle' : 'around the middle',
          ratio: Math.hypot(scene.seeingFwhmPx, spacingPx) / scene.seeingFwhmPx,
        },
      };
    },
  },
  'tilted-sensor': {
    field: 'bench',
    level: 2,
    cause: 'tilt',
    cure: 'square-sensor',
    at: '/morning/frames',
    otherCauses: ['spacing', 'bad-air', 'cooling-tube'],
    otherCures: ['change-spacing', 'refocus-by-temperature', 'collimate'],
    make(r, seed) {
      const right = between(r, 0.48, 0.65) * (r.next() < 0.5 ? 1 : -1);
      const scene = field(r, seed, { tilt: { right, top: between(r, -0.1, 0.1) } });
      return {
        exhibits: [{ kind: 'frame', title: 'The first frame after the fine focus', scene }],
        values: {
          side: right > 0 ? 'right' : 'left',
          other: right > 0 ? 'left' : 'right',
          times: Math.sqrt((1 + Math.abs(right)) / (1 - Math.abs(right))),
        },
      };
    },
  },
  'tails-all-one-way': {
    field: 'bench',
    level: 3,
    cause: 'collimation',
    cure: 'collimate',
    at: '/morning/frames',
    otherCauses: ['spacing', 'tilt', 'dust'],
    otherCures: ['change-spacing', 'square-sensor', 'new-flats'],
    make(r, seed) {
      const scene = field(r, seed);
      const [px, a] = [scene.seeingFwhmPx * between(r, 0.75, 1), 2 * Math.PI * r.next()];
      const everywherePx = { x: px * Math.cos(a), y: px * Math.sin(a) };
      return {
        exhibits: [
          {
            kind: 'frame',
            title: 'One of five frames alike, a second each, the mirror just cleaned',
            scene: { ...scene, coma: { everywherePx } },
          },
        ],
        values: { awayPx: px, towardsDeg: (a * 180) / Math.PI },
      };
    },
  },
  'prism-in-the-light': {
    field: 'bench',
    level: 1,
    cause: 'prism-deep',
    cure: 'prism-out',
    at: '/bench/off-axis',
    otherCauses: ['dust', 'tilt', 'cloud'],
    otherCures: ['new-flats', 'prism-in', 'wait-for-sky'],
    make(r, seed) {
      const [edge, depth] = [oneOf(r, EDGES), between(r, 0.14, 0.3)];
      return {
        exhibits: [
          {
            kind: 'frame',
            title: 'A frame of the first hour; its middle looks fine',
            scene: field(r, seed, { prism: { edge, depth } }),
          },
        ],
        values: { edge, dipPercent: 100 * depth },
      };
    },
  },
  'guide-camera-half-lit': {
    field: 'bench',
    level: 2,
    cause: 'prism-shallow',
    cure: 'prism-in',
    at: '/bench/off-axis',
    otherCauses: ['dew', 'dust', 'guide-reach'],
    otherCures: ['guide-spacer', 'heat-glass', 'longer-exposure'],
    make(r, seed) {
      const [edge, share] = [oneOf(r, EDGES), between(r, 0.4, 0.55)];
      const opposite = { left: 'right', right: 'left', top: 'bottom', bottom: 'top' }[edge];
      return {
        exhibits: [
          {
            kind: 'frame',
            title: 'The guide camera behind the prism, 3 s',
            scene: field(r, seed, { lit: { edge, share }, vignetting: 0 }),
          },
        ],
        values: { litPercent: 100 * share, dark: opposite },
      };
    },
  },
  'guide-camera-out-of-reach': {
    field: 'bench',
    level: 2,
    cause: 'guide-reach',
    cure: 'guide-spacer',
    at: '/bench/off-axis',
    otherCauses: ['prism-deep', 'bad-air', 'no-infocus'],
    otherCures: ['prism-out', 'longer-exposure', 'shorten-train'],
    make(r, seed) {
      const mainMm = round(between(r, 58, 70), 0.5);
      const travelMm = round(between(r, 4, 7), 0.5);
      const lacks = round(between(r, 2, 6), 0.5);
      const guideMm = mainMm - travelMm - lacks;
      return {
        exhibits: [
          {
            kind: 'frame',
            title: 'The guide camera, its helical focuser all the way out',
            scene: field(r, seed, { defocusPx: between(r, 14, 20) }),
          },
          table('Measured with a ruler', [
            ['Main camera', 'in focus'],
            ['Prism to main sensor', of('pathMm', mainMm, 1)],
            ['Prism to guide sensor, focuser in', of('pathMm', guideMm, 1)],
            ['Travel of the helical focuser', of('pathMm', travelMm, 1)],
          ]),
        ],
        values: { mainMm, mostMm: guideMm + travelMm, lacksMm: lacks, spacerMm: lacks + travelMm / 2 },
      };
    },
  },
  'focus-not-reached': {
    field: 'bench',
    level: 2,
    cause: 'no-infocus',
    cure: 'shorten-train',
    at: '/bench/focuser',
    otherCauses: ['spacing', 'guide-reach', 'cooling-tube'],
    otherCures: ['change-spacing', 'refocus-by-temperature', 'guide-spacer'],
    make(r, seed) {
      const behindMm = round(between(r, 120, 150), 1);
      const trainMm = round(between(r, 75, 95), 1);
      const short = round(between(r, 3, 12), 1);
      const ringMm = round(short + between(r, 8, 20), 1);
      const bareMm = behindMm - trainMm - ringMm + short;
      return {
        exhibits: [
          {
            kind: 'frame',
            title: 'The focuser all the way in',
            scene: field(r, seed, { defocusPx: between(r, 14, 19) }),
          },
          table('From the tube’s rear', [
            ['Focus lies', of('lengthMm', behindMm)],
            ['Focuser, all the way in, takes', of('lengthMm', bareMm)],
            ['Extension ring takes', of('lengthMm', ringMm)],
            ['Guider, wheel and camera take', of('lengthMm', trainMm)],
          ]),
        ],
        values: { shortMm: short, ringMm, spareMm: ringMm - short },
      };
    },
  },
} satisfies Record<string, Situation>;
