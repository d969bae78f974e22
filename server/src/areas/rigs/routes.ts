import { api } from '@keen/contract';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import { cablesService } from './cables.ts';
import { rigsService } from './service.ts';
import { sinceLastNight } from './sinceLast.ts';

export function rigRoutesOf(serve: Serve, store: Store): void {
  const rigs = rigsService(store);
  serve(api.rigs, ({ who }) => rigs.list(who));
  serve(api.addRig, ({ who, body }) => rigs.add(who, body));
  serve(api.reviseRig, ({ who, params, body }) => rigs.revise(who, params.id, body));
  serve(api.sinceLastNight, ({ who, params }) => sinceLastNight(store, who, params.id));
  serve(api.revisions, ({ who, params }) => rigs.revisions(who, params.id));
  const cables = cablesService(store);
  serve(api.cables, ({ who, params }) => cables.read(who, params.id));
  serve(api.keepCables, ({ who, params, body }) => cables.keep(who, params.id, body));
  serve(api.trainStates, ({ who, params }) => rigs.trainStates(who, params.id));
}
