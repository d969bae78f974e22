import { api } from '@keen/contract';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import { countService } from './counts.ts';
import { handoverService } from './handovers.ts';
import { upkeepService } from './upkeep.ts';

export function upkeepRoutesOf(serve: Serve, store: Store): void {
  const upkeep = upkeepService(store);
  serve(api.upkeep, ({ who }) => upkeep.list(who));
  serve(api.addUpkeep, ({ who, body }) => upkeep.add(who, body));
  serve(api.changeUpkeep, ({ who, params, body }) => upkeep.change(who, params.id, body));
  serve(api.dropUpkeep, ({ who, params }) => upkeep.drop(who, params.id).then(() => ({ ok: true as const })));
  serve(api.upkeepDone, ({ who, params, body }) => upkeep.done(who, params.id, body));
  const handovers = handoverService(store);
  serve(api.handovers, ({ who }) => handovers.list(who));
  serve(api.takeOver, ({ who, params, body }) => handovers.takeOver(who, params.id, body));
  serve(api.handBack, ({ who, params, body }) => handovers.handBack(who, params.id, body));
  const counts = countService(store);
  serve(api.counts, ({ who }) => counts.list(who));
  serve(api.keepCount, ({ who, body }) => counts.keep(who, body));
  serve(api.adoptCount, ({ who, params }) => counts.adopt(who, params.id));
}
