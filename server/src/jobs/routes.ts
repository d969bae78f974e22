import { api } from '@keen/contract';
import { checkPlan } from '../areas/plans/check.ts';
import { demandRehearsable } from '../areas/runs/rehearse.ts';
import { demandRigs } from '../areas/season/board.ts';
import type { Serve } from '../http.ts';
import type { Store } from '../store.ts';
import { jobQueue } from './queue.ts';
import type { JobRunner } from './runner.ts';

/** Jobs over HTTP: what asks for one looks whether it can be done at all, the work itself comes later. */
export function jobRoutesOf(serve: Serve, store: Store, runner: JobRunner): void {
  const queue = jobQueue(store);
  serve(api.rehearse, async ({ who, params, body }) => {
    await demandRehearsable(store, who, params.id);
    const job = await queue.add(who, 'rehearsal', params.id, { planId: params.id, ...body });
    runner.look();
    return job;
  });
  serve(api.playRisk, async ({ who, body }) => {
    await checkPlan(store, who, body.plan);
    const job = await queue.add(who, 'risk', body.planId, body);
    runner.look();
    return job;
  });
  serve(api.workOutBoard, async ({ who, body }) => {
    await demandRigs(store, who, body.rigIds);
    const job = await queue.add(who, 'board', null, body);
    runner.look();
    return job;
  });
  serve(api.jobs, ({ who, query }) => queue.list(who, query));
  serve(api.job, ({ who, params }) => queue.one(who, params.id));
  serve(api.cancelJob, async ({ who, params }) => {
    await queue.cancel(who, params.id);
    runner.cancelled(params.id);
    return { ok: true as const };
  });
}
