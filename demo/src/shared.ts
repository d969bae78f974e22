import type { DemoRig } from './rigs.ts';

/** What comes again on the club’s rigs, counted from so many days ago. */
export interface DemoUpkeep {
  rig: DemoRig['key'];
  what: string;
  everyDays: number | null;
  everyNights: number | null;
  sinceDays: number;
  note: string;
}
export const UPKEEP: DemoUpkeep[] = [
  {
    rig: 'astrograph',
    what: 'Renew the drying agent of the camera',
    everyDays: 180,
    everyNights: null,
    sinceDays: 172,
    note: 'The spare bags lie in the left drawer.',
  },
  {
    rig: 'refractor',
    what: 'Grease the worm of the right ascension axis',
    everyDays: 365,
    everyNights: 60,
    sinceDays: 380,
    note: '',
  },
  {
    rig: 'newtonian',
    what: 'Wash the main mirror',
    everyDays: null,
    everyNights: 80,
    sinceDays: 90,
    note: 'Distilled water, no cloth.',
  },
];
/** Who took which rig over, so many days ago, and has it still. */
export const TAKEN_OVER = {
  rig: 'newtonian',
  by: 'sefu',
  daysAgo: 3,
  note: 'One counterweight is in the shed.',
} as const;

/** Hours that are booked: so many nights from now, by the clock of the place. */
export interface DemoBooking {
  rig: DemoRig['key'];
  by: string;
  inNights: number;
  fromHour: number;
  hours: number;
  note: string;
  wait: boolean;
}
export const BOOKINGS: DemoBooking[] = [
  { rig: 'newtonian', by: 'mirela', inNights: 9, fromHour: 21, hours: 3, note: '', wait: false },
  {
    rig: 'newtonian',
    by: 'sefu',
    inNights: 9,
    fromHour: 22,
    hours: 3,
    note: 'the nebula, if she gives it back',
    wait: true,
  },
  { rig: 'newtonian', by: 'teun', inNights: 11, fromHour: 22, hours: 4, note: '', wait: false },
];
