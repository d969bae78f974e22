import { randomBytes } from 'node:crypto';
import type { Router } from 'express';
import ical, { ICalCalendarMethod, ICalEventStatus } from 'ical-generator';
import { Op, type WhereOptions } from 'sequelize';
import { feedKey, isFeedFile } from '../../access/feedKeys.ts';
import type { Config } from '../../config.ts';
import { plain, type BookingRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import type { Actor, Store } from '../../store.ts';

/** Nights that are over and still told [ms], and bookings told at most. */
const BACK_MS = 30 * 86_400_000;
const MOST = 400;
interface FeedRow {
  memberId: string;
  clubId: string;
  nonce: string;
}
const FEED =
  'SELECT f.member_id AS memberId, m.club_id AS clubId, f.nonce FROM own_feeds f JOIN members m ON m.id = f.member_id WHERE f.member_id = ? AND m.archived_at IS NULL';
const keyOf = (secret: string, { memberId, nonce }: Pick<FeedRow, 'memberId' | 'nonce'>) =>
  feedKey(secret, `own feed ${memberId}`, nonce);

/** Where a person’s own hours are read by a calendar that cannot sign in; it ends when they take it back, and with them. */
export async function ownFeedPath(store: Store, secret: string, who: Actor): Promise<string> {
  await store.db.query('INSERT IGNORE INTO own_feeds (member_id, nonce, made_at) VALUES (:who, :nonce, :now)', {
    replacements: { who: who.id, nonce: randomBytes(20).toString('hex'), now: store.now() },
  });
  const [row] = await store.read<FeedRow>(FEED, [who.id]);
  return `/feeds/own/${who.id}/${keyOf(secret, row!)}.ics`;
}
export async function dropOwnFeed(store: Store, who: Actor): Promise<void> {
  await store.db.query('DELETE FROM own_feeds WHERE member_id = :who', { replacements: { who: who.id } });
}

/** A person’s own hours on all rigs as iCalendar. */
export function ownFeedRoutes(router: Router, store: Store, config: Config): void {
  router.get('/feeds/own/:id/:file', async (req, res) => {
    const { id, file } = req.params;
    const missing = () => new Problem('not_found', 'There is no such calendar.');
    if (!/^[0-9a-f-]{36}$/.test(id)) throw missing();
    const [reader] = await store.read<FeedRow>(FEED, [id]);
    if (!reader || !isFeedFile(file, keyOf(config.secret, reader))) throw missing();
    const rows = (
      await store.bookings.findAll({
        where: {
          memberId: id,
          state: ['held', 'asked', 'waiting'],
          end: { [Op.gt]: new Date(store.now().getTime() - BACK_MS) },
        } as WhereOptions<BookingRow>,
        order: [['start', 'ASC']],
        limit: MOST,
      })
    ).map(plain);
    const rigs = await store.read<{ id: string; name: string; place: string }>(
      'SELECT g.id, g.name, s.name AS place FROM rigs g JOIN sites s ON s.id = g.site_id WHERE g.club_id = ?',
      [reader.clubId],
    );
    const rigOf = new Map(rigs.map((r) => [r.id, r]));
    const projectIds = rows.flatMap((b) => b.projectId ?? []);
    const objects = projectIds.length
      ? await store.read<{ id: string; object: string }>('SELECT id, object FROM projects WHERE id IN (?)', [
          projectIds,
        ])
      : [];
    const objectOf = new Map(objects.map((p) => [p.id, p.object]));
    const calendar = ical({
      name: 'Hours at the telescope',
      prodId: '//keen-meridian//own feed//EN',
      method: ICalCalendarMethod.PUBLISH,
    });
    for (const b of rows) {
      const rig = rigOf.get(b.rigId);
      calendar.createEvent({
        id: `${b.id}@keen-meridian`,
        stamp: b.updatedAt,
        start: b.start,
        end: b.end,
        summary: [objectOf.get(b.projectId ?? '') ?? '', rig?.name ?? ''].filter(Boolean).join(', '),
        location: rig?.place ?? '',
        status: b.state === 'held' ? ICalEventStatus.CONFIRMED : ICalEventStatus.TENTATIVE,
      });
    }
    res.set('Cache-Control', 'private, max-age=300').type('text/calendar').send(calendar.toString());
  });
}
