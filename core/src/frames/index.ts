export { assignFrame, type Assigned, type Candidate } from './assign.ts';
export { foldedFilter, matchFilter } from './filterName.ts';
export { focuserDrift, type FocuserDrift, type FocuserReading } from './focuserDrift.ts';
export { readTypedFrames, type TypedFrames } from './typed.ts';
export { byNight, nightOfFrame } from './nightOf.ts';
