import type { FocusRunFields, FocusRunRecord, OffsetSetFields, OffsetSetRecord, Page } from '@keen/contract';
import { UniqueConstraintError, type Transaction } from 'sequelize';
import { heldUnder, plain, type FocusRunRow, type OffsetSetRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { computeHere, offsetsFrom, runFromPoints, type Compute } from './results.ts';
import { iso, isoOrNull, pageOf, type Actor, type Store } from '../../store.ts';

export function focusService(store: Store, compute: Compute = computeHere) {
  async function demandState(who: Actor, id: string) {
    const state = await store.trainStates.findByPk(id);
    const rig = state ? await store.rigs.findOne({ where: { id: plain(state).rigId, clubId: who.clubId } }) : null;
    if (!state || !rig) throw new Problem('not_found', 'There is no such train state.');
    const row = plain(state);
    // whatever else differs between two states: what was measured in one holds in the other if its aspect is the same
    return {
      state: row,
      rig: plain(rig),
      scope: heldUnder(row, 'focus'),
    };
  }
  const runRecord = (r: FocusRunRow, names: Map<string, string>): FocusRunRecord => ({
    id: r.id,
    trainStateId: r.trainStateId,
    filter: r.filter,
    position: r.position,
    hfd: r.hfd,
    error: r.error,
    temperatureC: r.temperatureC,
    time: isoOrNull(r.time),
    points: r.points,
    usable: r.usable === 1,
    reason: r.reason,
    source: r.source,
    excluded: r.excluded === 1,
    by: names.get(r.byId) ?? '',
  });
  const setRecord = (s: OffsetSetRow, names: Map<string, string>): OffsetSetRecord => ({
    id: s.id,
    trainStateId: s.trainStateId,
    reference: s.reference,
    model: s.model,
    offsets: s.offsets,
    temperatureStepsPerC: s.temperatureStepsPerC,
    zoneSteps: s.zoneSteps,
    runCount: s.runCount,
    adoptedAt: iso(s.adoptedAt),
    by: names.get(s.byId) ?? '',
  });
  return {
    async list(who: Actor, trainStateId: string, page: Page): Promise<FocusRunRecord[]> {
      const { scope } = await demandState(who, trainStateId);
      const names = await store.names(who.clubId);
      const rows = await store.focusRuns.findAll({
        where: scope,
        order: [
          ['time', 'ASC'],
          ['createdAt', 'ASC'],
          ['id', 'ASC'],
        ],
        ...pageOf(page),
      });
      return rows.map((r) => runRecord(plain(r), names));
    },
    async add(
      who: Actor,
      trainStateId: string,
      source: 'typed' | 'file',
      sent: FocusRunFields[],
    ): Promise<{ added: number; known: number }> {
      const { rig, state, scope } = await demandState(who, trainStateId);
      const runs: FocusRunFields[] = [];
      for (const r of sent) runs.push(await runFromPoints(compute, who, r));
      let added = 0;
      // runs without a time are told apart by all they say: two senders of one file must not pass each other
      await store.change(
        who,
        ['rig', rig.id],
        async (t) => {
          added = 0;
          const untimed = runs.some((r) => !r.time)
            ? (await store.focusRuns.findAll({ where: { ...scope, time: null }, transaction: t })).map(plain)
            : [];
          const same = (r: FocusRunFields, o: FocusRunRow) =>
            o.filter === r.filter && o.position === r.position && o.temperatureC === r.temperatureC && o.hfd === r.hfd;
          for (const r of runs) {
            if (!r.time && untimed.some((o) => same(r, o))) continue;
            try {
              await store.focusRuns.create(
                {
                  id: store.id(),
                  trainStateId,
                  ...scope,
                  ...r,
                  time: r.time ? new Date(r.time) : null,
                  usable: r.usable ? 1 : 0,
                  source,
                  runId: null,
                  excluded: 0,
                  byId: who.id,
                  createdAt: store.now(),
                },
                { transaction: t },
              );
              added++;
            } catch (e) {
              if (!(e instanceof UniqueConstraintError)) throw e;
            }
          }
          if (added) await store.audit(who, rig.name, `${added} focus runs added for ${state.words}`, t);
        },
        // a file that is known already adds nothing
        { quiet: true, tells: { what: 'focus', rigId: rig.id } },
      );
      return { added, known: runs.length - added };
    },
    async exclude(who: Actor, id: string, excluded: boolean): Promise<void> {
      const row = await store.focusRuns.findByPk(id);
      if (!row) throw new Problem('not_found', 'There is no such focus run.');
      const { rig, state } = await demandState(who, plain(row).trainStateId);
      await store.change(
        who,
        ['rig', rig.id],
        async (t) => {
          await store.focusRuns.update({ excluded: excluded ? 1 : 0 }, { where: { id }, transaction: t });
          const { filter } = plain(row);
          await store.audit(
            who,
            rig.name,
            `a focus run in ${filter} for ${state.words} ${excluded ? 'left out' : 'counts again'}`,
            t,
          );
        },
        { tells: { what: 'focus', rigId: rig.id } },
      );
    },
    async sets(who: Actor, trainStateId: string): Promise<OffsetSetRecord[]> {
      const { scope } = await demandState(who, trainStateId);
      const names = await store.names(who.clubId);
      const rows = await store.offsetSets.findAll({
        where: scope,
        order: [['adoptedAt', 'DESC']],
        limit: 50,
      });
      return rows.map((r) => setRecord(plain(r), names));
    },
    async adopt(who: Actor, f: OffsetSetFields): Promise<OffsetSetRecord> {
      const { rig, state, scope } = await demandState(who, f.trainStateId);
      if (!f.offsets[f.reference])
        throw new Problem('invalid_input', 'the reference filter is not among the offsets', {
          issues: [{ path: 'reference', message: 'is not among the offsets' }],
        });
      const counted = async (t?: Transaction) =>
        (
          await store.focusRuns.findAll({
            where: { ...scope, usable: 1, excluded: 0 },
            order: ['time', 'createdAt', 'id'],
            ...(t ? { transaction: t } : {}),
          })
        ).map(plain);
      const runs = await counted();
      const found = await offsetsFrom(compute, who, runs, f);
      const row: OffsetSetRow = { id: store.id(), ...scope, ...f, ...found, byId: who.id, adoptedAt: store.now() };
      return store.change(
        who,
        ['rig', rig.id],
        async (t) => {
          const ids = (list: FocusRunRow[]) => list.map((r) => r.id).join();
          if (ids(await counted(t)) !== ids(runs))
            throw new Problem(
              'stale',
              'Focus runs were added or left out while these offsets were worked out: look at them again.',
            );
          await store.offsetSets.create(row, { transaction: t });
          await store.audit(
            who,
            rig.name,
            `adopted offsets of ${Object.keys(f.offsets).length} filters for ${state.words}`,
            t,
          );
          return setRecord(row, await store.names(who.clubId, t));
        },
        { tells: { what: 'focus', rigId: rig.id } },
      );
    },
  };
}
