import { aspectsOf, systemOf, viewOf, type AspectHashes, type ImagingSystem, type RigSetup } from '@keen/core/rig';
import { Op, QueryTypes, type Transaction } from 'sequelize';
import { plain, type RevisionRow, type RigRow, type TrainStateRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import type { Store } from '../../store.ts';

export interface CurrentRig {
  rig: RigRow;
  revision: RevisionRow;
  /** Train states of its systems, in their order. */
  states: TrainStateRow[];
}
/** A rig as it stands, seen through one of its systems. */
export interface CurrentSystem extends CurrentRig {
  system: ImagingSystem;
  setup: RigSetup;
  state: TrainStateRow;
  aspects: AspectHashes;
}

/** Newest revision of a rig with the train states of its systems. */
export async function currentRig(store: Store, clubId: string, rigId: string, t?: Transaction): Promise<CurrentRig> {
  const options = t ? { transaction: t } : {};
  const row = await store.rigs.findOne({ where: { id: rigId, clubId, archivedAt: null }, ...options });
  if (!row) throw new Problem('not_found', 'There is no such rig.');
  const found = await store.revisions.findOne({ where: { rigId }, order: [['number', 'DESC']], ...options });
  if (!found) throw new Problem('not_found', 'This rig has no revision.');
  const revision = plain(found);
  const ids = revision.setup.systems.map((s) => revision.trainStates[s.key] ?? revision.trainStateId);
  const states = (await store.trainStates.findAll({ where: { id: ids }, ...options })).map(plain);
  return { rig: plain(row), revision, states: ids.map((id) => states.find((s) => s.id === id)!) };
}

/** The rig seen through one system; the first where the key names none. */
export async function currentSystem(
  store: Store,
  clubId: string,
  rigId: string,
  key?: string | null,
  t?: Transaction,
): Promise<CurrentSystem> {
  const current = await currentRig(store, clubId, rigId, t);
  const system = systemOf(current.revision.setup, key);
  const setup = viewOf(current.revision.setup, system.key);
  const state = current.states[current.revision.setup.systems.indexOf(system)]!;
  return { ...current, system, setup, state, aspects: aspectsOf(setup) };
}

/** Every rig of a club as it stands now, in four queries however many there are. */
export async function currentRigs(store: Store, clubId: string, t?: Transaction): Promise<CurrentRig[]> {
  const options = t ? { transaction: t } : {};
  const rigs = (await store.rigs.findAll({ where: { clubId, archivedAt: null }, order: ['name'], ...options })).map(
    plain,
  );
  if (rigs.length === 0) return [];
  const newest = await store.db.query<{ id: string }>(
    `SELECT r.id FROM rig_revisions r JOIN (SELECT rig_id, MAX(number) AS number FROM rig_revisions WHERE rig_id IN (:rigs) GROUP BY rig_id) n
       ON n.rig_id = r.rig_id AND n.number = r.number`,
    { type: QueryTypes.SELECT, replacements: { rigs: rigs.map((r) => r.id) }, ...options },
  );
  const revisions = (await store.revisions.findAll({ where: { id: newest.map((n) => n.id) }, ...options })).map(plain);
  const ids = revisions.flatMap((r) => Object.values(r.trainStates));
  const states = (await store.trainStates.findAll({ where: { id: { [Op.in]: ids } }, ...options })).map(plain);
  return rigs.flatMap((rig) => {
    const revision = revisions.find((r) => r.rigId === rig.id);
    if (!revision) return [];
    const of = revision.setup.systems.map((s) => states.find((x) => x.id === revision.trainStates[s.key])!);
    return [{ rig, revision, states: of }];
  });
}
