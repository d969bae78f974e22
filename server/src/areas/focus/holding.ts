import type { Transaction } from 'sequelize';
import { heldUnder, plain, type OffsetSetRow } from '../../database/index.ts';
import type { Store } from '../../store.ts';
import type { CurrentSystem } from '../rigs/current.ts';

/** The newest offsets that hold for a system as it stands. */
export async function offsetsHolding(store: Store, now: CurrentSystem, t?: Transaction): Promise<OffsetSetRow | null> {
  const found = await store.offsetSets.findOne({
    where: heldUnder({ rigId: now.rig.id, system: now.system.key, aspects: now.aspects }, 'focus'),
    order: [['adoptedAt', 'DESC']],
    ...(t ? { transaction: t } : {}),
  });
  return found ? plain(found) : null;
}
