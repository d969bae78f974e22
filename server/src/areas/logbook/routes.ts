import { api, type LogFields, type LogRecord } from '@keen/contract';
import { literal, Op, where, type Transaction } from 'sequelize';
import { plain, type LogRow } from '../../database/index.ts';
import type { Serve } from '../../http.ts';
import { Problem } from '../../problems.ts';
import { demandOwner, demandVersion, iso, pageOf, type Actor, type Store } from '../../store.ts';
import { currentSystem, demandRig } from '../rigs/current.ts';
import { addEntry } from './entries.ts';
import { openFaults, rigIdsOf } from './stops.ts';

/** Words of a search looked at. */
const MOST_WORDS = 8;
/** What people write. */
const TEXTS = ['problem', 'cause', 'cure'] as const;
const likely = (word: string) => `%${word.replace(/[\\%_]/g, (c) => `\\${c}`)}%`;

/** The logbook: what went wrong with a rig, what it was, and what cured it. */
export function logbookRoutesOf(serve: Serve, store: Store): void {
  async function records(who: Actor, rows: readonly LogRow[], t?: Transaction): Promise<LogRecord[]> {
    const names = await store.names(who.clubId, t);
    const rigs = await store.rigs.findAll({
      where: { clubId: who.clubId },
      attributes: ['id', 'name'],
      ...(t ? { transaction: t } : {}),
    });
    const named = new Map(rigs.map(plain).map((r) => [r.id, r.name]));
    return rows.map(({ archivedAt: _a, updatedAt, updatedBy, ...r }) => ({
      ...r,
      rig: named.get(r.rigId) ?? '',
      by: names.get(r.byId) ?? '',
      updatedAt: iso(updatedAt),
      updatedBy: names.get(updatedBy ?? '') ?? '',
    }));
  }
  async function demandEntry(who: Actor, id: string, archived: boolean, t?: Transaction): Promise<LogRow> {
    const within = t ? { transaction: t } : {};
    const found = await store.logEntries.findOne({ where: { id }, ...within });
    const row = found ? plain(found) : null;
    const rig = row && (await store.rigs.findOne({ where: { id: row.rigId, clubId: who.clubId }, ...within }));
    if (!row || !rig || (row.archivedAt !== null) !== archived)
      throw new Problem('not_found', 'There is no such entry.');
    demandOwner(who, row.byId, 'this entry');
    return row;
  }
  /** A change of an entry of one’s own, which is put away or not, in its turn at the rig it is of. */
  async function changeEntry<T>(
    who: Actor,
    id: string,
    archived: boolean,
    work: (row: LogRow, t: Transaction) => Promise<T>,
  ): Promise<T> {
    const { rigId } = await demandEntry(who, id, archived);
    const change = async (t: Transaction) => work(await demandEntry(who, id, archived, t), t);
    return store.change(who, ['rig', rigId], change, { tells: { what: 'logbook', rigId } });
  }
  const write = (who: Actor, id: string, row: LogRow, t: Transaction) =>
    store.logEntries.update(
      { ...row, version: row.version + 1, updatedAt: store.now(), updatedBy: who.id },
      { where: { id }, transaction: t },
    );
  const again = async (who: Actor, id: string, t: Transaction) =>
    (await records(who, [plain((await store.logEntries.findByPk(id, { transaction: t }))!)], t))[0]!;

  serve(api.logbook, async ({ who, query }) => {
    if (query.rig) await demandRig(store, who.clubId, query.rig);
    const rigs = await store.rigs.findAll({ where: { clubId: who.clubId }, attributes: ['id'] });
    const words = query.find.trim().split(/\s+/).filter(Boolean).slice(0, MOST_WORDS);
    const has = (word: string) => ({
      [Op.or]: [
        // signs count as signs here, and letters with their accents or without
        ...TEXTS.map((k) => where(literal(`${k} COLLATE utf8mb4_general_ci`), { [Op.like]: likely(word) })),
        // codes of findings are plain letters, and the database compares them with nothing else
        ...(/^[\x20-\x7e]*$/.test(word) ? [{ finding: { [Op.like]: likely(word) } }] : []),
      ],
    });
    const rows = await store.logEntries.findAll({
      where: {
        archivedAt: null,
        rigId: query.rig ?? rigs.map((r) => plain(r).id),
        ...(words.length ? { [Op.and]: words.map(has) } : {}),
      },
      order: [
        ['updatedAt', 'DESC'],
        ['id', 'ASC'],
      ],
      ...pageOf(query),
    });
    return records(who, rows.map(plain));
  });
  serve(api.stops, async ({ who }) => records(who, await openFaults(store, await rigIdsOf(store, who.clubId))));
  /** A stop names a system of its rig. */
  async function demandStop(who: Actor, { rigId, stops }: Pick<LogFields, 'rigId' | 'stops'>, t?: Transaction) {
    await demandRig(store, who.clubId, rigId, t);
    if (!stops?.system) return;
    const { rig, revision } = await currentSystem(store, who.clubId, rigId, stops.system, t);
    const keys = revision.setup.systems.map((s) => s.key);
    if (!keys.includes(stops.system))
      throw new Problem('invalid_input', `${rig.name} has no such system`, {
        issues: [{ path: 'stops.system', message: `is not one of ${keys.join(', ')}` }],
      });
  }
  serve(api.addLog, async ({ who, body }) => {
    await demandStop(who, body);
    return store.change(
      who,
      ['rig', body.rigId],
      async (t) => {
        const row = await addEntry(store, who, body, t);
        const [record] = await records(who, [row], t);
        await store.audit(who, record!.rig, `logbook: ${body.problem.slice(0, 200)}`, t);
        return record!;
      },
      { tells: { what: 'logbook', rigId: body.rigId } },
    );
  });
  serve(api.changeLog, ({ who, params, body }) =>
    changeEntry(who, params.id, false, async (row, t) => {
      const { version, ...fields } = body;
      await demandVersion(version, row, store, () => again(who, params.id, t), t);
      await demandStop(who, fields, t);
      await write(who, params.id, { ...row, ...fields }, t);
      const now = await again(who, params.id, t);
      await store.audit(who, now.rig, `logbook changed: ${now.problem.slice(0, 200)}`, t);
      return now;
    }),
  );
  serve(api.dropLog, ({ who, params }) =>
    changeEntry(who, params.id, false, async (row, t) => {
      await write(who, params.id, { ...row, archivedAt: store.now() }, t);
      await store.audit(who, 'Logbook', `put away: ${row.problem.slice(0, 200)}`, t);
      return { ok: true as const };
    }),
  );
  serve(api.restoreLog, ({ who, params }) =>
    changeEntry(who, params.id, true, async (row, t) => {
      await write(who, params.id, { ...row, archivedAt: null }, t);
      await store.audit(who, 'Logbook', `taken back: ${row.problem.slice(0, 200)}`, t);
      return again(who, params.id, t);
    }),
  );
}
