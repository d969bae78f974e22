import type { Fault } from '@keen/core/observatory';

/** What goes wrong, as people say it. */
export const FAULT_WORDS: Record<Fault, string> = {
  cloud: 'cloud',
  gust: 'a gust',
  knock: 'a knock against the tripod',
  'cable-snag': 'a cable that snags at the flip',
  'focuser-slip': 'the focuser slips',
  'device-absent': 'a device is gone for a while',
  'device-silent': 'a device never answers',
  'device-late': 'a device answers late',
  'star-lost': 'the guide star is lost',
  'hot-pixel': 'cloud, then guiding on a hot pixel',
  'wrong-filter': 'the wheel stops at another filter',
  'disk-full': 'the disk is full',
  interlock: 'the interlock opens',
  'roof-closes': 'the roof closes by itself',
  'rotator-slips': 'the camera slips in its rotator',
  'supply-low': 'the supply gives too little',
  'deaf-mount': 'the mount does not hear the guider',
  'two-at-once': 'somebody else moves it too',
  'power-dip': 'a power dip',
  'clock-back': 'the clock is set back',
};
