import { api } from '@keen/contract';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import { setupListService } from './service.ts';
import { duskSettingsService } from './settings.ts';

export function duskRoutesOf(serve: Serve, store: Store): void {
  const lists = setupListService(store);
  serve(api.setupList, ({ who, params, query }) => lists.read(who, params.id, query.night));
  serve(api.changeSetupList, ({ who, params, query, body }) => lists.change(who, params.id, query.night, body));
  serve(api.tickSetup, ({ who, params, body }) => lists.tick(who, params.id, body));
  const settings = duskSettingsService(store);
  serve(api.duskSettings, ({ who, params }) => settings.read(who, params.id));
  serve(api.keepDuskSettings, ({ who, params, body }) => settings.keep(who, params.id, body));
}
