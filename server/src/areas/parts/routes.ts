import { api } from '@keen/contract';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import { partsService } from './service.ts';

export function partRoutes(serve: Serve, store: Store): void {
  const parts = partsService(store);
  const ok = { ok: true as const };
  serve(api.parts, ({ who, query }) => parts.list(who, query));
  serve(api.addPart, ({ who, body }) => parts.add(who, body));
  serve(api.changePart, ({ who, params, body }) => parts.change(who, params.id, body));
  serve(api.archivePart, ({ who, params }) => parts.archive(who, params.id).then(() => ok));
  serve(api.restorePart, ({ who, params }) => parts.restore(who, params.id).then(() => ok));
}
