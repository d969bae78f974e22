import type { CalibrationGroup, FrameFields, FrameRecord, NightRecord, Page } from '@keen/contract';
import { standardsOf, straysOf, type FrameMeasures, type Judgement } from '@keen/core/frames';
import { calibrationHolds } from '@keen/core/calibration';
import type { AspectHashes, RigSetup } from '@keen/core/rig';
import { COUNTED_RUN_STATE } from '@keen/core/record';
import { eveningDate } from '@keen/core/sky';
import { Op, QueryTypes, type Transaction, type WhereOptions } from 'sequelize';
import {
  BROUGHT_FRAMES,
  frameCounts,
  NIGHT_ON_RECORD,
  nightOnRecord,
  plain,
  type FrameRow,
  type ProjectRow,
  type RunRow,
} from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { demandOwner, groupBy, iso, isoOrNull, pageOf, type Actor, type Store } from '../../store.ts';
import { assignPanels } from '../projects/panels.ts';
import { currentSystem, demandRig } from '../rigs/current.ts';

/** Nights and frames from which limits are learnt. */
const LEARNT_NIGHTS = 20;
const LEARNT_FRAMES = 5000;

interface NightBody {
  system: string;
  night: string;
  name: string;
  frames: FrameFields[];
}

/** Nights that count: played live on a practice rig, or taken elsewhere and brought in. */
export function nightsService(store: Store) {
  async function records(who: Actor, rows: RunRow[], t?: Transaction): Promise<NightRecord[]> {
    if (rows.length === 0) return [];
    const names = await store.names(who.clubId, t);
    const within = t ? { transaction: t } : {};
    const states = await store.trainStates.findAll({
      where: { id: [...new Set(rows.map((r) => r.trainStateId))] },
      ...within,
    });
    const words = new Map(states.map(plain).map((s) => [s.id, s.words]));
    const sums = await store.read<{
      runId: string;
      kind: string;
      projectId: string | null;
      object: string | null;
      filter: string;
      exposureS: number;
      accepted: string;
      rejected: string;
    }>(
      `SELECT f.run_id AS runId, f.kind, f.project_id AS projectId, p.object, f.filter, f.exposure_s AS exposureS,
              SUM(f.accepted) AS accepted, SUM(1 - f.accepted) AS rejected
       FROM frames f LEFT JOIN projects p ON p.id = f.project_id WHERE f.run_id IN (?)
       GROUP BY f.run_id, f.kind, f.project_id, p.object, f.filter, f.exposure_s ORDER BY p.object, f.filter, f.exposure_s`,
      [rows.map((r) => r.id)],
      t,
    );
    const sumsOf = groupBy(sums, (s) => s.runId);
    return rows.map((r) => {
      const own = sumsOf.get(r.id) ?? [];
      return {
        id: r.id,
        rigId: r.rigId,
        system: r.system,
        kind: r.kind,
        night: r.night,
        name: r.name,
        beside: r.besideId !== null,
        planId: r.planId,
        trainStateId: r.trainStateId,
        words: words.get(r.trainStateId) ?? '',
        by: names.get(r.byId) ?? '',
        at: iso(r.at),
        undone: r.state === 'discarded',
        taken: own
          .filter((s) => s.kind === 'light')
          .map((s) => ({
            projectId: s.projectId,
            object: s.object ?? '',
            filter: s.filter,
            exposureS: s.exposureS,
            accepted: Number(s.accepted),
            rejected: Number(s.rejected),
          })),
        calibration: own
          .filter((s) => s.kind !== 'light')
          .reduce((n, s) => n + Number(s.accepted) + Number(s.rejected), 0),
      };
    });
  }
  const frameRecord = (f: FrameRow): FrameRecord => ({
    id: f.id,
    seq: f.seq,
    kind: f.kind,
    projectId: f.projectId,
    filter: f.filter,
    exposureS: f.exposureS,
    startedAt: isoOrNull(f.startedAt),
    file: f.file,
    hash: f.fileHash,
    header: f.header,
    measures: f.measures,
    look: f.look,
    judged: f.judged === 1,
    accepted: f.accepted === 1,
    reason: f.reason,
    refusal: f.refusal,
  });

  async function held(who: Actor, id: string, t?: Transaction): Promise<RunRow> {
    const found = await store.runs.findOne({
      where: { id, ...BROUGHT_FRAMES } as WhereOptions<RunRow>,
      attributes: { exclude: ['result'] },
      ...(t ? { transaction: t, lock: true } : {}),
    });
    if (!found) throw new Problem('not_found', 'There is no such night.');
    const run = plain(found);
    await demandRig(store, who.clubId, run.rigId, t);
    return run;
  }

  /**
   * Frames count for what plans of this camera may work for. Somebody else’s project takes them from its owner, from a
   * steward, or from who planned it for that night: a file’s hash is only claimed, and typed frames have none.
   * @returns the projects named, by id
   */
  async function demandProjects(
    who: Actor,
    { night, frames }: NightBody,
    { rigId, system }: { rigId: string; system: string },
  ): Promise<Map<string, ProjectRow>> {
    const ids = [...new Set(frames.flatMap((f) => (f.kind === 'light' && f.projectId ? [f.projectId] : [])))];
    const found = (await store.projects.findAll({ where: { id: ids, clubId: who.clubId } })).map(plain);
    const projects = new Map(found.map((p) => [p.id, p]));
    const planned = await store.read<{ id: string }>(
      `SELECT DISTINCT pp.project_id AS id FROM plan_projects pp JOIN plans p ON p.id = pp.plan_id
       WHERE p.owner_id = ? AND p.rig_id = ? AND p.night = ? AND p.status <> 'cancelled'`,
      [who.id, rigId, night],
    );
    const own = new Set(planned.map((p) => p.id));
    const names = await store.names(who.clubId);
    const wrong = (id: string): string => {
      const p = projects.get(id);
      if (!p) return 'is no project of the club';
      if (p.rigId !== rigId) return `${p.name} is taken with another rig`;
      if (p.system !== system) return `${p.name} is taken with another camera of this rig`;
      if (who.role === 'steward' || p.ownerId === who.id || own.has(id)) return '';
      return `${p.name} is a project of ${names.get(p.ownerId) ?? 'somebody else'}: its owner, a steward or whoever planned it for this night brings its frames in`;
    };
    const bad = ids.map((id) => ({ id, message: wrong(id) })).find((w) => w.message);
    if (bad) {
      const at = frames.findIndex((f) => f.projectId === bad.id && f.kind === 'light');
      throw new Problem('invalid_input', `Frame ${at + 1} cannot count there: ${bad.message}.`, {
        issues: [{ path: `frames.${at}.projectId`, message: bad.message }],
      });
    }
    return projects;
  }

  /** Frames of mosaics find their panels by where they point. */
  async function assignTo(frames: readonly FrameFields[], run: RunRow, setup: RigSetup, t: Transaction) {
    const ids = [...new Set(frames.flatMap((f) => (f.kind === 'light' && f.projectId ? [f.projectId] : [])))];
    const projects = ids.length ? await store.projects.findAll({ where: { id: ids }, transaction: t }) : [];
    // a mosaic’s panels are those of its own camera
    for (const p of projects.map(plain))
      if (p.framing && p.system === run.system) await assignPanels(store, p, setup, t, run.id);
  }

  return {
    async list(who: Actor, rigId: string, page: Page): Promise<NightRecord[]> {
      await demandRig(store, who.clubId, rigId);
      const rows = await store.runs.findAll({
        where: { rigId, ...BROUGHT_FRAMES } as WhereOptions<RunRow>,
        attributes: { exclude: ['result'] },
        order: [
          ['night', 'DESC'],
          ['at', 'DESC'],
          ['id', 'ASC'],
        ],
        ...pageOf(page),
      });
      return records(who, rows.map(plain));
    },
    async record(
      who: Actor,
      rigId: string,
      body: NightBody,
    ): Promise<{ night: NightRecord | null; added: number; known: number }> {
      const now = await currentSystem(store, who.clubId, rigId, body.system);
      const site = plain((await store.sites.findByPk(now.rig.siteId))!);
      const evening = eveningDate(site.timeZone, store.now().getTime());
      if (body.night > evening)
        throw new Problem('invalid_input', `The night of ${body.night} has not come yet.`, {
          issues: [
            {
              path: 'night',
              message: `has not come yet, it is the evening of ${evening} there; was the clock wrong that dated the frames?`,
            },
          ],
        });
      const projects = await demandProjects(who, body, { rigId, system: now.system.key });
      return store.transact(async (t) => {
        // two people bringing in the same folder take turns at the rig
        await store.rigs.findByPk(rigId, { transaction: t, lock: true });
        // once for a project, whoever of those who may brings it in; else once for each person
        const holder = (f: FrameFields) =>
          (f.kind === 'light' && f.projectId && projects.get(f.projectId)?.ownerId) || who.id;
        const counted = (f: FrameFields) => (f.hash ? `${holder(f)}:${f.hash}` : null);
        const hashes = body.frames.flatMap((f) => counted(f) ?? []);
        const there = new Set(
          (
            await store.frames.findAll({ where: { countedHash: hashes }, attributes: ['countedHash'], transaction: t })
          ).map((f) => plain(f).countedHash),
        );
        const fresh: FrameFields[] = [];
        for (const f of body.frames) {
          const hash = counted(f);
          if (hash && there.has(hash)) continue;
          if (hash) there.add(hash);
          fresh.push(f);
        }
        const known = body.frames.length - fresh.length;
        if (fresh.length === 0) return { night: null, added: 0, known };
        const run: RunRow = {
          id: store.id(),
          kind: 'recorded',
          planId: null,
          rigId,
          system: now.system.key,
          night: body.night,
          name: body.name,
          trainStateId: now.state.id,
          aspects: now.aspects,
          offsetSetId: null,
          planVersion: null,
          seed: null,
          state: COUNTED_RUN_STATE,
          offsetsUsed: 0,
          result: null,
          byId: who.id,
          at: store.now(),
          acceptedPlan: null,
          besideId: null,
        };
        await store.runs.create(run, { transaction: t });
        await store.frames.bulkCreate(
          fresh.map((f, seq) => ({
            id: store.id(),
            runId: run.id,
            seq,
            kind: f.kind,
            projectId: f.kind === 'light' ? f.projectId : null,
            panel: null,
            filter: f.filter,
            exposureS: f.exposureS,
            startedAt: f.startedAt ? new Date(f.startedAt) : null,
            file: f.file,
            header: f.header,
            measures: {},
            look: null,
            accepted: f.accepted ? 1 : 0,
            judged: 0,
            reason: f.reason,
            refusal: f.accepted ? null : f.refusal,
            countedHash: counted(f),
            fileHash: f.hash,
          })),
          { transaction: t },
        );
        await assignTo(fresh, run, now.setup, t);
        const lights = fresh.filter((f) => f.kind === 'light').length;
        await store.audit(
          who,
          now.rig.name,
          `night of ${body.night} brought in: ${lights} frames${[...projects.values()].map((p) => `, ${fresh.filter((f) => f.kind === 'light' && f.projectId === p.id).length} for ${p.name}`).join('')}, ${fresh.length - lights} for calibration`,
          t,
        );
        return { night: (await records(who, [run], t))[0]!, added: fresh.length, known };
      });
    },
    async undo(who: Actor, id: string): Promise<void> {
      await store.transact(async (t) => {
        const run = await held(who, id, t);
        demandOwner(who, run.byId, 'this night');
        if (run.kind !== 'recorded')
          throw new Problem('not_allowed', 'Only a night that was brought in can be undone; refuse frames instead.');
        if (run.state === 'discarded') throw new Problem('already_done', 'This night has been undone already.');
        await store.runs.update({ state: 'discarded' }, { where: { id }, transaction: t });
        // its files may be brought in again
        await store.frames.update({ countedHash: null }, { where: { runId: id }, transaction: t });
        await store.audit(who, run.name, `night of ${run.night} undone: none of its frames counts`, t);
      });
    },
    async frames(who: Actor, id: string, page: Page): Promise<FrameRecord[]> {
      await held(who, id);
      const rows = await store.frames.findAll({ where: { runId: id }, order: ['seq'], ...pageOf(page) });
      return rows.map((f) => frameRecord(plain(f)));
    },
    async judge(
      who: Actor,
      id: string,
      body: { frames: string[]; accepted: boolean; reason: string; refusal: FrameFields['refusal']; judged: boolean },
    ): Promise<FrameRecord[]> {
      return store.transact(async (t) => {
        const run = await held(who, id, t);
        demandOwner(who, run.byId, 'this night');
        if (run.state === 'discarded') throw new Problem('already_done', 'This night has been undone.');
        const [changed] = await store.frames.update(
          {
            accepted: body.accepted ? 1 : 0,
            judged: body.judged ? 1 : 0,
            reason: body.accepted ? '' : body.reason,
            refusal: body.accepted ? null : body.refusal,
          },
          { where: { runId: id, id: body.frames }, transaction: t },
        );
        await store.audit(
          who,
          run.name || `night of ${run.night}`,
          `${changed} frames ${body.accepted ? 'accepted' : 'refused'}${body.reason ? `: ${body.reason}` : ''}`,
          t,
        );
        const where = { runId: id, id: body.frames };
        const rows = await store.frames.findAll({ where, order: ['seq'], transaction: t });
        return rows.map((f) => frameRecord(plain(f)));
      });
    },
    /** Measures and small pictures of frames; what is no frame of the night is left out. */
    async keepLooks(
      who: Actor,
      id: string,
      looks: { id: string; look: FrameMeasures; picture: string | null }[],
    ): Promise<{ kept: number }> {
      return store.transact(async (t) => {
        const run = await held(who, id, t);
        demandOwner(who, run.byId, 'this night');
        if (run.state === 'discarded') throw new Problem('already_done', 'This night has been undone.');
        const ids = looks.map((l) => l.id);
        const own = new Set(
          (await store.frames.findAll({ where: { runId: id, id: ids }, attributes: ['id'], transaction: t })).map(
            (f) => plain(f).id,
          ),
        );
        for (const { id: frame, look, picture } of looks) {
          if (!own.has(frame)) continue;
          await store.frames.update({ look }, { where: { id: frame }, transaction: t });
          if (picture) await store.framePictures.upsert({ id: frame, picture }, { transaction: t });
        }
        return { kept: own.size };
      });
    },
    async pictures(who: Actor, id: string, page: Page): Promise<{ id: string; picture: string }[]> {
      await held(who, id);
      const rows = await store.read<{ id: string; picture: string }>(
        `SELECT p.id, p.picture FROM frame_pictures p JOIN frames f ON f.id = p.id WHERE f.run_id = ? ORDER BY f.seq LIMIT ? OFFSET ?`,
        [id, pageOf(page).limit, pageOf(page).offset],
      );
      return rows;
    },
    /** Words of people over measured frames of the last nights, each held against the frames of its own night. */
    async judgements(who: Actor, rigId: string, asked?: string): Promise<Judgement[]> {
      const system = (await currentSystem(store, who.clubId, rigId, asked)).system.key;
      const where = { rigId, system, ...NIGHT_ON_RECORD } as WhereOptions<RunRow>;
      const nights = await store.runs.findAll({
        where,
        attributes: ['id'],
        order: [
          ['night', 'DESC'],
          ['id', 'ASC'],
        ],
        limit: LEARNT_NIGHTS,
      });
      const runs = nights.map((n) => plain(n).id);
      if (runs.length === 0) return [];
      const rows = await store.frames.findAll({
        where: { runId: runs, kind: 'light', look: { [Op.ne]: null } } as WhereOptions<FrameRow>,
        order: ['runId', 'seq'],
        limit: LEARNT_FRAMES,
      });
      const byRun = groupBy(rows.map(plain), (f) => f.runId);
      return [...byRun.values()].flatMap((frames) => {
        const usual = standardsOf(frames);
        return frames.flatMap((f): Judgement[] => {
          const standard = f.judged === 1 && f.look ? usual(f) : null;
          if (!standard) return [];
          const { wide, few, eccentricity } = straysOf(f.look!, standard);
          return [{ filter: f.filter, accepted: f.accepted === 1, wide, few, eccentricity }];
        });
      });
    },
    /** What is on record for calibrating a system: flats hold while the aspect they were taken in does. */
    async calibration(who: Actor, rigId: string, system?: string): Promise<CalibrationGroup[]> {
      const now = await currentSystem(store, who.clubId, rigId, system);
      const rows = await store.db.query<{
        kind: CalibrationGroup['kind'];
        filter: string;
        exposureS: number;
        header: string | FrameFields['header'];
        aspects: string | AspectHashes | null;
        night: string;
      }>(
        `SELECT f.kind, f.filter, f.exposure_s AS exposureS, f.header, r.aspects, DATE_FORMAT(r.night, '%Y-%m-%d') AS night
         FROM frames f JOIN runs r ON r.id = f.run_id
         WHERE r.rig_id = :rigId AND r.system = :system AND ${nightOnRecord('r')} AND f.kind <> 'light' AND ${frameCounts('f')}
         ORDER BY r.night DESC LIMIT 20000`,
        { type: QueryTypes.SELECT, replacements: { rigId, system: now.system.key } },
      );
      const groups = new Map<string, CalibrationGroup>();
      for (const r of rows) {
        const header = typeof r.header === 'string' ? (JSON.parse(r.header) as FrameFields['header']) : r.header;
        const aspects = typeof r.aspects === 'string' ? (JSON.parse(r.aspects) as AspectHashes) : r.aspects;
        const holds = calibrationHolds(r.kind, aspects, now.aspects);
        const head = {
          kind: r.kind,
          filter: r.kind === 'flat' ? r.filter : '',
          exposureS: r.exposureS,
          gain: header.gain ?? null,
          setPointC: header.setPointC ?? (header.sensorC === undefined ? null : Math.round(header.sensorC)),
          binning: header.binning ?? 1,
          holds,
        };
        const key = JSON.stringify(head);
        const group = groups.get(key);
        if (group) group.frames++;
        else groups.set(key, { ...head, frames: 1, newest: r.night });
      }
      return [...groups.values()];
    },
  };
}
