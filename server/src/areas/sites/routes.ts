import { api } from '@keen/contract';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import { sitesService } from './service.ts';
import { weatherService } from './weather.ts';

export function siteRoutes(serve: Serve, store: Store): void {
  const sites = sitesService(store);
  const weather = weatherService(store);
  serve(api.sites, ({ who }) => sites.list(who));
  serve(api.addSite, ({ who, body }) => sites.add(who, body));
  serve(api.changeSite, ({ who, params, body }) => sites.change(who, params.id, body));
  serve(api.forecast, ({ who, params, query }) => weather.forecast(who, params.id, query.night));
  serve(api.clearSpells, ({ who, params }) => weather.learnt(who, params.id));
}
