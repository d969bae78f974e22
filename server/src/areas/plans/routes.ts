import { api } from '@keen/contract';
import type { Config } from '../../config.ts';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import { demandRig } from '../rigs/current.ts';
import { dropFeed, feedPath } from './feed.ts';
import { plansService } from './service.ts';

export function planRoutes(serve: Serve, store: Store, config: Config): void {
  const plans = plansService(store);
  serve(api.plans, ({ who, query }) => plans.list(who, query));
  serve(api.addPlan, ({ who, body }) => plans.add(who, body));
  serve(api.changePlan, ({ who, params, body }) => plans.change(who, params.id, body));
  serve(api.calendarFeed, async ({ who, params }) => {
    await demandRig(store, who.clubId, params.id);
    return { path: await feedPath(store, config.secret, who, params.id) };
  });
  serve(api.dropCalendarFeed, async ({ who, params }) => {
    await demandRig(store, who.clubId, params.id);
    await dropFeed(store, who, params.id);
    return { ok: true as const };
  });
  serve(api.cancelPlan, ({ who, params }) => plans.cancel(who, params.id).then(() => ({ ok: true as const })));
}
