import { pole } from '../sky/index.ts';
import type { Random } from '../statistics/index.ts';
import { field } from './drawing.ts';
import { between, of, oneOf, table, type Situation } from './situation.ts';

/** Magnus formula over water: the temperature at which air of this dampness lets its water go [°C]; coefficients of Sonntag (1990), from memory. */
function dewPointC(airC: number, humidity: number): number {
  const [b, c] = [17.62, 243.12];
  const g = Math.log(humidity) + (b * airC) / (c + airC);
  return (c * g) / (b - g);
}
const wave = (r: Random, sigma: number) => sigma * r.normal();
const clockOf = (minutes: number) =>
  `${String(Math.floor(minutes / 60) % 24).padStart(2, '0')}:${String(Math.round(minutes) % 60).padStart(2, '0')}`;

/** Plans, focus and sky: what a night loses while nobody looks. */
export const NIGHT = {
  'a-tube-that-cools': {
    field: 'night',
    level: 1,
    cause: 'cooling-tube',
    cure: 'refocus-by-temperature',
    at: '/morning/focus',
    otherCauses: ['bad-air', 'dew', 'tilt'],
    otherCures: ['heat-glass', 'refuse-frames', 'square-sensor'],
    make(r) {
      const stepsPerC = -Math.round(between(r, 18, 35));
      const zoneSteps = Math.round(between(r, 25, 45));
      const [warm, fall] = [between(r, 6, 12), between(r, 5, 8)];
      const air = (h: number) => warm - fall * (1 - Math.exp(-h / 2));
      const times = Array.from({ length: 40 }, (_, i) => i / 8);
      // the width grows with the distance from focus as a hyperbola does
      const width = (h: number) =>
        2.4 * Math.hypot(1, (stepsPerC * (air(h) - warm)) / (2.2 * zoneSteps)) + wave(r, 0.04);
      return {
        exhibits: [
          {
            kind: 'course',
            title: 'Half flux diameter over the night, one filter',
            along: 'hours',
            up: 'px',
            series: [{ name: 'frames', points: times.map((h) => [h, width(h)] as const) }],
          },
          {
            kind: 'course',
            title: 'Temperature of the tube',
            along: 'hours',
            up: '°C',
            series: [{ name: 'tube', points: times.map((h) => [h, air(h)] as const) }],
          },
          table('Focus', [
            ['Focus runs', 'one, at the beginning'],
            ['Drift by the last nights', of('driftStepsPerC', stepsPerC)],
            ['Depth of focus', of('zoneSteps', zoneSteps)],
          ]),
        ],
        values: { driftSteps: Math.abs(stepsPerC * fall), zoneSteps, everyDeltaC: zoneSteps / 2 / Math.abs(stepsPerC) },
      };
    },
  },
  'glass-goes-blind': {
    field: 'night',
    level: 2,
    cause: 'dew',
    cure: 'heat-glass',
    at: '/morning/frames',
    otherCauses: ['cloud', 'cooling-tube', 'moonlight'],
    otherCures: ['wait-for-sky', 'refocus-by-temperature', 'longer-exposure'],
    make(r) {
      const humidity = between(r, 0.86, 0.95);
      const airC = between(r, 4, 11);
      const dewC = dewPointC(airC, humidity);
      const glassC = dewC - between(r, 0.4, 1.4);
      const times = Array.from({ length: 40 }, (_, i) => i / 8);
      const clear = (h: number) => 1 / (1 + Math.exp((h - 3) / 0.45));
      return {
        exhibits: [
          {
            kind: 'course',
            title: 'Stars found in each frame',
            along: 'hours',
            up: 'stars',
            series: [
              {
                name: 'frames',
                points: times.map(
                  (h) => [h, Math.round(420 * (0.15 + 0.85 * clear(h)) * (1 + wave(r, 0.03)))] as const,
                ),
              },
            ],
          },
          {
            kind: 'course',
            title: 'Background of the same frames',
            along: 'hours',
            up: 'counts',
            series: [
              { name: 'frames', points: times.map((h) => [h, 900 * (0.72 + 0.28 * clear(h)) + wave(r, 6)] as const) },
            ],
          },
          table('At three in the morning', [
            ['Air', of('airC', airC, 1)],
            ['Damp', `${Math.round(100 * humidity)} %`],
            ['Front lens, measured', of('glassC', glassC, 1)],
            ['Sky, looked at', 'clear, stars everywhere'],
            ['Stars in the frames', 'with wide soft halos'],
          ]),
        ],
        values: { dewC, glassC, belowDeltaC: dewC - glassC },
      };
    },
  },
  'one-filter-is-soft': {
    field: 'morning',
    level: 2,
    cause: 'wrong-offset',
    cure: 'new-offset',
    at: '/morning/focus',
    otherCauses: ['cooling-tube', 'bad-air', 'tilt'],
    otherCures: ['refocus-by-temperature', 'refuse-frames', 'square-sensor'],
    make(r) {
      const filters = ['L', 'R', 'G', 'B'] as const;
      const soft = oneOf(r, filters.slice(1));
      const zoneSteps = Math.round(between(r, 25, 40));
      const off = Math.round(between(r, 2.2, 3.2) * zoneSteps);
      const series = filters.map((name, k) => ({
        name,
        points: Array.from(
          { length: 9 },
          (_, i) =>
            [
              (4 * i + k) * 3,
              (name === soft ? 2.3 * Math.hypot(1, off / (2.2 * zoneSteps)) : 2.3) + wave(r, 0.05),
            ] as const,
        ),
      }));
      return {
        exhibits: [
          { kind: 'course', title: 'Half flux diameter, filter by filter in turn', along: 'minutes', up: 'px', series },
          table('Focus', [
            ['On a change of filter', 'offset, no run'],
            ['Depth of focus', of('zoneSteps', zoneSteps)],
            ['Tube, all night', 'within half a degree'],
          ]),
        ],
        values: { filter: soft, offSteps: off, zoneSteps },
      };
    },
  },
  'colour-is-missing': {
    field: 'night',
    level: 1,
    cause: 'block-order',
    cure: 'roll-filters',
    at: '/night/plan',
    otherCauses: ['clipping', 'moonlight', 'no-flip'],
    otherCures: ['shorter-exposure', 'plan-flip', 'longer-exposure'],
    make(r) {
      const [planned, each] = [Math.round(between(r, 18, 26)), 3];
      const taken = Math.round(planned * between(r, 1.3, 1.8));
      const got = [Math.min(planned, taken), Math.max(0, taken - planned), 0, 0];
      const rounds = Math.floor(taken / 4);
      return {
        exhibits: [
          table(
            `Cloud since ${clockOf(60 * 19 + taken * each)}; taken until then`,
            (['L', 'R', 'G', 'B'] as const).map((f, i) => [f, `${got[i]} of ${planned}`] as const),
          ),
          table('The plan', [
            ['Order', 'all of a filter, then the next'],
            ['Exposure', of('exposureS', 60 * each)],
            ['Chance of rain in the evening’s forecast', '60 %'],
          ]),
        ],
        values: { taken, rounds },
      };
    },
  },
  'the-mount-stopped': {
    field: 'night',
    level: 2,
    cause: 'no-flip',
    cure: 'plan-flip',
    at: '/night/plan',
    otherCauses: ['cloud', 'clamp-loose', 'hot-pixel'],
    otherCures: ['wait-for-sky', 'tighten-clamp', 'move-off-pixel'],
    make(r) {
      const culminates = Math.round(between(r, 22 * 60, 24 * 60 + 90));
      const limitMin = Math.round(between(r, 4, 12));
      const stopped = culminates + limitMin;
      const until = stopped + Math.round(between(r, 150, 260));
      return {
        exhibits: [
          table('The run’s log', [
            ['Last frame without a fault', clockOf(stopped - 5)],
            ['Frames after it', 'stars drawn to long strokes, all along right ascension'],
            ['Guide star', `lost at ${clockOf(stopped + 1)}, not found again`],
            ['Sky', 'clear all night'],
          ]),
          table('The object and the mount', [
            ['Crossed the meridian', clockOf(culminates)],
            ['Tracking allowed past it', of('limitMin', limitMin)],
            ['The plan’s end', clockOf(until)],
          ]),
        ],
        values: { culminates: clockOf(culminates), limitMin, lostHours: (until - stopped) / 60 },
      };
    },
  },
  'second-camera-jumps': {
    field: 'night',
    level: 3,
    cause: 'unsynchronised',
    cure: 'dither-together',
    at: '/dusk/dither',
    otherCauses: ['flexure', 'wind', 'no-wait'],
    otherCures: ['off-axis', 'wind-shield', 'shorter-exposure'],
    make(r, seed) {
      const scene = field(r, seed);
      const jump = { lengthPx: scene.seeingFwhmPx * between(r, 1.7, 2.4), angleDeg: 180 * r.next() };
      const [leadS, everyS] = [180, 2 * 190];
      const followS = oneOf(r, [420, 480, 600]);
      const spoilt = Math.min(1, followS / everyS);
      return {
        exhibits: [
          {
            kind: 'frame',
            title: 'The second camera: most of its frames look like this',
            scene: { ...scene, drift: jump },
          },
          table('Two cameras on one mount', [
            ['First camera, exposure', of('exposureS', leadS)],
            ['it asks for a dither', 'after every other frame'],
            ['its own frames', 'round'],
            ['Second camera, exposure', of('exposureS', followS)],
            ['it begins the next frame', 'as soon as one is read'],
          ]),
        ],
        values: { everyS, followS, spoiltPercent: 100 * spoilt },
      };
    },
  },
  'a-bright-line': {
    field: 'morning',
    level: 1,
    cause: 'satellite',
    cure: 'keep-frame',
    at: '/morning/frames',
    otherCauses: ['flexure', 'dust', 'clipping'],
    otherCures: ['refuse-frames', 'new-flats', 'shorter-exposure'],
    make(r, seed) {
      const scene = field(r, seed);
      const [a, b] = [between(r, 0, scene.heightPx), between(r, 0, scene.heightPx)];
      const frames = Math.round(between(r, 24, 60));
      return {
        exhibits: [
          {
            kind: 'frame',
            title: `One of ${frames} frames of this filter`,
            scene: {
              ...scene,
              satellite: { from: [0, a], to: [scene.widthPx - 1, b], electronsPerPx: scene.skyElectrons * 1.5 },
            },
          },
          table('Its fellows', [
            ['Frames alike', String(frames)],
            ['Stars and width', 'as in the others'],
            ['To be joined', 'with outliers left out, pixel by pixel'],
          ]),
        ],
        values: { frames, lostPercent: 100 / frames },
      };
    },
  },
  'white-without-colour': {
    field: 'morning',
    level: 1,
    cause: 'clipping',
    cure: 'shorter-exposure',
    at: '/night/exposures',
    otherCauses: ['moonlight', 'cooling-tube', 'dew'],
    otherCures: ['longer-exposure', 'heat-glass', 'refocus-by-temperature'],
    make(r, seed) {
      const scene = field(r, seed);
      const times = between(r, 60, 110);
      const exposureS = oneOf(r, [480, 600, 900]);
      return {
        exhibits: [
          {
            kind: 'frame',
            title: `Luminance, ${exposureS} s`,
            scene: {
              ...scene,
              stars: scene.stars.map((s) => ({ ...s, electrons: s.electrons * times })),
              skyElectrons: scene.skyElectrons * 6,
            },
          },
          table('The finished picture', [
            ['Stars', 'white to their rims, no colour in any'],
            ['The galaxy’s core', 'one even white patch'],
          ]),
        ],
        values: { exposureS, shorterS: Math.max(30, Math.round(exposureS / 8 / 10) * 10) },
      };
    },
  },
  'an-hour-on-the-dial': {
    field: 'dusk',
    level: 2,
    cause: 'daylight-saving',
    cure: 'standard-time',
    at: '/dusk/pole',
    otherCauses: ['wrong-longitude', 'tripod-moved', 'backlash'],
    otherCures: ['other-zone', 'align-pole', 'longer-exposure'],
    make(r) {
      const site = {
        latitudeDeg: Math.round(between(r, 44, 54)),
        longitudeDeg: Math.round(between(r, 8, 16)),
        elevationM: 200,
        timeZone: 'Europe/Berlin',
      };
      const day = 1 + Math.floor(28 * r.next());
      const month = oneOf(r, ['05', '06', '07', '08']);
      const time = `2026-${month}-${String(day).padStart(2, '0')}T21:00:00Z`;
      const right = pole({ site, time });
      // the watch shows an hour more than the ring’s standard time
      const set = pole({ site, time: new Date(Date.parse(time) + 3_600_000).toISOString() });
      const offArcmin = 2 * right.starDistanceArcmin * Math.sin((7.5 * Math.PI) / 180);
      return {
        exhibits: [
          table('At the polar scope', [
            ['Date', `${day}.${month}.`],
            ['Watch', '23:00'],
            ['Ring set to', '23:00'],
            ['Longitude from the zone’s meridian, set', `${right.longitudeOffsetDeg.toFixed(0)}°`],
            ['Pole star put at', set.clockInverted],
            ['Drift in declination that night', 'more than ever before'],
          ]),
        ],
        values: {
          standard: right.standardTime.slice(11, 16),
          right: right.clockInverted,
          set: set.clockInverted,
          offArcmin,
        },
      };
    },
  },
} satisfies Record<string, Situation>;
