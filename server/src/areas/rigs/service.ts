import type { RevisionInfo, RigRecord, TrainStateInfo } from '@keen/contract';
import { changesBetween, INVALID, invalidatedBy, trainFingerprint, wordPair, type RigSetup } from '@keen/core/rig';
import type { Transaction } from 'sequelize';
import { plain, type TrainStateRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { demandVersion, iso, type Actor, type Store } from '../../store.ts';
import { currentRig, currentSetups, type CurrentRig } from './current.ts';

interface RigBody {
  name: string;
  siteId: string;
  setup: RigSetup;
}

export function rigsService(store: Store) {
  const record = ({ rig, revision, state }: CurrentRig, names: Map<string, string>): RigRecord => ({
    id: rig.id,
    name: rig.name,
    siteId: rig.siteId,
    setup: revision.setup,
    revision: revision.number,
    trainStateId: state.id,
    words: state.words,
    version: rig.version,
    updatedAt: iso(rig.updatedAt),
    updatedBy: names.get(rig.updatedBy ?? '') ?? '',
  });

  /** The rig's train state with this fingerprint: the one it had before, or a new one. */
  async function stateFor(rigId: string, setup: RigSetup, t: Transaction): Promise<TrainStateRow> {
    const fingerprint = trainFingerprint(setup);
    const known = await store.trainStates.findOne({ where: { rigId, fingerprint }, transaction: t });
    if (known) return plain(known);
    const row = { id: store.id(), rigId, fingerprint, words: wordPair(fingerprint), createdAt: store.now() };
    await store.trainStates.create(row, { transaction: t });
    return row;
  }

  async function demandSite(who: Actor, siteId: string): Promise<void> {
    if (!(await store.sites.findOne({ where: { id: siteId, clubId: who.clubId, archivedAt: null } })))
      throw new Problem('not_found', 'There is no such site.');
  }

  async function revise(who: Actor, rigId: string, number: number, setup: RigSetup, changes: string[], t: Transaction) {
    const state = await stateFor(rigId, setup, t);
    const row = {
      id: store.id(),
      rigId,
      number,
      setup,
      changes,
      trainStateId: state.id,
      byId: who.id,
      at: store.now(),
    };
    await store.revisions.create(row, { transaction: t });
    return { revision: row, state };
  }

  return {
    async list(who: Actor): Promise<RigRecord[]> {
      const names = await store.names();
      return (await currentSetups(store, who.clubId)).map((c) => record(c, names));
    },
    async add(who: Actor, body: RigBody): Promise<RigRecord> {
      await demandSite(who, body.siteId);
      if (await store.rigs.findOne({ where: { clubId: who.clubId, name: body.name } }))
        throw new Problem('already_exists', `A rig called “${body.name}” is there already.`);
      return store.transact(async (t) => {
        const rig = {
          id: store.id(),
          clubId: who.clubId,
          siteId: body.siteId,
          name: body.name,
          version: 1,
          updatedAt: store.now(),
          updatedBy: who.id,
          archivedAt: null,
        };
        await store.rigs.create(rig, { transaction: t });
        const made = await revise(who, rig.id, 1, body.setup, ['built'], t);
        await store.audit(who, body.name, `rig built, train state ${made.state.words}`, t);
        return record({ rig, ...made }, await store.names(t));
      });
    },
    async revise(who: Actor, id: string, body: RigBody & { version: number }): Promise<RigRecord> {
      await demandSite(who, body.siteId);
      return store.transact(async (t) => {
        await store.rigs.findByPk(id, { transaction: t, lock: true });
        const now = await currentRig(store, who.clubId, id, t);
        const names = await store.names(t);
        await demandVersion(body.version, now.rig, store, async () => record(now, names), t);
        const { text, trainChanged } = changesBetween(now.revision.setup, body.setup);
        const changes = [...(body.name === now.rig.name ? [] : [`renamed to ${body.name}`]), ...text];
        // what no longer holds is written down with the change, for whoever comes next
        for (const k of invalidatedBy(now.revision.setup, body.setup)) changes.push(`redo ${INVALID[k]}`);
        const rig = {
          ...now.rig,
          name: body.name,
          siteId: body.siteId,
          version: now.rig.version + 1,
          updatedAt: store.now(),
          updatedBy: who.id,
        };
        await store.rigs.update(rig, { where: { id }, transaction: t });
        const made = await revise(who, id, now.revision.number + 1, body.setup, changes, t);
        await store.audit(
          who,
          body.name,
          `${changes.join('; ')}${trainChanged ? `. New train state ${made.state.words}: offsets and flats of ${now.state.words} no longer apply` : ''}`,
          t,
        );
        return record({ rig, ...made }, names);
      });
    },
    async revisions(who: Actor, id: string): Promise<RevisionInfo[]> {
      await currentRig(store, who.clubId, id);
      const names = await store.names();
      const states = new Map(
        (await store.trainStates.findAll({ where: { rigId: id } })).map(plain).map((s) => [s.id, s.words]),
      );
      const rows = await store.revisions.findAll({ where: { rigId: id }, order: [['number', 'DESC']], limit: 200 });
      return rows.map(plain).map((r) => ({
        id: r.id,
        number: r.number,
        at: iso(r.at),
        by: names.get(r.byId) ?? '',
        changes: r.changes,
        trainStateId: r.trainStateId,
        words: states.get(r.trainStateId) ?? '',
        setup: r.setup,
      }));
    },
    async trainStates(who: Actor, id: string): Promise<TrainStateInfo[]> {
      await currentRig(store, who.clubId, id);
      const rows = await store.trainStates.findAll({ where: { rigId: id }, order: [['createdAt', 'DESC']] });
      return Promise.all(
        rows.map(plain).map(async (s) => ({
          id: s.id,
          rigId: s.rigId,
          fingerprint: s.fingerprint,
          words: s.words,
          since: iso(s.createdAt),
          focusRuns: await store.focusRuns.count({ where: { trainStateId: s.id } }),
        })),
      );
    },
  };
}
