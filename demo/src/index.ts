export { SITES, MEMBERS, CLUB, type DemoSite, type DemoMember } from './sites.ts';
export { RIGS, type DemoRig } from './rigs.ts';
export { LOOSE_PARTS, type DemoPart } from './drawer.ts';
export { PROJECTS, PAST_NIGHTS, type DemoProject } from './projects.ts';
export { GUIDE_LOGS, PINNED, type DemoGuideLog } from './guideLogs.ts';
export { DRILLS_ANSWERED, LOG_ENTRIES, type DemoLogEntry } from './logbook.ts';
export { DUSK } from './dusk.ts';
export { BOOKINGS, TAKEN_OVER, UPKEEP, type DemoBooking, type DemoUpkeep } from './shared.ts';
