import { NOW } from './instant.mjs';

/** What stands well at the walks' instant: objects, hours and filters, so that the walks hold at any time of the year. */
interface Season {
  /** Of the 47° N balcony of the first evening, by its designation. */
  home: string;
  /** A project of the triplet in the yard, and a span of the night after the walk's. */
  triplet: { object: string; title: string; filters: string[]; start: string; end: string };
  /** A transit of something inside that span. */
  transit: { start: string; end: string };
  /** For a mosaic: no other walk has it. */
  mosaic: string;
  /** Another project of the triplet, for a second leg. */
  second: string;
  /** Two projects of one rig, and hours that both could use. */
  shared: { rig: string; objects: [string, string]; start: string; end: string };
}
const LINES = ['SII', 'Ha', 'OIII'];
const ASTROGRAPH = '200 mm astrograph';
const AUTUMN: Season = {
  home: 'NGC 281',
  triplet: { object: 'NGC 281', title: 'NGC 281 in three lines', filters: LINES, start: '19:00', end: '22:30' },
  transit: { start: '20:30', end: '21:15' },
  mosaic: 'IC 1805',
  second: 'M 33',
  shared: { rig: ASTROGRAPH, objects: ['NGC 891', 'NGC 2403'], start: '23:30', end: '01:30' },
};
const SPRING: Season = {
  home: 'M 81',
  // the night of the clock change loses its hour from two to three
  triplet: { object: 'M 13', title: 'M 13, short frames', filters: ['L', 'R', 'G', 'B'], start: '01:30', end: '04:10' },
  transit: { start: '03:10', end: '03:40' },
  mosaic: 'M 106',
  second: 'M 81',
  shared: { rig: ASTROGRAPH, objects: ['NGC 6543', 'NGC 2403'], start: '23:30', end: '01:30' },
};
/** At 50° N it does not get dark about midsummer, in the yard at 47° N for an hour and a half. */
const SUMMER: Season = {
  home: 'NGC 281',
  triplet: { object: 'NGC 7000', title: 'NGC 7000, the gulf', filters: LINES, start: '00:30', end: '02:00' },
  transit: { start: '01:00', end: '01:25' },
  mosaic: 'IC 1396',
  second: 'NGC 281',
  shared: { rig: '120 mm triplet', objects: ['NGC 281', 'NGC 7000'], start: '00:45', end: '01:45' },
};
const month = new Date(NOW).getUTCMonth() + 1;
export const SEASON: Season = month >= 2 && month <= 4 ? SPRING : month >= 5 && month <= 7 ? SUMMER : AUTUMN;
