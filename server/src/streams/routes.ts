import { api } from '@keen/contract';
import { parseInput } from '@keen/core';
import type { Router } from 'express';
import type { Serve } from '../http.ts';
import type { EventHub } from './hub.ts';
import type { Streams } from './open.ts';

export function eventRoutesOf(router: Router, serve: Serve, hub: EventHub, streams: Streams): void {
  serve(api.events, async ({ who, query }) => {
    if (query.after === undefined) return { events: [], last: await hub.newest(), forgotten: false };
    const got = await hub.since(who.clubId, who.id, query.after);
    return got ? { ...got, forgotten: false } : { events: [], last: await hub.newest(), forgotten: true };
  });

  router.get(api.eventStream.path, async (req, res) => {
    const query = parseInput(api.eventStream.query, req.query);
    await streams.open(req, res, query.after, async ({ who, after: asked }) => {
      const newest = await hub.newest();
      const forgotten = asked !== null && !(await hub.keptSince(asked));
      const after = asked === null || forgotten ? newest : asked;
      const listener = { clubId: who.clubId, memberId: who.id, after };
      return {
        first: [forgotten ? 'forgotten' : 'beat', after],
        last: () => listener.after,
        begin: (line) =>
          hub.listen(
            Object.assign(listener, {
              tell: (events: readonly { kind: string; seq: number }[]) => {
                for (const e of events) line.push(e, 'happened', String(e.seq));
                // a change of people may be one of whoever listens
                if (events.some((e) => 'what' in e && e.what === 'members')) line.check();
              },
            }),
          ),
      };
    });
  });
}
