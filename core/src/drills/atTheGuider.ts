import type { LogSample } from '../guiding/index.ts';
import { simulateGuiding, type GuideFault } from '../observatory/index.ts';
import type { Random } from '../statistics/index.ts';
import { field } from './drawing.ts';
import { between, of, table, type Exhibit, type Situation } from './situation.ts';

const SECONDS = 5400;
const CADENCE_S = 2.5;
function log(seed: number, fault: GuideFault, wormPeriodS = 480): LogSample[] {
  return simulateGuiding({ seed, seconds: SECONDS, cadenceS: CADENCE_S, fault, wormPeriodS });
}
const shown = (title: string, samples: LogSample[]): Exhibit => ({ kind: 'guide-log', title, samples });
/** A frame trailed in one direction. */
const trailed = (r: Random, seed: number) => {
  const scene = field(r, seed);
  return { ...scene, drift: { lengthPx: scene.seeingFwhmPx * between(r, 1.6, 2.4), angleDeg: 180 * r.next() } };
};

/** What the guide log shows, and what it does not. */
export const GUIDER = {
  'fine-graph-long-stars': {
    field: 'morning',
    level: 3,
    cause: 'flexure',
    cure: 'off-axis',
    at: '/morning/guiding',
    otherCauses: ['wind', 'polar', 'bad-air'],
    otherCures: ['correct-less', 'align-pole', 'refuse-frames'],
    make(r, seed) {
      const scene = trailed(r, seed);
      return {
        exhibits: [
          shown('Guide scope beside the tube, 90 minutes', log(seed, 'none')),
          { kind: 'frame', title: 'A frame of ten minutes out of it', scene },
          table('Tried', [
            ['Frames of one minute', 'round'],
            ['Frames of ten minutes', 'all drawn out the same way'],
          ]),
        ],
        values: {
          driftPx: scene.drift.lengthPx,
          perMinPx: scene.drift.lengthPx / 10,
          longestMin: 10 / scene.drift.lengthPx,
        },
      };
    },
  },
  'the-star-that-never-moved': {
    field: 'dusk',
    level: 2,
    cause: 'hot-pixel',
    cure: 'move-off-pixel',
    at: '/morning/guiding',
    otherCauses: ['flexure', 'guide-star-faint', 'polar'],
    otherCures: ['off-axis', 'longer-exposure', 'align-pole'],
    make: (r, seed) => ({
      exhibits: [
        shown('90 minutes; a thin cloud passed after an hour', log(seed, 'hot-pixel')),
        { kind: 'frame', title: 'A frame of the last quarter of an hour', scene: trailed(r, seed) },
      ],
      values: { fromMin: (0.6 * SECONDS) / 60 },
    }),
  },
  'saw-teeth': {
    field: 'dusk',
    level: 1,
    cause: 'over-correction',
    cure: 'correct-less',
    at: '/morning/guiding',
    otherCauses: ['wind', 'backlash', 'worm'],
    otherCures: ['correct-more', 'wind-shield', 'one-way-dec'],
    make: (_r, seed) => ({ exhibits: [shown('90 minutes of guiding', log(seed, 'over-correction'))], values: {} }),
  },
  'declination-hangs': {
    field: 'dusk',
    level: 3,
    cause: 'backlash',
    cure: 'one-way-dec',
    at: '/morning/guiding',
    otherCauses: ['over-correction', 'polar', 'wind'],
    otherCures: ['correct-less', 'wind-shield', 'longer-exposure'],
    make: (_r, seed) => ({ exhibits: [shown('90 minutes of guiding', log(seed, 'backlash'))], values: {} }),
  },
  'slow-climb': {
    field: 'dusk',
    level: 2,
    cause: 'polar',
    cure: 'align-pole',
    at: '/dusk/pole',
    otherCauses: ['backlash', 'worm', 'wind'],
    otherCures: ['learn-worm', 'correct-less', 'brighter-star'],
    make(_r, seed) {
      const samples = log(seed, 'polar');
      // the stand-in's own rate: 0.9″ a minute
      return {
        exhibits: [shown('90 minutes; declination was not guided', samples)],
        values: { driftArcsec: 0.9, polarArcmin: 3.81 * 0.9 },
      };
    },
  },
  'jumps-out-of-nothing': {
    field: 'dusk',
    level: 1,
    cause: 'wind',
    cure: 'wind-shield',
    at: '/morning/guiding',
    otherCauses: ['over-correction', 'cloud', 'hot-pixel'],
    otherCures: ['correct-less', 'brighter-star', 'move-off-pixel'],
    make: (_r, seed) => ({ exhibits: [shown('90 minutes of guiding', log(seed, 'gusts'))], values: {} }),
  },
  'slow-wave': {
    field: 'dusk',
    level: 2,
    cause: 'worm',
    cure: 'learn-worm',
    at: '/morning/guiding',
    otherCauses: ['polar', 'backlash', 'wind'],
    otherCures: ['align-pole', 'one-way-dec', 'wind-shield'],
    make(r, seed) {
      const periodS = Math.round(between(r, 380, 600));
      return {
        exhibits: [
          shown('90 minutes of guiding', log(seed, 'worm', periodS)),
          table('The mount', [['Right ascension, one turn of the worm', of('periodS', periodS)]]),
        ],
        values: { periodS },
      };
    },
  },
  'signal-sinks': {
    field: 'dusk',
    level: 1,
    cause: 'cloud',
    cure: 'wait-for-sky',
    at: '/morning/guiding',
    otherCauses: ['dew', 'guide-star-faint', 'hot-pixel'],
    otherCures: ['heat-glass', 'longer-exposure', 'move-off-pixel'],
    make(r, seed) {
      const samples = log(seed, 'cloud');
      const every = samples.filter((_, i) => i % 12 === 0);
      const scene = field(r, seed, { cloud: { passes: between(r, 0.25, 0.4), brighter: between(r, 1.6, 2.2) } });
      return {
        exhibits: [
          {
            kind: 'course',
            title: 'Signal to noise of the guide star',
            along: 'minutes',
            up: 'signal to noise',
            series: [{ name: 'guide star', points: every.map((s) => [s.timeS / 60, s.snr ?? 0] as const) }],
          },
          shown('The same 90 minutes', samples),
          { kind: 'frame', title: 'A frame from the middle of it', scene },
        ],
        values: { middleMin: (0.55 * SECONDS) / 60 },
      };
    },
  },
  'exposed-too-soon': {
    field: 'night',
    level: 3,
    cause: 'no-wait',
    cure: 'wait-settled',
    at: '/dusk/dither',
    otherCauses: ['wind', 'flexure', 'polar'],
    otherCures: ['wind-shield', 'off-axis', 'align-pole'],
    make(r, seed) {
      const exposureS = 300;
      const settleS = Math.round(between(r, 18, 30));
      const frames = 12;
      const ditherAtS = Array.from({ length: frames / 2 }, (_, k) => (2 * k + 1) * (exposureS + 4));
      const samples = simulateGuiding({ seed, seconds: frames * (exposureS + 4), cadenceS: CADENCE_S, ditherAtS });
      const moved = samples.map((s): LogSample =>
        ditherAtS.some((at) => s.timeS > at && s.timeS < at + settleS) && s.state === 'guiding'
          ? { ...s, state: 'settling' }
          : s,
      );
      return {
        exhibits: [
          shown('An hour; strokes at the top are dithers', moved),
          {
            kind: 'frame',
            title: 'Every other frame looks like this one, those between are round',
            scene: trailed(r, seed),
          },
          table('The run’s log', [
            ['Exposure', of('exposureS', exposureS)],
            ['Pause between frames', of('pauseS', 4)],
            ['Settling after a dither, by the log', of('settleS', settleS)],
            ['Dither', 'after every other frame'],
          ]),
        ],
        values: { settleS, openS: settleS - 4 },
      };
    },
  },
} satisfies Record<string, Situation>;
