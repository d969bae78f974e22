import { phrase, type Phrase } from '../phrases/index.ts';
import type { GuidePathOutput } from './guidePath.ts';
import type { PrismOutput } from './prism.ts';

/** What is seen in the dark, what it is, and what this very guider says to it; `on` where it is to be expected here. */
export interface OffAxisSign {
  sign: string;
  cause: string;
  cure: Phrase;
  on: boolean;
}
/** Shares that show in a picture; common practice, no source. */
const SHADE_SEEN = 0.01;
/** Share of the light that a guide prism should let through; common practice, no source. */
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
        ? phrase('signs.shaded', { outMm: outwardMm, clearMm: prism.clearInnerEdgeMm })
        : phrase('signs.not-shaded', { spareMm: -outwardMm }),
      on: shaded,
    },
    {
      sign: 'Guide camera half lit, or dark',
      cause: 'The window lies outside the image circle, or the prism is small for the cone.',
      cure: !prism.insideImageCircle
        ? phrase('signs.beyond-circle', { radiusMm: prism.guideCentreRadiusMm })
        : phrase('signs.light', { lightPercent: 100 * prism.guideLightFraction }),
      on: !prism.insideImageCircle || prism.guideLightFraction < LIGHT_WANTED,
    },
    {
      sign: 'Guide camera will not focus, all the way in or out',
      cause: 'The two sensors are at unequal distances from the prism.',
      cure: path.reachable
        ? phrase('signs.focuses', { settingMm: path.focuserMm ?? 0 })
        : path.shortfallMm > 0
          ? phrase('signs.guide-side-short', { missingMm: path.shortfallMm })
          : phrase('signs.guide-side-long', { overMm: -path.shortfallMm }),
      on: !path.reachable,
    },
    {
      sign: 'Main camera a few millimetres out of focus range',
      cause: 'The stack in front of the sensor is longer or shorter than the focuser allows for.',
      cure: phrase('signs.focuser-travel'),
      on: false,
    },
  ];
}
