import { isAbsent } from '@keen/core/absences';
import { movingUp, overlap, TAKES_HOURS, type Hours } from '@keen/core/booking';
import { Op, type Transaction, type WhereOptions } from 'sequelize';
import { plain, type BookingRow, type PlanLegRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import type { Actor, Store } from '../../store.ts';
import { absencesOf } from './absences.ts';
import { sharingOf } from './sharing.ts';

const MINUTE_MS = 60_000;
/** What stands in the way of hours on a rig. */
export interface InTheWay extends Hours {
  what: 'plan' | 'booking';
  id: string;
  memberId: string;
}
export const hoursOf = (b: { start: Date; end: Date }): Hours => ({
  fromMs: b.start.getTime(),
  untilMs: b.end.getTime(),
});

/** Bookings that take hours of a rig between two moments. */
export async function bookedHours(store: Store, rigId: string, of: Hours, t: Transaction): Promise<BookingRow[]> {
  const rows = await store.bookings.findAll({
    where: {
      rigId,
      state: [...TAKES_HOURS],
      start: { [Op.lt]: new Date(of.untilMs) },
      end: { [Op.gt]: new Date(of.fromMs) },
    } as WhereOptions<BookingRow>,
    order: [['start', 'ASC']],
    transaction: t,
  });
  return rows.map(plain);
}

/** All that takes hours of a rig between two moments: bookings, and plans. In the turn of whoever wants them. */
export async function inTheWay(store: Store, rigId: string, of: Hours, t: Transaction): Promise<InTheWay[]> {
  const plans = await store.read<{ id: string; ownerId: string; start: Date; end: Date }>(
    `SELECT id, owner_id AS ownerId, start, end FROM plans WHERE rig_id = ? AND status <> 'cancelled' AND archived_at IS NULL
       AND start < ? AND end > ? ORDER BY start`,
    [rigId, new Date(of.untilMs), new Date(of.fromMs)],
    t,
  );
  return [
    ...(await bookedHours(store, rigId, of, t)).map((b): InTheWay => ({
      what: 'booking',
      id: b.id,
      memberId: b.memberId,
      ...hoursOf(b),
    })),
    ...plans.map((p): InTheWay => ({ what: 'plan', id: p.id, memberId: p.ownerId, ...hoursOf(p) })),
  ];
}

/** Who has the hours, in words. */
export function taken(first: InTheWay, names: Map<string, string>): Problem {
  const [from, until] = [new Date(first.fromMs).toISOString(), new Date(first.untilMs).toISOString()];
  const has = first.what === 'plan' ? 'has planned' : 'has';
  return new Problem(
    'night_overlap',
    `${names.get(first.memberId) ?? 'Somebody'} ${has} this rig from ${from} to ${until}.`,
    { current: { start: from, end: until, owner: names.get(first.memberId) ?? '' } },
  );
}

/**
 * A plan may lie in hours that are its owner’s, and in those of others where they are worked for them: it has the rig from its
 * first leg to its last, and a booking within that is worked by a leg of its project, and by no main leg of another. A steward
 * says otherwise.
 * @throws Problem night_overlap with who has them
 */
export async function demandHours(
  store: Store,
  who: Actor,
  plan: { rigId: string; ownerId: string; start: Date; end: Date; legs: readonly PlanLegRow[] },
  t: Transaction,
): Promise<void> {
  if (who.role === 'steward') return;
  const others = (await bookedHours(store, plan.rigId, hoursOf(plan), t)).filter((b) => b.memberId !== plan.ownerId);
  if (others.length === 0) return;
  const legs = plan.legs.flatMap((l) =>
    l.start && l.end ? [{ l, fromMs: Date.parse(l.start), untilMs: Date.parse(l.end) }] : [],
  );
  const whole = {
    fromMs: Math.min(...legs.map((l) => l.fromMs)),
    untilMs: Math.max(...legs.map((l) => l.untilMs)),
  };
  for (const b of others) {
    // a leg’s clock is a whole minute: it may end or begin so much beyond the hours it is for
    const inside = { fromMs: hoursOf(b).fromMs + MINUTE_MS, untilMs: hoursOf(b).untilMs - MINUTE_MS };
    // only its opening or closing reaches into them
    if (!overlap(whole, inside)) continue;
    const main = legs.filter((l) => l.l.role !== 'backup' && overlap(l, inside));
    if (main.length > 0 && main.every((l) => l.l.projectId === b.projectId)) continue;
    const names = await store.names(who.clubId, t);
    throw taken({ what: 'booking', id: b.id, memberId: b.memberId, ...hoursOf(b) }, names);
  }
}

/** Hours became free on a rig: whoever waits longest for some of them has them now, or a steward is asked. */
export async function moveUp(store: Store, who: Actor, rigId: string, t: Transaction): Promise<void> {
  const now = store.now();
  const rows = await store.bookings.findAll({
    where: { rigId, state: 'waiting', start: { [Op.gt]: now } } as WhereOptions<BookingRow>,
    order: [
      ['madeAt', 'ASC'],
      ['id', 'ASC'],
    ],
    transaction: t,
  });
  if (rows.length === 0) return;
  const away = await absencesOf(store, [...new Set(rows.map((r) => plain(r).memberId))], t);
  const waiting = rows
    .map(plain)
    .filter((b) => !isAbsent(away.get(b.memberId) ?? [], b.night))
    .map((b) => ({ row: b, ...hoursOf(b) }));
  if (waiting.length === 0) return;
  const whole = {
    fromMs: Math.min(...waiting.map((w) => w.fromMs)),
    untilMs: Math.max(...waiting.map((w) => w.untilMs)),
  };
  const standing = await inTheWay(store, rigId, whole, t);
  const sharing = (await sharingOf(store, [rigId], t)).get(rigId)!;
  const names = await store.names(who.clubId, t);
  for (const { row } of movingUp(waiting, standing)) {
    const state = sharing.approval ? ('asked' as const) : ('held' as const);
    await store.bookings.update(
      { state, version: row.version + 1, updatedAt: now, updatedBy: who.id },
      { where: { id: row.id }, transaction: t },
    );
    const moved = `${names.get(row.memberId) ?? ''} moves up for hours in the night of ${row.night}`;
    await store.audit(who, 'Bookings', moved, t);
  }
}

const OPEN = "member_id = ? AND state IN ('asked', 'waiting', 'held') AND end > ?";
/** Rigs on which somebody has, or waits for, hours to come. */
export async function rigsBookedBy(store: Store, memberId: string): Promise<string[]> {
  const rows = await store.read<{ rigId: string }>(`SELECT DISTINCT rig_id AS rigId FROM bookings WHERE ${OPEN}`, [
    memberId,
    store.now(),
  ]);
  return rows.map((r) => r.rigId);
}
/** Gives back all hours to come of somebody who leaves; whoever waits for them moves up. */
export async function giveBackAll(store: Store, who: Actor, memberId: string, t: Transaction): Promise<void> {
  const rows = await store.read<{ id: string; rigId: string }>(
    `SELECT id, rig_id AS rigId FROM bookings WHERE ${OPEN}`,
    [memberId, store.now()],
    t,
  );
  for (const b of rows)
    await store.bookings.update(
      { state: 'cancelled', updatedAt: store.now(), updatedBy: who.id },
      { where: { id: b.id }, transaction: t },
    );
  for (const rigId of new Set(rows.map((b) => b.rigId))) await moveUp(store, who, rigId, t);
}
