import type { DemoRig } from './rigs.ts';

/** What the club's members measured or wished for a rig's evenings; the rest is as every rig begins. */
export const DUSK: Partial<Record<DemoRig['key'], object>> = {
  refractor: { cooling: { deepestBelowAmbientC: 38, ratePerMinC: 1.6 } },
  astrograph: { cooling: { setPointC: -15, deepestBelowAmbientC: 45, ratePerMinC: 1.5 } },
};
