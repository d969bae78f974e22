export { CableSheet, COMPUTER, Device, Hub, pathOf, type Bus } from './sheet.ts';
export { cableReach, poseAxes, type Reach } from './slack.ts';
export { checkCables, fullness, type BusLoad, type CableFinding, type CableOutput } from './check.ts';
export { typicalCables } from './ofRig.ts';
