import { api, MOST_EVENTS } from '@keen/contract';
import { parseInput } from '@keen/core';
import type { Router } from 'express';
import { pipeline } from 'node:stream/promises';
import { currentMember, demandRole } from '../../access/index.ts';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import type { Streams } from '../../streams/open.ts';
import type { RunTask } from '../calculations/pool.ts';
import type { FrameKeeper } from './frameKeeper.ts';
import { eventsOf } from './log.ts';
import type { LiveRunner } from './runner.ts';
import {
  commandRun,
  demandLive,
  liveRun,
  liveRuns,
  runControls,
  setRunSpeed,
  startRun,
  throwFault,
} from './service.ts';
import type { RunTail } from './tail.ts';

export function liveRunRoutesOf(
  router: Router,
  serve: Serve,
  store: Store,
  of: {
    runTask: RunTask;
    runner: LiveRunner;
    tail: RunTail;
    streams: Streams;
    keeper: FrameKeeper;
    bridges: Readonly<Record<string, string>>;
  },
): void {
  const { runTask, runner, tail, streams, bridges, keeper } = of;
  serve(api.startRun, async ({ who, params, body }) => {
    const begun = await startRun(store, runTask, who, params.id, body, bridges);
    runner.look();
    return begun;
  });
  serve(api.bridges, async () => Object.keys(bridges));
  serve(api.liveRuns, ({ who, query }) => liveRuns(store, who, query));
  serve(api.liveRun, ({ who, params }) => liveRun(store, who, params.id));
  serve(api.liveRunEvents, async ({ who, params, query }) => {
    await demandLive(store, who, params.id);
    const events = await eventsOf(store, params.id, query.after, MOST_EVENTS);
    return { events, more: events.length === MOST_EVENTS };
  });
  serve(api.liveRunFrames, async ({ who, params }) => {
    await demandLive(store, who, params.id);
    return keeper.list(params.id);
  });
  serve(api.liveRunPicture, async ({ who, params: { id, n }, query: { second } }) => {
    await demandLive(store, who, id);
    return keeper.picture(id, { n, second: second === 'true' });
  });
  router.get(api.liveRunFile.path, async (req, res) => {
    const { id, n } = parseInput(api.liveRunFile.params, req.params);
    const second = parseInput(api.liveRunFile.query, req.query).second === 'true';
    const who = await currentMember(store, req);
    demandRole(who, api.liveRunFile.role!);
    await demandLive(store, who, id);
    const file = await keeper.file(id, { n, second });
    res
      .type('application/fits')
      .set('content-disposition', `attachment; filename="${id.slice(0, 8)}-${second ? 'second-' : ''}${n}.fits"`);
    // somebody who goes away while it is sent breaks nothing
    await pipeline(file.createReadStream(), res).catch(() => undefined);
  });
  /** What was asked for is at hand at once where this server drives the run. */
  const woken = async <T>(id: string, work: Promise<T>): Promise<T> => {
    const done = await work;
    runner.wake(id);
    return done;
  };
  serve(api.commandRun, ({ who, params, body }) => woken(params.id, commandRun(store, who, params.id, body.code)));
  serve(api.setRunSpeed, ({ who, params, body }) => woken(params.id, setRunSpeed(store, who, params.id, body.speed)));
  serve(api.runControls, ({ who, params, body }) => runControls(store, who, params.id, body.do));
  serve(api.throwFault, ({ who, params, body }) => woken(params.id, throwFault(store, who, params.id, body)));

  router.get(api.liveRunStream.path, async (req, res) => {
    const { id } = parseInput(api.liveRunStream.params, req.params);
    const query = parseInput(api.liveRunStream.query, req.query);
    await streams.open(req, res, query.after, async ({ who, after }) => {
      await demandLive(store, who, id);
      const watcher = { after: after ?? 0 };
      return {
        first: ['beat', watcher.after],
        last: () => watcher.after,
        begin: (line) =>
          tail.watch(
            id,
            Object.assign(watcher, {
              tell: (events: readonly { seq: number; event: unknown }[]) => {
                for (const e of events) line.push(e, 'happened', String(e.seq));
              },
            }),
          ),
      };
    });
  });
}
