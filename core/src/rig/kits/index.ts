export { assembleRig, SPREAD, type RigChoices } from './assemble.ts';
export { COLOUR_SETS, FILTER_SETS } from './filterSets.ts';
export { assumed, type MountKit, type SensorKit, type TubeKit } from './kit.ts';
export { MOUNTS } from './mounts.ts';
export { SENSORS } from './sensors.ts';
export { TUBES } from './tubes.ts';
