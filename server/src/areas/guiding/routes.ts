import { api } from '@keen/contract';
import type { RunTask } from '../calculations/pool.ts';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import { guideLogsService } from './service.ts';

export function guidingRoutesOf(serve: Serve, store: Store, runTask: RunTask): void {
  const logs = guideLogsService(store, runTask);
  serve(api.guideLogs, ({ who, params, query }) => logs.list(who, params.id, query));
  serve(api.guideLog, ({ who, params }) => logs.read(who, params.id));
  serve(api.keepGuideLog, ({ who, params, body }) => logs.keep(who, params.id, body));
  serve(api.timeGuideLog, ({ who, params, body }) => logs.began(who, params.id, body.beganAt));
  serve(api.dropGuideLog, ({ who, params }) => logs.drop(who, params.id));
}
