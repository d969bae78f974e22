import type { SinceLastNight } from '@keen/contract';
import { Op, type WhereOptions } from 'sequelize';
import { nightOnRecord, plain, type LogRow, type OffsetSetRow, type RevisionRow } from '../../database/index.ts';
import { iso, type Actor, type Store } from '../../store.ts';
import { demandRig } from './current.ts';

/** So much is told of each at most; the lists themselves have the rest. */
const MOST = 20;

/** What was done to a rig since somebody last worked with it: what they would walk into. */
export async function sinceLastNight(store: Store, who: Actor, rigId: string): Promise<SinceLastNight> {
  await demandRig(store, who.clubId, rigId);
  // played or brought in by them, or planned by them and worked by somebody else
  const [last] = await store.read<{ night: string; at: Date }>(
    `SELECT DATE_FORMAT(r.night, '%Y-%m-%d') AS night, r.at FROM runs r LEFT JOIN plans p ON p.id = r.plan_id
     WHERE r.rig_id = ? AND ${nightOnRecord('r')} AND (r.by_id = ? OR p.owner_id = ?) ORDER BY r.night DESC, r.at DESC LIMIT 1`,
    [rigId, who.id, who.id],
  );
  if (!last) return { night: null, revisions: [], offsets: [], log: [] };
  const names = await store.names(who.clubId);
  const by = (id: string | null) => names.get(id ?? '') ?? '';
  const after = { [Op.gt]: new Date(last.at) };
  const [revisions, offsets, log] = await Promise.all([
    store.revisions.findAll({
      where: { rigId, at: after } as WhereOptions<RevisionRow>,
      order: [['number', 'DESC']],
      limit: MOST,
    }),
    store.offsetSets.findAll({
      where: { rigId, adoptedAt: after } as unknown as WhereOptions<OffsetSetRow>,
      order: [['adoptedAt', 'DESC']],
      limit: MOST,
    }),
    store.logEntries.findAll({
      where: { rigId, archivedAt: null, updatedAt: after } as WhereOptions<LogRow>,
      order: [['updatedAt', 'DESC']],
      limit: MOST,
    }),
  ]);
  return {
    night: last.night,
    revisions: revisions
      .map(plain)
      .map((r) => ({ number: r.number, at: iso(r.at), by: by(r.byId), changes: r.changes })),
    offsets: offsets.map(plain).map((o) => ({ at: iso(o.adoptedAt), by: by(o.byId), filters: Object.keys(o.offsets) })),
    log: log.map(plain).map((l) => ({
      at: iso(l.updatedAt),
      by: by(l.updatedBy ?? l.byId),
      problem: l.problem,
      cure: l.cure,
      stops: l.stops !== null && l.cure.trim() === '',
    })),
  };
}
