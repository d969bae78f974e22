import type { Cause, Cure, SituationKey } from '@keen/core/drills';
import type { Aspect } from '@keen/core/rig';
import type { DemoRig } from './rigs.ts';

/** What the club wrote down over the last weeks. */
export interface DemoLogEntry {
  rig: DemoRig['key'];
  by: string;
  daysAgo: number;
  aspect: Aspect | null;
  finding: string;
  problem: string;
  cause: string;
  cure: string;
}
export const LOG_ENTRIES: DemoLogEntry[] = [
  {
    rig: 'astrograph',
    by: 'odalys',
    daysAgo: 40,
    aspect: 'flats',
    finding: 'prism-shadow',
    problem: 'Right edge a fifth darker in every frame of the evening, the middle fine.',
    cause: 'Prism set deeper for a fainter star.',
    cure: 'Drawn out by 1.5 mm, new flats; the fainter star was not needed at 3 s.',
  },
  {
    rig: 'refractor',
    by: 'teun',
    daysAgo: 19,
    aspect: 'guiderCalibration',
    finding: 'over-correction-ra',
    problem: 'Stars fat both ways, the graph a saw.',
    cause: 'All of the error corrected at once under bad air.',
    cure: '60 % in right ascension.',
  },
  {
    rig: 'refractor',
    by: 'mirela',
    daysAgo: 14,
    aspect: null,
    finding: 'cloud',
    problem: 'Stars fewer and fewer from one o’clock, sky clear to the eye.',
    cause: 'Dew on the front lens; the heater’s plug had come off.',
    cure: 'Plug tied to the handle, heater at 40 % from dusk on.',
  },
  {
    rig: 'astrograph',
    by: 'teun',
    daysAgo: 8,
    aspect: 'balance',
    finding: '',
    problem: 'Tube would not stay put near the zenith, level it did.',
    cause: 'Wheel turned sideways after the camera was rotated.',
    cure: '400 g on the other side of the bar.',
  },
  {
    rig: 'refractor',
    by: 'odalys',
    daysAgo: 5,
    aspect: null,
    finding: 'gust',
    problem: 'Four frames thrown off within an hour.',
    cause: 'Wind from the west, no shield.',
    cure: '',
  },
];

/** Drills the club’s people answered: who, which, and what they named. */
export const DRILLS_ANSWERED: readonly (readonly [who: string, situation: SituationKey, cause: Cause, cure: Cure])[] = [
  ['teun', 'saw-teeth', 'over-correction', 'correct-less'],
  ['teun', 'prism-in-the-light', 'prism-deep', 'new-flats'],
  ['teun', 'fine-graph-long-stars', 'wind', 'correct-less'],
  ['teun', 'slow-wave', 'worm', 'learn-worm'],
  ['mirela', 'fine-graph-long-stars', 'polar', 'align-pole'],
  ['mirela', 'glass-goes-blind', 'dew', 'heat-glass'],
  ['mirela', 'second-camera-jumps', 'flexure', 'off-axis'],
  ['sefu', 'a-tube-that-cools', 'cooling-tube', 'refocus-by-temperature'],
  ['sefu', 'second-camera-jumps', 'unsynchronised', 'shorter-exposure'],
  ['sefu', 'declination-hangs', 'over-correction', 'correct-less'],
];
