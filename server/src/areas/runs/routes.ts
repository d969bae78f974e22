import { api } from '@keen/contract';
import type { RunTask } from '../calculations/pool.ts';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import { runsService } from './service.ts';

export function runRoutes(serve: Serve, store: Store, runTask: RunTask): void {
  const runs = runsService(store, runTask);
  serve(api.rehearse, ({ who, params, body }) => runs.rehearse(who, params.id, body.seed));
  serve(api.runs, ({ who, query }) => runs.list(who, query));
  serve(api.run, ({ who, params }) => runs.get(who, params.id));
  serve(api.acceptRun, ({ who, params }) => runs.accept(who, params.id));
}
