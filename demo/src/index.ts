export { SITES, MEMBERS, CLUB, type DemoSite, type DemoMember } from './sites.ts';
export { RIGS, LOOSE_PARTS, type DemoRig, type DemoPart } from './rigs.ts';
export { PROJECTS, PAST_NIGHTS, type DemoProject } from './projects.ts';
export { GUIDE_LOGS, PINNED, type DemoGuideLog } from './guideLogs.ts';
export { DUSK } from './dusk.ts';
