import type { GuideFault } from '@keen/core/observatory';
import type { DemoRig } from './rigs.ts';

/** Kept guide logs of the last weeks: what was found, what was changed, what came of it. */
export interface DemoGuideLog {
  rig: DemoRig['key'];
  daysAgo: number;
  name: string;
  note: string;
  fault: GuideFault;
  seed: number;
  seeingArcsec: number;
}

export const GUIDE_LOGS: DemoGuideLog[] = [
  {
    rig: 'refractor',
    daysAgo: 19,
    name: 'first night out',
    note: '',
    fault: 'over-correction',
    seed: 11,
    seeingArcsec: 0.5,
  },
  {
    rig: 'refractor',
    daysAgo: 11,
    name: 'calmer settings',
    note: 'share of the error corrected in right ascension from 100 to 60 %',
    fault: 'none',
    seed: 12,
    seeingArcsec: 0.5,
  },
  { rig: 'refractor', daysAgo: 5, name: 'windy', note: 'no shield', fault: 'gusts', seed: 13, seeingArcsec: 0.45 },
  {
    rig: 'astrograph',
    daysAgo: 19,
    name: 'NGC 891, worm untamed',
    note: '',
    fault: 'worm',
    seed: 21,
    seeingArcsec: 0.3,
  },
  {
    rig: 'astrograph',
    daysAgo: 14,
    name: 'NGC 891, worm learned',
    note: 'periodic correction recorded over four turns',
    fault: 'none',
    seed: 22,
    seeingArcsec: 0.3,
  },
  {
    rig: 'astrograph',
    daysAgo: 5,
    name: 'cloud after midnight',
    note: '',
    fault: 'cloud',
    seed: 23,
    seeingArcsec: 0.32,
  },
];

/** Projects whose framing is pinned, with a guide star where the window has one near the wanted angle. */
export const PINNED = ['NGC 891 edge-on', 'NGC 7331 and its neighbours'];
