import { api } from '@keen/contract';
import { plain } from '../../database/index.ts';
import type { Serve } from '../../http.ts';
import { iso, pageOf, type Store } from '../../store.ts';

export function changeRoutes(serve: Serve, store: Store): void {
  serve(api.changes, async ({ who, query }) => {
    const names = await store.names(who.clubId);
    const rows = await store.changes.findAll({
      where: { memberId: [...names.keys()] },
      order: [
        ['at', 'DESC'],
        ['id', 'ASC'],
      ],
      ...pageOf(query),
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
