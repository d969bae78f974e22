import { api } from '@keen/contract';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import type { Calculate } from '../calculations/pool.ts';
import { computeIn } from './results.ts';
import { focusService } from './service.ts';

export function focusRoutesOf(serve: Serve, store: Store, calculate: Calculate): void {
  const focus = focusService(store, computeIn(calculate));
  serve(api.focusRuns, ({ who, query }) => focus.list(who, query.trainStateId, query));
  serve(api.addFocusRuns, ({ who, body }) => focus.add(who, body.trainStateId, body.source, body.runs));
  serve(api.excludeFocusRun, ({ who, params, body }) =>
    focus.exclude(who, params.id, body.excluded).then(() => ({ ok: true as const })),
  );
  serve(api.offsetSets, ({ who, query }) => focus.sets(who, query.trainStateId));
  serve(api.adoptOffsets, ({ who, body }) => focus.adopt(who, body));
}
