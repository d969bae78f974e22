import type { UpkeepFields, UpkeepRecord } from '@keen/contract';
import { upkeepDue } from '@keen/core/record';
import { eveningDate } from '@keen/core/sky';
import type { Transaction } from 'sequelize';
import { nightOnRecord, plain, type UpkeepDoneRow, type UpkeepRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { demandVersion, groupBy, iso, type Actor, type Store } from '../../store.ts';
import { rigOf } from '../rigs/current.ts';

/** Times it was done that are told; the archive has all. */
const TOLD = 10;
const ORDER = { over: 0, soon: 1, later: 2 };

/** What comes again on rigs: said by a steward, done by whoever does it. */
export function upkeepService(store: Store) {
  const tells = (rigId: string) => ({ tells: { what: 'upkeep' as const, rigId } });

  async function records(who: Actor, rows: readonly UpkeepRow[], t?: Transaction): Promise<UpkeepRecord[]> {
    const ids = rows.map((r) => r.id);
    const [names, rigs, done, nights] = [
      await store.names(who.clubId, t),
      await store.read<{ id: string; name: string; timeZone: string }>(
        'SELECT g.id, g.name, s.time_zone AS timeZone FROM rigs g JOIN sites s ON s.id = g.site_id WHERE g.club_id = ?',
        [who.clubId],
        t,
      ),
      (
        await store.upkeepDone.findAll({
          where: { upkeepId: ids },
          order: [
            ['day', 'DESC'],
            ['id', 'ASC'],
          ],
          ...(t ? { transaction: t } : {}),
        })
      ).map(plain),
      // what is done on a day is done before its evening
      ids.length
        ? await store.read<{ id: string; n: number }>(
            `SELECT u.id, COUNT(DISTINCT r.night) AS n FROM upkeep u JOIN runs r ON r.rig_id = u.rig_id AND r.night >= u.since
             WHERE u.id IN (${ids.map(() => '?').join(', ')}) AND ${nightOnRecord('r')} GROUP BY u.id`,
            ids,
            t,
          )
        : [],
    ];
    const [rigById, doneOf, worked] = [
      new Map(rigs.map((r) => [r.id, r])),
      groupBy(done, (d: UpkeepDoneRow) => d.upkeepId),
      new Map(nights.map((n) => [n.id, Number(n.n)])),
    ];
    const all = rows.map(({ archivedAt: _a, updatedAt, updatedBy, ...r }): UpkeepRecord => {
      const rig = rigById.get(r.rigId);
      const times = (doneOf.get(r.id) ?? []).slice(0, TOLD);
      const count = worked.get(r.id) ?? 0;
      const today = eveningDate(rig?.timeZone ?? 'UTC', store.now().getTime());
      return {
        ...r,
        rig: rig?.name ?? '',
        doneBy: times[0] ? (names.get(times[0].byId) ?? '') : '',
        nights: count,
        due: upkeepDue(r, { since: r.since, nights: count, today }),
        done: times.map((d) => ({ day: d.day, by: names.get(d.byId) ?? '', note: d.note })),
        updatedAt: iso(updatedAt),
        updatedBy: names.get(updatedBy ?? '') ?? '',
      };
    });
    const at = (u: UpkeepRecord) => [ORDER[u.due.state], u.due.date ?? '9', u.rig, u.what].join(' ');
    return all.sort((a, b) => (at(a) < at(b) ? -1 : 1));
  }
  async function find(who: Actor, id: string, t?: Transaction): Promise<UpkeepRow> {
    const found = await store.upkeep.findOne({ where: { id, archivedAt: null }, ...(t ? { transaction: t } : {}) });
    if (!found) throw new Problem('not_found', 'There is no such upkeep.');
    const row = plain(found);
    await rigOf(store, who.clubId, row.rigId, t);
    return row;
  }
  const one = async (who: Actor, row: UpkeepRow, t: Transaction) => (await records(who, [row], t))[0]!;
  /** A change of one of them, in its turn at the rig it is of. */
  async function changing<T>(
    who: Actor,
    id: string,
    version: number | null,
    work: (row: UpkeepRow, t: Transaction) => Promise<T>,
  ): Promise<T> {
    const { rigId } = await find(who, id);
    return store.change(
      who,
      ['rig', rigId],
      async (t) => {
        const row = await find(who, id, t);
        if (version !== null) await demandVersion(version, row, store, () => one(who, row, t), t);
        return work(row, t);
      },
      tells(rigId),
    );
  }
  async function write(who: Actor, row: UpkeepRow, said: string, t: Transaction): Promise<UpkeepRow> {
    const next = { ...row, version: row.version + 1, updatedAt: store.now(), updatedBy: who.id };
    await store.upkeep.update(next, { where: { id: row.id }, transaction: t });
    const { name } = await rigOf(store, who.clubId, row.rigId, t);
    await store.audit(who, name, `upkeep ${said}: ${row.what}`, t);
    return next;
  }

  return {
    async list(who: Actor): Promise<UpkeepRecord[]> {
      const rigs = await store.read<{ id: string }>('SELECT id FROM rigs WHERE club_id = ? AND archived_at IS NULL', [
        who.clubId,
      ]);
      const rows = await store.upkeep.findAll({ where: { rigId: rigs.map((r) => r.id), archivedAt: null } });
      return records(who, rows.map(plain));
    },
    add: (who: Actor, fields: UpkeepFields) =>
      store.change(
        who,
        ['rig', fields.rigId],
        async (t) => {
          const rig = await rigOf(store, who.clubId, fields.rigId, t);
          const [site] = await store.read<{ timeZone: string }>(
            'SELECT time_zone AS timeZone FROM sites WHERE id = ?',
            [rig.siteId],
            t,
          );
          const row: UpkeepRow = {
            id: store.id(),
            ...fields,
            since: eveningDate(site!.timeZone, store.now().getTime()),
            version: 1,
            updatedAt: store.now(),
            updatedBy: who.id,
            archivedAt: null,
          };
          await store.upkeep.create(row, { transaction: t });
          await store.audit(who, rig.name, `upkeep added: ${row.what}`, t);
          return one(who, row, t);
        },
        tells(fields.rigId),
      ),
    change: (who: Actor, id: string, { version, rigId, ...fields }: UpkeepFields & { version: number }) =>
      changing(who, id, version, async (row, t) => {
        if (rigId !== row.rigId)
          throw new Problem('invalid_input', 'upkeep stays with its rig', {
            issues: [{ path: 'rigId', message: 'cannot be changed; add it to the other rig instead' }],
          });
        return one(who, await write(who, { ...row, ...fields }, 'changed', t), t);
      }),
    drop: (who: Actor, id: string) =>
      changing(who, id, null, async (row, t) => {
        await write(who, { ...row, archivedAt: store.now() }, 'ended', t);
      }),
    done: (who: Actor, id: string, { day, note, version }: { day: string; note: string; version: number }) =>
      changing(who, id, version, async (row, t) => {
        const before = await one(who, row, t);
        const [site] = await store.read<{ timeZone: string }>(
          'SELECT s.time_zone AS timeZone FROM sites s JOIN rigs g ON g.site_id = s.id WHERE g.id = ?',
          [row.rigId],
          t,
        );
        const today = eveningDate(site!.timeZone, store.now().getTime());
        const wrong =
          day > today
            ? `is yet to come; today is ${today} there`
            : day < before.since
              ? `is before ${before.since}, from when it is counted`
              : '';
        if (wrong)
          throw new Problem('invalid_input', `the day ${wrong}`, { issues: [{ path: 'day', message: wrong }] });
        await store.upkeepDone.create({ id: store.id(), upkeepId: id, day, byId: who.id, note }, { transaction: t });
        return one(who, await write(who, { ...row, since: day }, 'done', t), t);
      }),
  };
}
