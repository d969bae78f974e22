import {
  aspectsOf,
  systemOf,
  viewOf,
  type AspectHashes,
  type ImagingSystem,
  type RigBuild,
  type RigSetup,
} from '@keen/core/rig';
import type { Transaction } from 'sequelize';
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

type Json<T> = string | T;
interface Found extends RigRow {
  revisionId: string;
  number: number;
  setup: Json<RigBuild>;
  changes: Json<RevisionRow['changes']>;
  trainStateId: string;
  trainStates: Json<Record<string, string>>;
  byId: string;
  at: Date;
}
const NEWEST = `SELECT g.id, g.club_id AS clubId, g.site_id AS siteId, g.name, g.version, g.updated_at AS updatedAt, g.updated_by AS updatedBy,
    g.archived_at AS archivedAt, r.id AS revisionId, r.number, r.setup, r.changes, r.train_state_id AS trainStateId, r.train_states AS trainStates,
    r.by_id AS byId, r.at
  FROM rigs g JOIN rig_revisions r ON r.rig_id = g.id AND r.number = (SELECT MAX(number) FROM rig_revisions WHERE rig_id = g.id)
  WHERE g.club_id = ? AND g.archived_at IS NULL`;
const parsed = <T>(v: Json<T>): T => (typeof v === 'string' ? (JSON.parse(v) as T) : v);

/** Rigs with their newest revision and train states, in two queries however many there are. */
async function found(store: Store, where: string, values: readonly unknown[], t?: Transaction): Promise<CurrentRig[]> {
  const rows = await store.read<Found>(`${NEWEST} ${where}`, values, t);
  const revisions = rows.map((r): RevisionRow => ({
    id: r.revisionId,
    rigId: r.id,
    number: r.number,
    setup: parsed(r.setup),
    changes: parsed(r.changes),
    trainStateId: r.trainStateId,
    trainStates: parsed(r.trainStates),
    byId: r.byId,
    at: r.at,
  }));
  const ids = revisions.map((r) => r.setup.systems.map((s) => r.trainStates[s.key] ?? r.trainStateId));
  const options = t ? { transaction: t } : {};
  const states = ids.length
    ? (await store.trainStates.findAll({ where: { id: ids.flat() }, ...options })).map(plain)
    : [];
  const stateOf = new Map(states.map((s) => [s.id, s]));
  return rows.map(({ id, clubId, siteId, name, version, updatedAt, updatedBy, archivedAt }, i) => ({
    rig: { id, clubId, siteId, name, version, updatedAt, updatedBy, archivedAt },
    revision: revisions[i]!,
    states: ids[i]!.map((s) => stateOf.get(s)!),
  }));
}

/** Revisions never change: what follows from one is worked out once, for as many as a few clubs look at. */
const aspects = new Map<string, AspectHashes>();
const MOST_KEPT = 400;
/** The aspects of a system as it stands in a revision. */
export function aspectsAt({ id, setup }: Pick<RevisionRow, 'id' | 'setup'>, system: string): AspectHashes {
  const key = `${id} ${system}`;
  const known = aspects.get(key);
  if (known) return known;
  const made = aspectsOf(viewOf(setup, system));
  if (aspects.size >= MOST_KEPT) aspects.clear();
  aspects.set(key, made);
  return made;
}

/** Newest revision of a rig with the train states of its systems. */
export async function currentRig(store: Store, clubId: string, rigId: string, t?: Transaction): Promise<CurrentRig> {
  const [rig] = await found(store, 'AND g.id = ?', [clubId, rigId], t);
  if (!rig) throw new Problem('not_found', 'There is no such rig.');
  return rig;
}
/** Every rig of a club as it stands now. */
export const currentRigs = (store: Store, clubId: string, t?: Transaction): Promise<CurrentRig[]> =>
  found(store, 'ORDER BY g.name', [clubId], t);

/** Only that a rig is the club's, where nothing of it is needed. */
export async function demandRig(store: Store, clubId: string, rigId: string, t?: Transaction): Promise<void> {
  const rows = await store.read(
    'SELECT id FROM rigs WHERE id = ? AND club_id = ? AND archived_at IS NULL',
    [rigId, clubId],
    t,
  );
  if (rows.length === 0) throw new Problem('not_found', 'There is no such rig.');
}

/** A rig of the club that is in use. @throws Problem not_found */
export async function rigOf(store: Store, clubId: string, rigId: string, t?: Transaction): Promise<RigRow> {
  const where = { id: rigId, clubId, archivedAt: null };
  const found = await store.rigs.findOne({ where, ...(t ? { transaction: t } : {}) });
  if (!found) throw new Problem('not_found', 'There is no such rig.');
  return plain(found);
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
  return { ...current, system, setup, state, aspects: aspectsAt(current.revision, system.key) };
}
