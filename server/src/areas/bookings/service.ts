import type { BookingFields, BookingRecord } from '@keen/contract';
import { takesHours, wayOf, type HoursOutcome } from '@keen/core/booking';
import { addDays, eveningDate } from '@keen/core/sky';
import { Op, type Transaction, type WhereOptions } from 'sequelize';
import { plain, type BookingRow, type ProjectRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { demandOwner, type Actor, type Store } from '../../store.ts';
import { siteOf } from '../plans/night.ts';
import { demandWorking } from '../logbook/stops.ts';
import { rigOf } from '../rigs/current.ts';
import { bookingRecords, newBooking } from './records.ts';
import { sharingOf } from './sharing.ts';
import { hoursOf, inTheWay, moveUp, taken } from './standing.ts';

const HOUR_MS = 3_600_000;
/** A form may stand open for so long between what it offers and its being sent. */
const LATE_MS = 15 * 60_000;
/** Longest stretch: a night is shorter. */
const MOST_HOURS = 20;
/** What is of no use to others once it is over. */
const GONE = ['declined', 'cancelled'];

const refuse = (path: string, message: string): never => {
  throw new Problem('invalid_input', `${path}: ${message}`, { issues: [{ path, message }] });
};

export function bookingsService(store: Store) {
  async function demandBooking(who: Actor, id: string, t?: Transaction): Promise<BookingRow> {
    const found = await store.bookings.findOne({
      where: { id, clubId: who.clubId },
      ...(t ? { transaction: t } : {}),
    });
    if (!found) throw new Problem('not_found', 'There are no such hours.');
    return plain(found);
  }
  const one = async (who: Actor, row: BookingRow, t: Transaction): Promise<BookingRecord> =>
    (await bookingRecords(store, [row], await store.names(who.clubId, t), t))[0]!;
  async function set(row: BookingRow, by: Actor, fields: Partial<BookingRow>, t: Transaction): Promise<BookingRow> {
    const next = { ...row, ...fields, version: row.version + 1, updatedAt: store.now(), updatedBy: by.id };
    await store.bookings.update(next, { where: { id: row.id }, transaction: t });
    return next;
  }
  /** A change of a booking in its turn at its rig. */
  async function change<T>(who: Actor, id: string, work: (row: BookingRow, t: Transaction) => Promise<T>): Promise<T> {
    const { rigId, night } = await demandBooking(who, id);
    return store.change(who, ['rig', rigId], async (t) => work(await demandBooking(who, id, t), t), {
      tells: { what: 'bookings', rigId, night },
    });
  }
  /** Its project is one of its rig, its member’s own unless a steward says so. */
  async function demandProject(who: Actor, id: string, rigId: string, memberId: string): Promise<ProjectRow> {
    const found = await store.projects.findOne({ where: { id, clubId: who.clubId, archivedAt: null } });
    const project = found && plain(found);
    if (!project) return refuse('projectId', 'there is no such project');
    if (project.rigId !== rigId) refuse('projectId', `${project.name} is taken with another rig`);
    if (who.role !== 'steward') demandOwner(who, project.ownerId, project.name);
    else if (project.ownerId !== memberId) refuse('projectId', `${project.name} is another member’s`);
    return project;
  }
  /** Hours lie in their night, are still to come, and may be booked that day by this member. */
  async function demandBookable(who: Actor, memberId: string, f: BookingFields, t?: Transaction): Promise<void> {
    const rig = await rigOf(store, who.clubId, f.rigId, t);
    const { timeZone } = await siteOf(store, rig.siteId, t);
    const [start, end, now] = [Date.parse(f.start), Date.parse(f.end), store.now().getTime()];
    if (end <= start) refuse('end', 'comes before the beginning');
    if (end - start > MOST_HOURS * HOUR_MS) refuse('end', `a night is shorter than ${MOST_HOURS} hours`);
    if (end <= now) refuse('end', 'these hours are over');
    if (start < now - LATE_MS) refuse('start', 'has passed: what is booked begins now');
    for (const [path, ms] of [['start', start] as const, ['end', end - 1] as const])
      if (eveningDate(timeZone, ms) !== f.night)
        refuse(path, `lies in the night of ${eveningDate(timeZone, ms)}, not of ${f.night}`);
    await demandWorking(store, f.rigId, { night: f.night }, t);
    if (who.role === 'steward') return;
    const sharing = (await sharingOf(store, [f.rigId], t)).get(f.rigId)!;
    if (wayOf(sharing, f.night) === 'queue')
      throw new Problem(
        'not_allowed',
        `${rig.name} goes by the rules of the coming nights on this weekday: its hours are given there, not booked.`,
      );
    const last = addDays(eveningDate(timeZone, now), sharing.aheadNights - 1);
    if (f.night > last)
      refuse('night', `${rig.name} is booked up to ${last} so far, ${sharing.aheadNights} nights ahead`);
    if (sharing.mostHours === null) return;
    const [booked] = await store.read<{ hours: string | null }>(
      `SELECT SUM(TIMESTAMPDIFF(SECOND, start, end)) / 3600 AS hours FROM bookings
       WHERE rig_id = ? AND member_id = ? AND origin = 'member' AND state IN ('asked', 'held') AND end > ?`,
      [f.rigId, memberId, store.now()],
      t,
    );
    const hours = Number(booked?.hours ?? 0);
    if (hours + (end - start) / HOUR_MS > sharing.mostHours + 1e-6)
      throw new Problem(
        'not_allowed',
        `You have ${Math.round(10 * hours) / 10} h booked ahead on ${rig.name}; ${sharing.mostHours} h are the most.`,
      );
  }

  return {
    async list(who: Actor, { from, until }: { from: string; until: string }): Promise<BookingRecord[]> {
      const concerned =
        who.role === 'steward' ? {} : { [Op.or]: [{ state: { [Op.notIn]: GONE } }, { memberId: who.id }] };
      const rows = await store.bookings.findAll({
        where: { clubId: who.clubId, night: { [Op.between]: [from, until] }, ...concerned } as WhereOptions<BookingRow>,
        order: [
          ['start', 'ASC'],
          ['madeAt', 'ASC'],
          ['id', 'ASC'],
        ],
      });
      return bookingRecords(store, rows.map(plain), await store.names(who.clubId));
    },
    async add(who: Actor, f: BookingFields): Promise<BookingRecord> {
      const memberId = f.memberId ?? who.id;
      if (memberId !== who.id) {
        if (who.role !== 'steward') throw new Problem('not_allowed', 'Only a steward books for somebody else.');
        const there = await store.members.findOne({ where: { id: memberId, clubId: who.clubId, archivedAt: null } });
        if (!there) refuse('memberId', 'there is no such member');
      }
      await demandBookable(who, memberId, f);
      if (f.projectId) await demandProject(who, f.projectId, f.rigId, memberId);
      return store.change(
        who,
        ['rig', f.rigId],
        async (t) => {
          // once more in its turn: what they have booked ahead may be more by now
          await demandBookable(who, memberId, f, t);
          const hours = { fromMs: Date.parse(f.start), untilMs: Date.parse(f.end) };
          const others = (await inTheWay(store, f.rigId, hours, t)).filter(
            (x) => x.what === 'booking' || x.memberId !== memberId,
          );
          const sharing = (await sharingOf(store, [f.rigId], t)).get(f.rigId)!;
          if (others.length && !f.wait) throw taken(others[0]!, await store.names(who.clubId, t));
          const asks = sharing.approval && who.role !== 'steward';
          const row = newBooking(store, who, {
            rigId: f.rigId,
            memberId,
            projectId: f.projectId,
            night: f.night,
            ...hours,
            origin: 'member',
            state: others.length ? 'waiting' : asks ? 'asked' : 'held',
            note: f.note,
          });
          await store.bookings.create(row, { transaction: t });
          await store.audit(who, 'Bookings', `hours in the night of ${f.night}: ${row.state}`, t);
          return one(who, row, t);
        },
        { tells: { what: 'bookings', rigId: f.rigId, night: f.night } },
      );
    },
    decide: (who: Actor, id: string, { approved, answer }: { approved: boolean; answer: string }) =>
      change(who, id, async (row, t) => {
        if (row.state !== 'asked')
          throw new Problem('already_done', `Nothing is asked any more: these hours are ${row.state}.`);
        const next = await set(row, who, { state: approved ? 'held' : 'declined', answer, decidedBy: who.id }, t);
        if (!approved) await moveUp(store, who, row.rigId, t);
        await store.audit(who, 'Bookings', `hours in the night of ${row.night} ${approved ? 'agreed' : 'declined'}`, t);
        return one(who, next, t);
      }),
    cancel: (who: Actor, id: string) =>
      change(who, id, async (row, t) => {
        demandOwner(who, row.memberId, 'these hours');
        if (GONE.includes(row.state)) throw new Problem('already_done', 'They were given back before.');
        if (row.end <= store.now()) throw new Problem('already_done', 'These hours are over; say what came of them.');
        await set(row, who, { state: 'cancelled' }, t);
        if (takesHours(row.state)) await moveUp(store, who, row.rigId, t);
        await store.audit(who, 'Bookings', `hours in the night of ${row.night} given back`, t);
      }),
    outcome: (who: Actor, id: string, outcome: HoursOutcome | null) =>
      change(who, id, async (row, t) => {
        demandOwner(who, row.memberId, 'these hours');
        if (row.state !== 'held')
          throw new Problem('already_done', `Nothing came of them: these hours are ${row.state}.`);
        if (hoursOf(row).fromMs > store.now().getTime()) refuse('outcome', 'these hours have not begun yet');
        const next = await set(row, who, { outcome, outcomeBy: outcome ? who.id : null }, t);
        await store.audit(who, 'Bookings', `hours in the night of ${row.night}: ${outcome ?? 'nothing said'}`, t);
        return one(who, next, t);
      }),
  };
}
