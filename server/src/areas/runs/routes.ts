import { api } from '@keen/contract';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import { acceptRun } from './accept.ts';
import { runHeads, runOf } from './records.ts';

export function runRoutes(serve: Serve, store: Store): void {
  serve(api.runs, ({ who, query }) => runHeads(store, who, query));
  serve(api.run, ({ who, params }) => runOf(store, who, params.id));
  serve(api.acceptRun, ({ who, params }) => acceptRun(store, who, params.id));
}
