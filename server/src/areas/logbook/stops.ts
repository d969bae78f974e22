import { isStopped } from '@keen/core/record';
import { Op, type Transaction, type WhereOptions } from 'sequelize';
import { plain, type LogRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import type { Store } from '../../store.ts';

export const rigIdsOf = async (store: Store, clubId: string): Promise<string[]> =>
  (await store.read<{ id: string }>('SELECT id FROM rigs WHERE club_id = ?', [clubId])).map((r) => r.id);

/** Faults of some rigs that keep something from work and are not cured, newest first. */
export async function openFaults(store: Store, rigIds: readonly string[], t?: Transaction): Promise<LogRow[]> {
  const rows = await store.logEntries.findAll({
    where: {
      rigId: [...rigIds],
      archivedAt: null,
      cure: '',
      stops: { [Op.ne]: null },
    } as unknown as WhereOptions<LogRow>,
    order: [['updatedAt', 'DESC']],
    ...(t ? { transaction: t } : {}),
  });
  // a JSON null is no stop either
  return rows.map(plain).filter((r) => r.stops !== null);
}

/**
 * A rig, or the system that is to work, is in order in a night as far as is known.
 * @throws Problem out_of_order with what is wrong with it
 */
export async function demandWorking(
  store: Store,
  rigId: string,
  of: { system?: string; night: string },
  t?: Transaction,
): Promise<void> {
  const fault = (await openFaults(store, [rigId], t)).find((f) => isStopped(f, of));
  if (!fault) return;
  const what = fault.problem.replace(/[.\s]+$/, '');
  const until = fault.stops!.until ? `up to the night of ${fault.stops!.until}` : 'until it is cured';
  throw new Problem('out_of_order', `Out of order ${until}: ${what}. It is cleared in the logbook.`);
}
