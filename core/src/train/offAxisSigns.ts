import { figure } from '../quantities/index.ts';
import type { GuidePathOutput } from './guidePath.ts';
import type { PrismOutput } from './prism.ts';

/** What is seen in the dark, what it is, and what this very guider says to it; `on` where it is to be expected here. */
export interface OffAxisSign {
  sign: string;
  cause: string;
  cure: string;
  on: boolean;
}
/** Shares that show in a picture; common practice, no source. */
const SHADE_SEEN = 0.01;
const LIGHT_WANTED = 0.7;

/** The usual troubles of an off-axis guider, read against its prism and its paths. */
export function offAxisSigns(prism: PrismOutput, innerEdgeMm: number, path: GuidePathOutput): OffAxisSign[] {
  const outwardMm = prism.clearInnerEdgeMm - innerEdgeMm;
  const shaded = prism.maxShading > SHADE_SEEN;
  return [
    {
      sign: 'Dark band or bite at one edge of every frame',
      cause: 'The prism stands in the light of that edge.',
      cure: shaded
        ? `Here it does: move it ${figure(outwardMm, 1)} mm outward, to ${figure(prism.clearInnerEdgeMm, 1)} mm.`
        : `Not this prism: it is ${figure(-outwardMm, 1)} mm clear. Look for the wheel’s rim, or frost.`,
      on: shaded,
    },
    {
      sign: 'Guide camera half lit, or dark',
      cause: 'The window lies outside the image circle, or the prism is small for the cone.',
      cure: !prism.insideImageCircle
        ? `Here the window’s centre is ${figure(prism.guideCentreRadiusMm, 1)} mm off axis, beyond the circle: bring the prism inward.`
        : `Here it sees ${figure(100 * prism.guideLightFraction, 0)} % of the light inside the circle: look for a prism face turned away from the sky.`,
      on: !prism.insideImageCircle || prism.guideLightFraction < LIGHT_WANTED,
    },
    {
      sign: 'Guide camera will not focus, all the way in or out',
      cause: 'The two sensors are at unequal distances from the prism.',
      cure: path.reachable
        ? `Here it can: helical focuser at ${figure(path.focuserMm ?? 0, 1)} mm. Focus the main camera first, then the guider.`
        : path.shortfallMm > 0
          ? `Here ${figure(path.shortfallMm, 1)} mm are missing on the guide side: add a spacer of that length.`
          : `Here the guide side is ${figure(-path.shortfallMm, 1)} mm too long: take a spacer out, or put one between guider and main camera.`,
      on: !path.reachable,
    },
    {
      sign: 'Main camera a few millimetres out of focus range',
      cause: 'The stack in front of the sensor is longer or shorter than the focuser allows for.',
      cure: 'See Focuser travel: rings out gains in-focus, rings in gains out-focus.',
      on: false,
    },
  ];
}
