import type { Board, BookingRecord } from '@keen/contract';
import { overlap, stretches, wayOf } from '@keen/core/booking';
import { isStopped } from '@keen/core/record';
import { plain, type BookingRow } from '../../database/index.ts';
import { jobQueue } from '../../jobs/queue.ts';
import { Problem } from '../../problems.ts';
import { groupBy, iso, type Actor, type Store } from '../../store.ts';
import { bookingRecords, newBooking } from '../bookings/records.ts';
import { sharingOf } from '../bookings/sharing.ts';
import { inTheWay, moveUp } from '../bookings/standing.ts';
import { openFaults } from '../logbook/stops.ts';

/** The board of a job of one’s own that is done, and whether hours given before were open in it. */
async function boardOfJob(
  store: Store,
  who: Actor,
  jobId: string,
): Promise<{ board: Board; movesPromises: boolean; askedAt: Date }> {
  const job = await jobQueue(store).one(who, jobId);
  if (job.result?.kind !== 'board') throw new Problem('not_found', 'There is no such board; work one out first.');
  const row = plain((await store.jobs.findByPk(jobId))!);
  const { movesPromises = false } = row.input as { movesPromises?: boolean };
  return { board: job.result.board, movesPromises, askedAt: row.madeAt };
}

/**
 * Promises the hours of a board: they are booked for those it gave them to, all or none. Where hours given before were open in it,
 * those are given back in the same moment.
 * @throws Problem night_overlap where somebody took some of them since
 */
export async function promiseBoard(
  store: Store,
  who: Actor,
  { jobId, until }: { jobId: string; until: string },
): Promise<BookingRecord[]> {
  const { board, movesPromises, askedAt } = await boardOfJob(store, who, jobId);
  const now = store.now().getTime();
  const runs = stretches(
    board.slots.flatMap((s) =>
      s.projectId !== null && s.night <= until && Date.parse(s.start) >= now
        ? [{ ...s, projectId: s.projectId, fromMs: Date.parse(s.start), untilMs: Date.parse(s.end) }]
        : [],
    ),
  );
  if (runs.length === 0)
    throw new Problem('invalid_input', 'up to that night the board gives nobody any hours', {
      issues: [{ path: 'until', message: 'up to this night nobody has any hours' }],
    });
  const rigIds = [...new Set(board.slots.map((s) => s.rigId))];
  return store.change(
    who,
    rigIds.map((id) => ['rig', id] as const),
    async (t) => {
      const names = await store.names(who.clubId, t);
      const again = (detail: string) => new Problem('night_overlap', `${detail} Work the nights out anew.`);
      if (movesPromises) {
        const before = await store.bookings.findAll({
          where: { rigId: rigIds, origin: 'rules', state: 'held' },
          transaction: t,
        });
        // those it left to whom they were promised stand among its own
        const kept = new Set(board.promised.map((p) => `${p.rigId} ${p.end}`));
        for (const b of before.map(plain)) {
          const wasOpen =
            b.start.getTime() > now &&
            b.madeAt < askedAt &&
            b.night >= board.settings.from &&
            b.night <= until &&
            !kept.has(`${b.rigId} ${iso(b.end)}`);
          if (!wasOpen) continue;
          await store.bookings.update(
            { state: 'cancelled', version: b.version + 1, updatedAt: store.now(), updatedBy: who.id },
            { where: { id: b.id }, transaction: t },
          );
        }
      }
      const sharing = await sharingOf(store, rigIds, t);
      const faults = await openFaults(store, rigIds, t);
      const projects = await store.read<{ id: string; ownerId: string; rigId: string; system: string }>(
        'SELECT id, owner_id AS ownerId, rig_id AS rigId, system FROM projects WHERE id IN (?) AND club_id = ? AND archived_at IS NULL',
        [[...new Set(runs.map((r) => r.projectId))], who.clubId],
        t,
      );
      const projectOf = new Map(projects.map((p) => [p.id, p]));
      const rows: BookingRow[] = [];
      for (const [rigId, own] of groupBy(runs, (r) => r.rigId)) {
        const whole = {
          fromMs: Math.min(...own.map((r) => r.fromMs)),
          untilMs: Math.max(...own.map((r) => r.untilMs)),
        };
        const standing = await inTheWay(store, rigId, whole, t);
        for (const r of own) {
          const project = projectOf.get(r.projectId);
          if (project?.rigId !== rigId) throw again('A project of the board was put away or laid on another rig.');
          // a board is kept for a week: what was said of the rig since counts
          if (wayOf(sharing.get(rigId)!, r.night) === 'calendar')
            throw again(`The night of ${r.night} goes by calendar on one of the rigs by now.`);
          const fault = faults.find(
            (f) => f.rigId === rigId && isStopped(f, { system: project.system, night: r.night }),
          );
          if (fault) throw again(`A rig of the board is out of order by now: ${fault.problem.slice(0, 200)}`);
          const other = standing.find((s) => overlap(s, r));
          if (other)
            throw again(
              `${names.get(other.memberId) ?? 'Somebody'} took this rig from ${new Date(other.fromMs).toISOString()} to ${new Date(other.untilMs).toISOString()} since the board was worked out.`,
            );
          const of = { ...r, memberId: project.ownerId, origin: 'rules' as const, state: 'held' as const, note: '' };
          rows.push({ ...newBooking(store, who, of), decidedBy: who.id });
        }
      }
      await store.bookings.bulkCreate(rows, { transaction: t });
      // what was given back may be what somebody waits for
      if (movesPromises) for (const id of rigIds) await moveUp(store, who, id, t);
      await store.audit(who, 'Season', `${rows.length} stretches of coming nights promised, up to ${until}`, t);
      return bookingRecords(store, rows, names, t);
    },
    { tells: rigIds.map((rigId) => ({ what: 'bookings' as const, rigId })) },
  );
}
