import { api } from '@keen/contract';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import { projectsService } from './service.ts';

export function projectRoutesOf(serve: Serve, store: Store): void {
  const projects = projectsService(store);
  serve(api.projects, ({ who, query }) => projects.list(who, query));
  serve(api.addProject, ({ who, body }) => projects.add(who, body));
  serve(api.changeProject, ({ who, params, body }) => projects.change(who, params.id, body));
  serve(api.pinFraming, ({ who, params, body }) => projects.pin(who, params.id, body));
}
