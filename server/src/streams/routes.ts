import { api } from '@keen/contract';
import { parseInput } from '@keen/core';
import { createSession } from 'better-sse';
import type { Request, Router } from 'express';
import { currentMember, demandRole } from '../access/index.ts';
import type { Serve } from '../http.ts';
import type { Metrics } from '../metrics.ts';
import { Problem } from '../problems.ts';
import type { Store } from '../store.ts';
import type { EventHub } from './hub.ts';

/** Something is sent at least so often: a proxy cuts a line on which nothing comes, and a page knows that its line lives [ms]. */
const BEAT_MS = 15_000;
/** How soon a page whose line was cut comes again [ms]. */
const AGAIN_MS = 1000;
/** Pages that may listen to one server, and of one member: a browser opens a few tabs. */
const MOST = { inAll: 2000, perMember: 40 };

/** The streams a server has open, so that they can be ended when it stops. */
export interface Streams {
  close: () => void;
}

export function eventRoutesOf(
  router: Router,
  serve: Serve,
  store: Store,
  hub: EventHub,
  metrics: Pick<Metrics, 'streamsOpen'>,
): Streams {
  const open = new Map<object, { memberId: string; end: () => void }>();
  let closed = false;

  serve(api.events, async ({ who, query }) => {
    if (query.after === undefined) return { events: [], last: await hub.newest(), forgotten: false };
    const got = await hub.since(who.clubId, who.id, query.after);
    return got ? { ...got, forgotten: false } : { events: [], last: await hub.newest(), forgotten: true };
  });

  router.get(api.eventStream.path, async (req, res) => {
    const who = await currentMember(store, req);
    demandRole(who, 'watcher');
    const query = parseInput(api.eventStream.query, req.query);
    const { sessionID, session } = req;
    const epoch = session.epoch ?? 0;
    // a page that listens does not use its session, and must not write it back when it ends: it may have ended long before
    delete (req as Partial<Request>).session;
    if (closed) throw new Problem('stopping');
    const own = [...open.values()].filter((s) => s.memberId === who.id).length;
    if (open.size >= MOST.inAll || own >= MOST.perMember)
      throw new Problem('busy', 'Too many pages listen already; this one asks from time to time.');

    const newest = await hub.newest();
    const lastId = Number(req.get('last-event-id'));
    const asked = Math.max(query.after ?? -1, Number.isSafeInteger(lastId) && req.get('last-event-id') ? lastId : -1);
    const forgotten = asked >= 0 && !(await hub.keptSince(asked));
    const after = asked < 0 || forgotten ? newest : asked;

    res.locals.stream = true;
    const stream = await createSession(req, res, { keepAlive: null, retry: AGAIN_MS });
    let quiet = () => undefined as void;
    const end = () => {
      quiet();
      clearInterval(beat);
      open.delete(stream);
      metrics.streamsOpen(open.size);
      if (stream.isConnected) res.end();
    };
    /** Whoever signed out, left the club or was made somebody else is told nothing more. */
    const stands = async () => {
      const [row] = await store.read<{ id: string }>(
        `SELECT m.id FROM members m JOIN Sessions s ON s.sid = ?
         WHERE m.id = ? AND m.club_id = ? AND m.role = ? AND m.session_epoch = ? AND m.archived_at IS NULL AND s.expires > UTC_TIMESTAMP(3)`,
        [sessionID, who.id, who.clubId, who.role, epoch],
      );
      return Boolean(row);
    };
    const beat = setInterval(() => {
      stands().then(
        (yes) => (yes ? void stream.push('', 'beat', String(listener.after)) : end()),
        () => undefined,
      );
    }, BEAT_MS);
    const listener = {
      clubId: who.clubId,
      memberId: who.id,
      after,
      tell: (events: readonly { kind: string; seq: number }[]) => {
        for (const e of events) stream.push(e, 'happened', String(e.seq));
        // a change of people may be one of whoever listens
        if (events.some((e) => 'what' in e && e.what === 'members'))
          stands().then(
            (yes) => (yes ? undefined : end()),
            () => undefined,
          );
      },
    };
    stream.once('disconnected', end);
    open.set(stream, { memberId: who.id, end });
    metrics.streamsOpen(open.size);
    stream.push('', forgotten ? 'forgotten' : 'beat', String(after));
    quiet = hub.listen(listener);
    if (!stream.isConnected) end();
  });
  return {
    close: () => {
      closed = true;
      for (const s of [...open.values()]) s.end();
    },
  };
}
