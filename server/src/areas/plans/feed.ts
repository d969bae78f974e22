import { createHmac, timingSafeEqual } from 'node:crypto';
import type { Router } from 'express';
import ical, { ICalCalendarMethod } from 'ical-generator';
import { Op, type WhereOptions } from 'sequelize';
import type { Config } from '../../config.ts';
import { plain, type PlanRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import type { Store } from '../../store.ts';

/** Nights that are over and still told [ms], and plans told at most. */
const BACK_MS = 30 * 86_400_000;
const MOST_PLANS = 400;

/** The key of a rig’s feed: nobody guesses it, and it needs no record. It changes with the installation’s secret. */
const keyOf = (secret: string, rigId: string) => createHmac('sha256', secret).update(`calendar feed ${rigId}`).digest('hex').slice(0, 40); // prettier-ignore

/** Where a rig’s nights are read by a calendar that cannot sign in. */
export const feedPath = (secret: string, rigId: string): string => `/feeds/${rigId}/${keyOf(secret, rigId)}.ics`;

const same = (a: string, b: string) => a.length === b.length && timingSafeEqual(Buffer.from(a), Buffer.from(b));

/** The nights of a rig as iCalendar: one entry for the hours it is taken, one for each leg. */
export function feedRoutes(router: Router, store: Store, config: Config): void {
  router.get('/feeds/:id/:file', async (req, res) => {
    const { id, file } = req.params;
    const missing = () => new Problem('not_found', 'There is no such calendar.');
    if (!/^[0-9a-f-]{36}$/.test(id) || !same(file, `${keyOf(config.secret, id)}.ics`)) throw missing();
    const rig = await store.rigs.findOne({ where: { id, archivedAt: null } });
    if (!rig) throw missing();
    const site = await store.sites.findByPk(plain(rig).siteId);
    const plans = await store.plans.findAll({
      where: { rigId: id, status: { [Op.ne]: 'cancelled' }, end: { [Op.gt]: new Date(store.now().getTime() - BACK_MS) } } as WhereOptions<PlanRow>,
      order: [['start', 'ASC']],
      limit: MOST_PLANS,
    }); // prettier-ignore
    const rows = plans.map(plain);
    const projects = await store.projects.findAll({ where: { id: [...new Set(rows.flatMap((p) => p.legs.map((l) => l.projectId)))] } }); // prettier-ignore
    const objects = new Map(projects.map(plain).map((p) => [p.id, p.object]));
    const names = await store.names(plain(rig).clubId);
    const calendar = ical({ name: plain(rig).name, prodId: '//keen-meridian//rig feed//EN', method: ICalCalendarMethod.PUBLISH }); // prettier-ignore
    const location = site ? plain(site).name : '';
    for (const p of rows) {
      const of = (l: PlanRow['legs'][number]) => `${objects.get(l.projectId) ?? ''}${l.panel === null ? '' : `, panel ${l.panel + 1}`}`; // prettier-ignore
      const titles = [...new Set(p.legs.map(of))].join(', ');
      const stamp = p.updatedAt;
      calendar.createEvent({ id: `${p.id}@keen-meridian`, stamp, start: p.start, end: p.end, summary: `${titles} (${names.get(p.ownerId) ?? ''})`, location }); // prettier-ignore
      if (p.legs.length === 1) continue;
      for (const l of p.legs)
        if (l.start && l.end)
          calendar.createEvent({ id: `${p.id}.${l.id}@keen-meridian`, stamp, start: new Date(l.start), end: new Date(l.end), summary: of(l), location }); // prettier-ignore
    }
    res.set('Cache-Control', 'private, max-age=300').type('text/calendar').send(calendar.toString());
  });
}
