export {
  PHOTONS_MAG_0,
  areaCm2,
  surfaceElectrons,
  surfaceMagOf,
  skyLight,
  exposureSky,
  SkyLightInput,
  type Instrument,
} from './light.ts';
export { HABITUAL_S, addedNoise, sub, exposureSub, SubInput } from './sub.ts';
export {
  filterLight,
  adviseFilter,
  TYPICAL,
  sameDepth,
  longestS,
  type FilterLight,
  type FilterAdvice,
  type SkyThere,
} from './ofRig.ts';
export { LONG_ASPECT, LONG_FRAME_S, longFrame, type FrameHold, type LongFrame } from './longFrame.ts';
export { exposureMoon, moonMag, moonSeries, MoonInput, STILL_S } from './moon.ts';
export { PALETTES, goalsOf, type Palette } from './palette.ts';
export { integration, exposureIntegration, IntegrationInput } from './integration.ts';
