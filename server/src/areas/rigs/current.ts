import type { Transaction } from 'sequelize';
import { plain, type RevisionRow, type RigRow, type TrainStateRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import type { Store } from '../../store.ts';

export interface CurrentRig {
  rig: RigRow;
  revision: RevisionRow;
  state: TrainStateRow;
}

/** Newest revision of a rig with its train state. */
export async function currentRig(store: Store, clubId: string, rigId: string, t?: Transaction): Promise<CurrentRig> {
  const options = t ? { transaction: t } : {};
  const row = await store.rigs.findOne({ where: { id: rigId, clubId, archivedAt: null }, ...options });
  if (!row) throw new Problem('not_found', 'There is no such rig.');
  const revision = await store.revisions.findOne({ where: { rigId }, order: [['number', 'DESC']], ...options });
  if (!revision) throw new Problem('not_found', 'This rig has no revision.');
  const state = await store.trainStates.findByPk(plain(revision).trainStateId, options);
  return { rig: plain(row), revision: plain(revision), state: plain(state!) };
}

export async function currentSetups(store: Store, clubId: string, t?: Transaction): Promise<CurrentRig[]> {
  const rigs = await store.rigs.findAll({
    where: { clubId, archivedAt: null },
    order: ['name'],
    ...(t ? { transaction: t } : {}),
  });
  return Promise.all(rigs.map((r) => currentRig(store, clubId, plain(r).id, t)));
}
