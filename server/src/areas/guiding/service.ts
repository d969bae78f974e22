import type { GuideLogFields, GuideLogRecord, Page } from '@keen/contract';
import { holds, type AspectHashes } from '@keen/core/rig';
import type { Transaction } from 'sequelize';
import { plain, type GuideLogRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { demandOwner, iso, pageOf, type Actor, type Store } from '../../store.ts';
import type { RunTask } from '../calculations/pool.ts';
import { currentSystem, demandRig } from '../rigs/current.ts';

/** Everything but the samples, so that a list stays small. */
const WITHOUT_CSV = [
  'id',
  'rigId',
  'system',
  'trainStateId',
  'night',
  'name',
  'note',
  'beganAt',
  'summary',
  'byId',
  'at',
  'archivedAt',
] as const;

/** Kept guide logs: the samples as sent, and what they say worked out here. */
export function guideLogsService(store: Store, runTask: RunTask) {
  async function records(who: Actor, rows: Omit<GuideLogRow, 'csv'>[]): Promise<GuideLogRecord[]> {
    const names = await store.names(who.clubId);
    const states = await store.trainStates.findAll({ where: { id: [...new Set(rows.map((r) => r.trainStateId))] } });
    const stateOf = new Map(states.map(plain).map((s) => [s.id, s]));
    const systems = new Map(rows.map((r) => [`${r.rigId} ${r.system}`, r]));
    const now = new Map<string, AspectHashes>();
    for (const [key, { rigId, system }] of systems)
      now.set(key, (await currentSystem(store, who.clubId, rigId, system)).aspects);
    return rows.map((r) => {
      const made = stateOf.get(r.trainStateId);
      return {
        id: r.id,
        rigId: r.rigId,
        system: r.system,
        trainStateId: r.trainStateId,
        words: made?.words ?? '',
        guider: made?.aspects?.guiderCalibration ?? null,
        holds: holds(made?.aspects ?? null, now.get(`${r.rigId} ${r.system}`)!, 'guiderCalibration'),
        night: r.night,
        name: r.name,
        note: r.note,
        beganAt: r.beganAt ? iso(r.beganAt) : null,
        by: names.get(r.byId) ?? '',
        at: iso(r.at),
        summary: r.summary,
      };
    });
  }
  async function demandLog(who: Actor, id: string, t?: Transaction): Promise<GuideLogRow> {
    const within = t ? { transaction: t } : {};
    const found = await store.guideLogs.findOne({ where: { id, archivedAt: null }, ...within });
    const row = found ? plain(found) : null;
    const rig = row ? await store.rigs.findOne({ where: { id: row.rigId, clubId: who.clubId }, ...within }) : null;
    if (!row || !rig) throw new Problem('not_found', 'There is no such guide log.');
    return row;
  }
  /** Changes a log of one’s own, as it stands when its turn at the rig has come. */
  async function changeLog(who: Actor, id: string, fields: Partial<GuideLogRow>, told: string): Promise<GuideLogRow> {
    const { rigId } = await demandLog(who, id);
    return store.change(
      who,
      ['rig', rigId],
      async (t) => {
        const row = await demandLog(who, id, t);
        demandOwner(who, row.byId, `the guide log “${row.name}”`);
        await store.guideLogs.update(fields, { where: { id }, transaction: t });
        await store.audit(who, row.name, told, t);
        return { ...row, ...fields };
      },
      { tells: { what: 'guide-logs', rigId } },
    );
  }
  return {
    async list(who: Actor, rigId: string, page: Page): Promise<GuideLogRecord[]> {
      await demandRig(store, who.clubId, rigId);
      const rows = await store.guideLogs.findAll({
        attributes: [...WITHOUT_CSV],
        where: { rigId, archivedAt: null },
        order: [
          ['night', 'DESC'],
          ['at', 'DESC'],
          ['id', 'ASC'],
        ],
        ...pageOf(page),
      });
      return records(who, rows.map(plain));
    },
    async read(who: Actor, id: string): Promise<{ log: GuideLogRecord; csv: string }> {
      const row = await demandLog(who, id);
      return { log: (await records(who, [row]))[0]!, csv: row.csv };
    },
    async keep(who: Actor, rigId: string, f: GuideLogFields): Promise<GuideLogRecord> {
      const { rig, system, state } = await currentSystem(store, who.clubId, rigId, f.system);
      // somebody’s file: read in a worker, in its sender’s turn
      const summary = await runTask(
        'guideLog',
        { csv: f.csv, imagingScaleArcsecPerPx: f.imagingScaleArcsecPerPx ?? null },
        who.id,
      );
      const row: GuideLogRow = {
        id: store.id(),
        rigId,
        system: system.key,
        trainStateId: state.id,
        night: f.night,
        name: f.name,
        note: f.note,
        beganAt: f.beganAt ? new Date(f.beganAt) : null,
        summary,
        csv: f.csv,
        byId: who.id,
        at: store.now(),
        archivedAt: null,
      };
      await store.change(
        who,
        ['rig', rigId],
        async (t) => {
          await store.guideLogs.create(row, { transaction: t });
          await store.audit(who, rig.name, `guide log “${f.name}” kept, ${summary.rms.total.toFixed(2)}″`, t);
        },
        { tells: { what: 'guide-logs', rigId } },
      );
      return (await records(who, [row]))[0]!;
    },
    async began(who: Actor, id: string, beganAt: string | null): Promise<GuideLogRecord> {
      const began = beganAt ? new Date(beganAt) : null;
      const changed = await changeLog(
        who,
        id,
        { beganAt: began },
        began ? `guide log began ${iso(began)}` : 'no time of day for the guide log',
      );
      return (await records(who, [changed]))[0]!;
    },
    async drop(who: Actor, id: string): Promise<{ ok: true }> {
      await changeLog(who, id, { archivedAt: store.now() }, 'guide log put away');
      return { ok: true };
    },
  };
}
