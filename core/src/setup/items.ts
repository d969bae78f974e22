import { z } from 'zod';
import { noRepeats } from '../calculation/index.ts';
import type { RigSetup } from '../rig/index.ts';

/** What a step can have filled in from tonight's own figures. */
export const FACTS = [
  'latitude',
  'home',
  'pole',
  'sunset',
  'dusk',
  'cooling',
  'focus-filter',
  'framing',
  'guide-star',
  'guiding',
  'first-exposure',
  'flip',
  'dawn',
] as const;
export type Fact = (typeof FACTS)[number];

export const SetupItem = z.strictObject({
  /** Stands for the step in the ticks; stays when the wording changes. */
  key: z
    .string()
    .regex(/^[a-z0-9-]{1,60}$/, 'small letters, digits and hyphens, 60 at most')
    .meta({ description: 'Stands for the step in the ticks' }),
  group: z.string().trim().min(1, 'must not be empty').max(60),
  text: z.string().trim().min(1, 'must not be empty').max(300),
  fact: z.enum(FACTS).optional(),
  caution: z.string().trim().min(1).max(400).optional(),
});
export type SetupItem = z.infer<typeof SetupItem>;

export const SetupItems = z
  .array(SetupItem)
  .min(1, 'a list needs at least one step')
  .max(80)
  .superRefine(noRepeats((i) => i.key, 'the step'));

type SiteKind = 'backyard' | 'club' | 'remote';
interface Offered extends SetupItem {
  at?: readonly SiteKind[];
  when?: (setup: RigSetup) => boolean;
}

const CARRIED: readonly SiteKind[] = ['backyard'];
const STANDING: readonly SiteKind[] = ['club', 'remote'];

/** Steps in the order of the work; common practice, no source. */
const STEPS: readonly Offered[] = [
  {
    key: 'ground',
    group: 'Stand and mount',
    at: CARRIED,
    text: 'Legs fully spread on their marks; push outward while the spreader is tightened.',
  },
  {
    key: 'north',
    group: 'Stand and mount',
    at: CARRIED,
    text: 'Front leg toward the pole, head level, altitude scale at the latitude.',
    fact: 'latitude',
  },
  {
    key: 'screws',
    group: 'Stand and mount',
    at: CARRIED,
    text: 'Back the azimuth screws off before the head goes on, so that neither is bent.',
  },
  {
    key: 'seen',
    group: 'Stand and mount',
    at: STANDING,
    text: 'Look the rig over for what the last user left: hand-over note, caps, cables, balance.',
  },
  {
    key: 'interlock',
    group: 'Stand and mount',
    at: ['remote'],
    text: 'Rain and roof sensors answer; the roof’s own interlock is armed.',
    caution:
      'Nobody stands beside it: make sure by camera that no one is in the room before anything moves. This product never overrides an interlock.',
  },
  {
    key: 'weights',
    group: 'Attach',
    at: CARRIED,
    text: 'Counterweights first, end-stop back on the shaft at once.',
    caution: 'Weights and tubes fall on feet and hands. Lift with two people where one is not sure.',
  },
  {
    key: 'tube',
    group: 'Attach',
    at: CARRIED,
    text: 'Tube last: clamp checked by pulling, tether over a knob, cables slack at every attitude.',
  },
  { key: 'home', group: 'Attach', text: 'Home position.', fact: 'home' },
  {
    key: 'balance',
    group: 'Attach',
    at: CARRIED,
    text: 'Caps off, focuser near focus, cables on: declination balanced, then right ascension.',
  },
  {
    key: 'mains',
    group: 'Power and connect',
    text: 'Power on; dew heaters on.',
    caution:
      'Mains outdoors: residual-current protection, the local electrical code, a licensed electrician for fixed wiring; low-voltage lines fused.',
  },
  {
    key: 'connect',
    group: 'Power and connect',
    text: 'Connect camera, wheel, focuser, mount, guider, weather, in this order.',
  },
  {
    key: 'slots',
    group: 'Power and connect',
    when: (s) => s.wheel.length > 0,
    text: 'Wheel answers, and slot 1 is the filter the list says.',
    fact: 'focus-filter',
  },
  { key: 'cooling', group: 'Power and connect', text: 'Start the cooler.', fact: 'cooling' },
  {
    key: 'sun',
    group: 'Dusk',
    text: 'Caps stay on until the Sun has set.',
    fact: 'sunset',
    caution: 'Never point at or near the Sun without a proper full-aperture solar filter.',
  },
  {
    key: 'pole',
    group: 'Dusk',
    at: CARRIED,
    text: 'Polar alignment, right ascension axis level first where the scope asks for it.',
    fact: 'pole',
  },
  { key: 'focus', group: 'Dusk', text: 'Focus on a bright star, then the fine run in the focus filter.', fact: 'dusk' },
  {
    key: 'centre',
    group: 'Dusk',
    text: 'Slew, solve, synchronise; repeat until the object is within a tenth of the field.',
    fact: 'framing',
  },
  {
    key: 'guide-align',
    group: 'Guider',
    when: (s) => s.guideScope !== undefined && s.offAxis === undefined,
    text: 'Guide scope on the same bright star as the main tube, focused; then every screw locked.',
  },
  {
    key: 'calibrate',
    group: 'Guider',
    text: 'Calibrate near the equator and the meridian, on the side the night begins.',
    fact: 'guiding',
  },
  {
    key: 'star',
    group: 'Guider',
    text: 'Guide star: bright, alone, not saturated, and it moves when the mount is nudged.',
    fact: 'guide-star',
  },
  { key: 'frame', group: 'Begin', text: 'One test frame, read into the corners: round stars, no shadow at an edge.' },
  { key: 'begin', group: 'Begin', text: 'Start the plan.', fact: 'first-exposure' },
  { key: 'flip', group: 'Begin', text: 'Cables and tube clear the pier through the flip.', fact: 'flip' },
  {
    key: 'warm',
    group: 'Begin',
    text: 'Warm clothes, a light, somebody knows where you are; a heater for the morning’s dew.',
    at: CARRIED,
    fact: 'dawn',
  },
];

/** The list a rig begins with: the steps its site and parts call for. A club may make its own from it. */
export const defaultItems = (kind: SiteKind, setup: RigSetup): SetupItem[] =>
  STEPS.filter((s) => (!s.at || s.at.includes(kind)) && (!s.when || s.when(setup))).map(
    ({ at: _a, when: _w, ...item }) => item,
  );
