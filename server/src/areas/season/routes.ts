import { api } from '@keen/contract';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import { planHours } from './planHours.ts';
import { promiseBoard } from './promise.ts';

export function seasonRoutesOf(serve: Serve, store: Store): void {
  serve(api.promise, ({ who, body }) => promiseBoard(store, who, body));
  serve(api.planHours, ({ who, body }) => planHours(store, who, body));
}
