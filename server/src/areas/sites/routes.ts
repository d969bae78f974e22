import { api } from '@keen/contract';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import { sitesService } from './service.ts';

export function siteRoutes(serve: Serve, store: Store): void {
  const sites = sitesService(store);
  serve(api.sites, ({ who }) => sites.list(who));
  serve(api.addSite, ({ who, body }) => sites.add(who, body));
  serve(api.changeSite, ({ who, params, body }) => sites.change(who, params.id, body));
}
