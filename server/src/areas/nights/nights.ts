import { changeNight } from './heldNight.ts';
import { frameSums, markFrames, type FrameSum, type MarkedRun } from './frameSums.ts';
import type { FrameFields, NightRecord, Page } from '@keen/contract';
import type { RigSetup } from '@keen/core/rig';
import { COUNTED_RUN_STATE, countsAsNight, isOfNight, nightOf } from '@keen/core/record';
import { eveningDate } from '@keen/core/sky';
import { type Transaction, type WhereOptions } from 'sequelize';
import { BROUGHT_FRAMES, plain, type ProjectRow, type RunRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { iso, pageOf, type Actor, type Store } from '../../store.ts';
import { assignPanels } from '../projects/panels.ts';
import { currentSystem, demandRig } from '../rigs/current.ts';

interface NightBody {
  system: string;
  night: string;
  name: string;
  frames: FrameFields[];
}

/** Nights that count: played live on a practice rig, or taken elsewhere and brought in. */
export function nightsService(store: Store) {
  /** Runs with the marks of their frames, as they stand. */
  const marked = async (rows: readonly RunRow[], t?: Transaction): Promise<MarkedRun[]> =>
    store.read<MarkedRun>('SELECT id, frames_mark AS framesMark FROM runs WHERE id IN (?)', [rows.map((r) => r.id)], t);
  /** A night tells its frames by project, not by panel. */
  function withoutPanels(sums: readonly FrameSum[]): FrameSum[] {
    const all = new Map<string, FrameSum>();
    for (const s of sums) {
      const key = JSON.stringify([s.kind, s.projectId, s.filter, s.exposureS]);
      const there = all.get(key);
      all.set(key, there ? { ...there, accepted: there.accepted + s.accepted, n: there.n + s.n } : s);
    }
    return [...all.values()];
  }
  async function records(who: Actor, rows: RunRow[], t?: Transaction): Promise<NightRecord[]> {
    if (rows.length === 0) return [];
    const names = await store.names(who.clubId, t);
    const within = t ? { transaction: t } : {};
    const states = await store.trainStates.findAll({
      where: { id: [...new Set(rows.map((r) => r.trainStateId))] },
      ...within,
    });
    const words = new Map(states.map(plain).map((s) => [s.id, s.words]));
    const sums = await frameSums(store, await marked(rows, t), t);
    const ids = [...new Set([...sums.values()].flat().flatMap((s) => s.projectId ?? []))];
    const projects = await store.projects.findAll({ where: { id: ids }, attributes: ['id', 'object'], ...within });
    const objects = new Map(projects.map(plain).map((p) => [p.id, p.object]));
    const objectOf = (s: FrameSum) => objects.get(s.projectId ?? '') ?? '';
    const ordered = (own: readonly FrameSum[]) =>
      own.toSorted(
        (a, b) =>
          objectOf(a).localeCompare(objectOf(b)) || a.filter.localeCompare(b.filter) || a.exposureS - b.exposureS,
      );
    return rows.map((r) => {
      const own = ordered(withoutPanels(sums.get(r.id) ?? []));
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
        undone: !countsAsNight(r),
        taken: own
          .filter((s) => s.kind === 'light')
          .map((s) => ({
            projectId: s.projectId,
            object: objectOf(s),
            filter: s.filter,
            exposureS: s.exposureS,
            accepted: s.accepted,
            rejected: s.n - s.accepted,
          })),
        calibration: own.filter((s) => s.kind !== 'light').reduce((n, s) => n + s.n, 0),
      };
    });
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
      const strayed = body.frames.flatMap((f, i) =>
        f.kind === 'light' && f.startedAt && !isOfNight(f.startedAt, body.night, site.timeZone)
          ? [
              {
                path: `frames.${i}.startedAt`,
                message: `lies in the night of ${nightOf(f.startedAt, site.timeZone)}; bring it in with that one`,
              },
            ]
          : [],
      );
      if (strayed.length)
        throw new Problem('invalid_input', `Not every frame is of the night of ${body.night}.`, {
          issues: strayed.slice(0, 20),
        });
      const projects = await demandProjects(who, body, { rigId, system: now.system.key });
      const keep = async (t: Transaction) => {
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
        await markFrames(store, [run.id], t);
        const lights = fresh.filter((f) => f.kind === 'light').length;
        await store.audit(
          who,
          now.rig.name,
          `night of ${body.night} brought in: ${lights} frames${[...projects.values()].map((p) => `, ${fresh.filter((f) => f.kind === 'light' && f.projectId === p.id).length} for ${p.name}`).join('')}, ${fresh.length - lights} for calibration`,
          t,
        );
        return { night: (await records(who, [run], t))[0]!, added: fresh.length, known };
      };
      // a folder that is known already adds nothing
      return store.change(who, ['rig', rigId], keep, {
        quiet: true,
        tells: [{ what: 'nights', rigId, night: body.night }, { what: 'projects' }],
      });
    },
    async undo(who: Actor, id: string): Promise<void> {
      await changeNight(store, who, id, async (run, t) => {
        if (run.kind !== 'recorded')
          throw new Problem('not_allowed', 'Only a night that was brought in can be undone; refuse frames instead.');
        await store.runs.update({ state: 'discarded' }, { where: { id }, transaction: t });
        // its files may be brought in again
        await store.frames.update({ countedHash: null }, { where: { runId: id }, transaction: t });
        await store.audit(who, run.name, `night of ${run.night} undone: none of its frames counts`, t);
      });
    },
  };
}
