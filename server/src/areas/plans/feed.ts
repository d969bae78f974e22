import { randomBytes } from 'node:crypto';
import type { Router } from 'express';
import ical, { ICalCalendarMethod } from 'ical-generator';
import { Op, type WhereOptions } from 'sequelize';
import { feedKey, isFeedFile } from '../../access/feedKeys.ts';
import type { Config } from '../../config.ts';
import { plain, type BookingRow, type PlanRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import type { Actor, Store } from '../../store.ts';

/** Nights that are over and still told [ms], and plans told at most. */
const BACK_MS = 30 * 86_400_000;
const MOST_PLANS = 400;

interface FeedRow {
  memberId: string;
  clubId: string;
  nonce: string;
}
const keyOf = (secret: string, rigId: string, { memberId, nonce }: Pick<FeedRow, 'memberId' | 'nonce'>) =>
  feedKey(secret, `calendar feed ${rigId} ${memberId}`, nonce);
const FEEDS =
  'SELECT f.member_id AS memberId, m.club_id AS clubId, f.nonce FROM calendar_feeds f JOIN members m ON m.id = f.member_id WHERE f.rig_id = ? AND m.archived_at IS NULL';

/**
 * Where a rig’s nights are read by a calendar that cannot sign in: a person’s own address, the same however often it is
 * asked for. It ends when they take it back, with their membership, and with a password given them anew.
 */
export async function feedPath(store: Store, secret: string, who: Actor, rigId: string): Promise<string> {
  await store.db.query(
    'INSERT IGNORE INTO calendar_feeds (member_id, rig_id, nonce, made_at) VALUES (:who, :rigId, :nonce, :now)',
    { replacements: { who: who.id, rigId, nonce: randomBytes(20).toString('hex'), now: store.now() } },
  );
  const rows = await store.read<FeedRow>(`${FEEDS} AND f.member_id = ?`, [rigId, who.id]);
  return `/feeds/${rigId}/${keyOf(secret, rigId, rows[0]!)}.ics`;
}
export async function dropFeed(store: Store, who: Actor, rigId: string): Promise<void> {
  await store.db.query('DELETE FROM calendar_feeds WHERE member_id = :who AND rig_id = :rigId', {
    replacements: { who: who.id, rigId },
  });
}

/** The nights of a rig as iCalendar: one entry for the hours it is taken, one for each leg. */
export function feedRoutes(router: Router, store: Store, config: Config): void {
  router.get('/feeds/:id/:file', async (req, res) => {
    const { id, file } = req.params;
    const missing = () => new Problem('not_found', 'There is no such calendar.');
    if (!/^[0-9a-f-]{36}$/.test(id)) throw missing();
    const reader = (await store.read<FeedRow>(FEEDS, [id])).find((f) => isFeedFile(file, keyOf(config.secret, id, f)));
    if (!reader) throw missing();
    const rig = await store.rigs.findOne({ where: { id, clubId: reader.clubId, archivedAt: null } });
    if (!rig) throw missing();
    const site = await store.sites.findByPk(plain(rig).siteId);
    const plans = await store.plans.findAll({
      where: {
        rigId: id,
        status: { [Op.ne]: 'cancelled' },
        end: { [Op.gt]: new Date(store.now().getTime() - BACK_MS) },
      } as WhereOptions<PlanRow>,
      order: [['start', 'ASC']],
      limit: MOST_PLANS,
    });
    const rows = plans.map(plain);
    const projects = await store.projects.findAll({
      where: { id: [...new Set(rows.flatMap((p) => p.legs.map((l) => l.projectId)))] },
    });
    const objects = new Map(projects.map(plain).map((p) => [p.id, p.object]));
    const names = await store.names(plain(rig).clubId);
    const calendar = ical({
      name: plain(rig).name,
      prodId: '//keen-meridian//rig feed//EN',
      method: ICalCalendarMethod.PUBLISH,
    });
    const location = site ? plain(site).name : '';
    for (const p of rows) {
      const of = (l: PlanRow['legs'][number]) =>
        `${objects.get(l.projectId) ?? ''}${l.panel === null ? '' : `, panel ${l.panel + 1}`}`;
      const titles = [...new Set(p.legs.map(of))].join(', ');
      const stamp = p.updatedAt;
      calendar.createEvent({
        id: `${p.id}@keen-meridian`,
        stamp,
        start: p.start,
        end: p.end,
        summary: `${titles} (${names.get(p.ownerId) ?? ''})`,
        location,
      });
      if (p.legs.length === 1) continue;
      for (const l of p.legs)
        if (l.start && l.end)
          calendar.createEvent({
            id: `${p.id}.${l.id}@keen-meridian`,
            stamp,
            start: new Date(l.start),
            end: new Date(l.end),
            summary: of(l),
            location,
          });
    }
    const booked = await store.bookings.findAll({
      where: {
        rigId: id,
        state: 'held',
        end: { [Op.gt]: new Date(store.now().getTime() - BACK_MS) },
      } as WhereOptions<BookingRow>,
      order: [['start', 'ASC']],
      limit: MOST_PLANS,
    });
    for (const b of booked.map(plain)) {
      // hours that are planned are told as the plan
      if (rows.some((p) => p.start < b.end && p.end > b.start)) continue;
      calendar.createEvent({
        id: `${b.id}@keen-meridian`,
        stamp: b.updatedAt,
        start: b.start,
        end: b.end,
        summary: `${names.get(b.memberId) ?? ''}`,
        location,
      });
    }
    res.set('Cache-Control', 'private, max-age=300').type('text/calendar').send(calendar.toString());
  });
}
