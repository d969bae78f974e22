export {
  PHOTONS_MAG_0,
  areaCm2,
  surfaceElectrons,
  skyLight,
  exposureSky,
  SkyLightInput,
  type Instrument,
} from './light.ts';
export { HABITUAL_S, addedNoise, sub, exposureSub, SubInput } from './sub.ts';
export { integration, exposureIntegration, IntegrationInput } from './integration.ts';
