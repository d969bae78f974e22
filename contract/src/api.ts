import { sessionRoutes } from './access.ts';
import { bookingRoutes } from './bookings.ts';
import { cableRoutes } from './cables.ts';
import { clubSettingsRoutes } from './clubSettings.ts';
import { drillRoutes } from './drills.ts';
import { duskRoutes } from './dusk.ts';
import { duskSettingsRoutes } from './duskSettings.ts';
import { eventRoutes } from './events.ts';
import { focusRoutes } from './focus.ts';
import { jobRoutes } from './jobs.ts';
import { liveRunRoutes } from './liveRuns.ts';
import { logbookRoutes } from './logbook.ts';
import { masterRoutes } from './masters.ts';
import { nightRoutes } from './nights.ts';
import { peopleRoutes } from './people.ts';
import { changeRoutes } from './changes.ts';
import { planRoutes } from './plans.ts';
import { projectRoutes } from './projects.ts';
import { runRoutes } from './runs.ts';
import { seasonRoutes } from './season.ts';
import { riskRoutes } from './risk.ts';
import { rigRoutes } from './rigs.ts';
import { upkeepRoutes } from './upkeep.ts';
import { weatherRoutes } from './weather.ts';

/** Every route, by the name server and web call it. */
export const api = {
  ...sessionRoutes,
  ...peopleRoutes,
  ...rigRoutes,
  ...focusRoutes,
  ...projectRoutes,
  ...planRoutes,
  ...runRoutes,
  ...liveRunRoutes,
  ...changeRoutes,
  ...nightRoutes,
  ...duskRoutes,
  ...duskSettingsRoutes,
  ...weatherRoutes,
  ...cableRoutes,
  ...drillRoutes,
  ...logbookRoutes,
  ...masterRoutes,
  ...jobRoutes,
  ...riskRoutes,
  ...seasonRoutes,
  ...bookingRoutes,
  ...upkeepRoutes,
  ...clubSettingsRoutes,
  ...eventRoutes,
};
