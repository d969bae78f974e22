import { createSession } from 'better-sse';
import type { Request, Response } from 'express';
import { currentMember, demandRole } from '../access/index.ts';
import type { Metrics } from '../metrics.ts';
import { Problem } from '../problems.ts';
import type { Actor, Store } from '../store.ts';

/** Something is sent at least so often: a proxy cuts a line on which nothing comes, and a page knows that its line lives [ms]. */
const BEAT_MS = 15_000;
/** How soon a page whose line was cut comes again [ms]. */
const AGAIN_MS = 1000;
/** Pages that may listen to one server, and of one member: a browser opens a few tabs. */
const MOST = { inAll: 2000, perMember: 40 };

/** A line to a page that listens. */
export interface Line {
  push: (data: unknown, event: string, id: string) => void;
  /** Ends it where whoever listens may not any more. */
  check: () => void;
}
export interface Listening {
  who: Actor;
  /** After what it goes on: what the page was told last, or what it asked for; null: neither. */
  after: number | null;
}
/** What a stream does once somebody may listen. */
export interface Feed {
  /** The first thing that is sent, and its number. */
  first: readonly [event: string, id: number];
  /** The number that is sent with a beat. */
  last: () => number;
  /** Begins to send. @returns ends it */
  begin: (line: Line) => () => void;
}

/** The streams a server has open, so that they can be ended when it stops. */
export interface Streams {
  close: () => void;
  /** Answers a request with a stream. @param feed may refuse it, before anything is sent */
  open: (
    req: Request,
    res: Response,
    after: number | undefined,
    feed: (of: Listening) => Promise<Feed>,
  ) => Promise<void>;
}

export function streamsOf(store: Store, metrics: Pick<Metrics, 'streamsOpen'>): Streams {
  const open = new Map<object, { memberId: string; end: () => void }>();
  let closed = false;
  return {
    close: () => {
      closed = true;
      for (const s of [...open.values()]) s.end();
    },
    open: async (req, res, asked, feed) => {
      const who = await currentMember(store, req);
      demandRole(who, 'watcher');
      const { sessionID, session } = req;
      const epoch = session.epoch ?? 0;
      // a page that listens does not use its session, and must not write it back when it ends: it may have ended long before
      delete (req as Partial<Request>).session;
      if (closed) throw new Problem('stopping');
      const own = [...open.values()].filter((s) => s.memberId === who.id).length;
      if (open.size >= MOST.inAll || own >= MOST.perMember)
        throw new Problem('busy', 'Too many pages listen already; this one asks from time to time.');
      const lastId = Number(req.get('last-event-id'));
      const known = req.get('last-event-id') && Number.isSafeInteger(lastId) ? lastId : -1;
      const after = Math.max(asked ?? -1, known);
      const { first, last, begin } = await feed({ who, after: after < 0 ? null : after });

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
      const check = (then: () => void = () => undefined) =>
        void stands().then(
          (yes) => (yes ? then() : end()),
          () => undefined,
        );
      const beat = setInterval(() => check(() => void stream.push('', 'beat', String(last()))), BEAT_MS);
      stream.once('disconnected', end);
      open.set(stream, { memberId: who.id, end });
      metrics.streamsOpen(open.size);
      stream.push('', first[0], String(first[1]));
      quiet = begin({ push: (data, event, id) => void stream.push(data, event, id), check: () => check() });
      if (!stream.isConnected) end();
    },
  };
}
