import { USUAL_WATCHES, Watches } from '@keen/core/sequence';
import { z } from 'zod';
import { none } from './common.ts';
import { route } from './route.ts';

/** What a club, or a person alone, begins with everywhere; each plan, project and person may do otherwise. */
export const ClubSettings = z.strictObject({
  /** For whoever has not chosen their own. */
  units: z.enum(['metric', 'imperial']),
  /** Below it nothing is looked for, and new projects are not taken. */
  lowestAltitudeDeg: z.number().min(0).max(85),
  /** Noise that a frame may have beyond sky and dark current: how long frames should be. */
  noiseIncreasePercent: z.number().min(0.5).max(50),
  /** Rules a new plan is looked after by. */
  watches: Watches,
});
export type ClubSettings = z.infer<typeof ClubSettings>;
/** Where nobody said otherwise: common practice, no source. */
export const USUAL_SETTINGS: ClubSettings = {
  units: 'metric',
  lowestAltitudeDeg: 30,
  noiseIncreasePercent: 5,
  watches: USUAL_WATCHES,
};

export const clubSettingsRoutes = {
  clubSettings: route({
    method: 'get',
    path: '/api/club/settings',
    summary: 'What the club begins with everywhere',
    area: 'Access',
    role: 'watcher',
    params: none,
    query: none,
    body: none,
    response: ClubSettings,
  }),
  changeClubSettings: route({
    method: 'put',
    path: '/api/club/settings',
    summary: 'Say what the club begins with everywhere',
    area: 'Access',
    role: 'steward',
    params: none,
    query: none,
    body: ClubSettings,
    response: ClubSettings,
  }),
};
