import type { LogFields } from '@keen/contract';
import type { Transaction } from 'sequelize';
import type { LogRow } from '../../database/index.ts';
import type { Actor, Store } from '../../store.ts';

/** Writes what is wrong into the logbook of a rig, within a change that took its turn there. */
export async function addEntry(
  store: Store,
  who: Actor,
  fields: Partial<LogFields> & Pick<LogFields, 'rigId' | 'problem'>,
  t: Transaction,
): Promise<LogRow> {
  const row: LogRow = {
    id: store.id(),
    aspect: null,
    night: null,
    cause: '',
    cure: '',
    finding: '',
    stops: null,
    ...fields,
    byId: who.id,
    version: 1,
    updatedAt: store.now(),
    updatedBy: who.id,
    archivedAt: null,
  };
  await store.logEntries.create(row, { transaction: t });
  return row;
}
