import { api } from '@keen/contract';
import type { RunTask } from '../calculations/pool.ts';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import { acceptRun } from './accept.ts';
import { runHeads, runOf } from './records.ts';
import { rehearse } from './rehearse.ts';

export function runRoutes(serve: Serve, store: Store, runTask: RunTask): void {
  serve(api.rehearse, ({ who, params, body }) => rehearse(store, runTask, who, params.id, body.seed));
  serve(api.runs, ({ who, query }) => runHeads(store, who, query));
  serve(api.run, ({ who, params }) => runOf(store, who, params.id));
  serve(api.acceptRun, ({ who, params }) => acceptRun(store, who, params.id));
}
