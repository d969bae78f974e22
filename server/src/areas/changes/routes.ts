import { api } from '@keen/contract';
import { plain } from '../../database/index.ts';
import type { Serve } from '../../http.ts';
import { iso, type Store } from '../../store.ts';

export function changeRoutes(serve: Serve, store: Store): void {
  serve(api.changes, async ({ who }) => {
    const club = (await store.members.findAll({ where: { clubId: who.clubId } })).map(plain);
    const names = new Map(club.map((m) => [m.id, m.name]));
    const rows = await store.changes.findAll({
      where: { memberId: [...names.keys()] },
      order: [['at', 'DESC']],
      limit: 300,
    });
    return rows.map(plain).map((c) => ({
      id: c.id,
      at: iso(c.at),
      by: names.get(c.memberId) ?? '',
      subject: c.subject,
      text: c.text,
    }));
  });
}
