import { ClubEvent } from '@keen/contract';
import { inTransaction } from '../database/index.ts';
import { iso, type Store } from '../store.ts';

/** How often it is looked for what other servers wrote down, while somebody listens [ms]. */
const LOOK_MS = 400;
/** Events told at a time, and numbered at a time. */
const AT_ONCE = 500;
/** Events are kept for a day: whoever was away for longer reads everything anew [ms]. */
const KEPT_MS = 86_400_000;
const SWEEP_MS = 600_000;

interface EventRow {
  seq: number;
  clubId: string;
  memberId: string | null;
  kind: string;
  /** Text, or what it says, as the driver likes. */
  data: string | object;
  at: Date;
}
const eventOf = ({ seq, kind, at, data }: EventRow): ClubEvent =>
  ({
    kind,
    seq: Number(seq),
    at: iso(at),
    ...(typeof data === 'string' ? (JSON.parse(data) as object) : data),
  }) as ClubEvent;

/** Who listens, and after what. */
export interface Listener {
  clubId: string;
  memberId: string;
  /** The last they were told. */
  after: number;
  tell: (events: readonly ClubEvent[]) => void;
}

/**
 * Tells pages what happened, whichever server it happened at. Events are written down without a number, with what they tell of;
 * whoever looks next gives numbers to those that can be seen, in a turn at the one counter. So numbers become visible in their
 * order, and who has read up to one has missed none before it.
 */
export function eventHub(store: Store, report: (error: unknown, where: string) => void) {
  const listeners = new Set<Listener>();
  /** Those who are not yet told all that the others were. */
  const behind = new Set<Listener>();
  /** Up to here everybody who listens was told. */
  let last: number | null = null;
  let [looking, again, swept] = [false, false, Date.now()];
  let timer: NodeJS.Timeout | null = null;

  async function number(): Promise<void> {
    const [first] = await store.read<{ id: string }>('SELECT id FROM events WHERE seq IS NULL LIMIT 1', []);
    if (!first) return;
    await inTransaction(store.db, async (t) => {
      const run = (sql: string, replacements: Record<string, unknown>) =>
        store.db.query(sql, { replacements, transaction: t });
      // written before anything is read: of two that number at once one waits, or is undone
      await run("UPDATE counters SET value = value + 1 WHERE name = 'events'", {});
      const [counter] = await store.read<{ value: number }>("SELECT value FROM counters WHERE name = 'events'", [], t);
      const rows = await store.read<{ id: string }>(
        `SELECT id FROM events WHERE seq IS NULL ORDER BY at, id LIMIT ${AT_ONCE}`,
        [],
        t,
      );
      const before = Number(counter!.value) - 1;
      const counted = (value: number) => run("UPDATE counters SET value = :value WHERE name = 'events'", { value });
      if (rows.length === 0) return void (await counted(before));
      const cases = rows.map((_, i) => `WHEN :id${i} THEN :first + ${i}`).join(' ');
      const ids = Object.fromEntries(rows.map((r, i) => [`id${i}`, r.id]));
      await run(`UPDATE events SET seq = CASE id ${cases} END WHERE id IN (:all)`, {
        ...ids,
        first: before + 1,
        all: rows.map((r) => r.id),
      });
      await counted(before + rows.length);
    });
  }
  const newest = async (): Promise<number> =>
    Number((await store.read<{ value: number }>("SELECT value FROM counters WHERE name = 'events'", []))[0]!.value);
  /** Everything after this number is still there; a number that was never given is from another database. */
  async function keptSince(seq: number): Promise<boolean> {
    const until = await newest();
    const [kept] = await store.read<{ first: number | null }>('SELECT MIN(seq) AS first FROM events', []);
    const first = kept!.first === null ? until + 1 : Number(kept!.first);
    return seq <= until && seq >= first - 1;
  }
  const COLUMNS = 'seq, club_id AS clubId, member_id AS memberId, kind, data, at';
  /** What one member may be told after a number. */
  const after = (clubId: string, memberId: string, seq: number) =>
    store.read<EventRow>(
      `SELECT ${COLUMNS} FROM events WHERE seq > ? AND club_id = ? AND (member_id IS NULL OR member_id = ?) ORDER BY seq LIMIT ${AT_ONCE}`,
      [seq, clubId, memberId],
    );
  function give(l: Listener, rows: readonly EventRow[]): void {
    const own = rows.filter(
      (r) => Number(r.seq) > l.after && r.clubId === l.clubId && (r.memberId === null || r.memberId === l.memberId),
    );
    if (own.length === 0) return;
    l.after = Number(own.at(-1)!.seq);
    l.tell(own.map(eventOf));
  }
  async function look(): Promise<void> {
    if (looking) return void (again = true);
    looking = true;
    try {
      do {
        again = false;
        await number();
        last ??= await newest();
        const rows = await store.read<EventRow>(
          `SELECT ${COLUMNS} FROM events WHERE seq > ? ORDER BY seq LIMIT ${AT_ONCE}`,
          [last],
        );
        if (rows.length) last = Number(rows.at(-1)!.seq);
        for (const l of listeners) if (!behind.has(l)) give(l, rows);
        // read after the others were told: what is read here and once more for everybody is known by its number
        for (const l of behind) {
          const own = await after(l.clubId, l.memberId, l.after);
          give(l, own);
          if (own.length < AT_ONCE) behind.delete(l);
        }
        again ||= rows.length === AT_ONCE || behind.size > 0;
      } while (again);
      if (Date.now() - swept > SWEEP_MS) {
        swept = Date.now();
        await store.db.query('DELETE FROM events WHERE at < :old LIMIT 2000', {
          replacements: { old: new Date(store.now().getTime() - KEPT_MS) },
        });
      }
    } catch (e) {
      // it is looked again before long; nobody’s place is lost by that
      report(e, 'events');
    } finally {
      looking = false;
    }
  }

  return {
    /** Something was written down here: no need to wait for the next look. */
    wake: () => {
      if (listeners.size) void look();
    },
    /**
     * What happened after a number that somebody was told.
     * @returns null where it is not kept any more, or never was
     */
    async since(clubId: string, memberId: string, seq: number): Promise<{ events: ClubEvent[]; last: number } | null> {
      await number();
      const until = await newest();
      if (!(await keptSince(seq))) return null;
      const events = (await after(clubId, memberId, seq)).map(eventOf);
      const told = events.at(-1)?.seq ?? seq;
      return { events, last: events.length === AT_ONCE ? told : Math.max(until, told) };
    },
    keptSince,
    newest: async () => {
      await number();
      return newest();
    },
    /** Somebody listens, and is first told what happened since. @returns ends it */
    listen(l: Listener): () => void {
      listeners.add(l);
      behind.add(l);
      void look();
      timer ??= setInterval(() => void look(), LOOK_MS).unref();
      return () => {
        listeners.delete(l);
        behind.delete(l);
        if (listeners.size || !timer) return;
        clearInterval(timer);
        timer = null;
        last = null;
      };
    },
  };
}
export type EventHub = ReturnType<typeof eventHub>;
