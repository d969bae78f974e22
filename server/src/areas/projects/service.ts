import { USUAL_SEASON, type FramingFields, type Page, type ProjectFields, type ProjectRecord } from '@keen/contract';
import { gatheredIn, progressOf, servesGoal, type Gathered } from '@keen/core/record';
import { filtersOf } from '@keen/core/rig';
import type { Transaction } from 'sequelize';
import { plain, type GoalRow, type ProjectRow, type StoredFraming } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { demandOwner, demandVersion, groupBy, iso, pageOf, type Actor, type Store } from '../../store.ts';
import { currentSystem } from '../rigs/current.ts';
import { panelCount } from './mosaic.ts';
import { assignPanels } from './panels.ts';
import { takenOf } from './progress.ts';

const columns = (f: ProjectFields) => ({
  rigId: f.rigId,
  system: f.system,
  name: f.name,
  object: f.object,
  objectType: f.objectType,
  raDeg: f.raDeg,
  decDeg: f.decDeg,
  sizeArcmin: f.sizeArcmin,
  angleDeg: f.angleDeg,
  minimumAltitudeDeg: f.minimumAltitudeDeg,
  note: f.note,
  season: f.season,
});

function framingRecord(f: StoredFraming | null, names: Map<string, string>): ProjectRecord['framing'] {
  if (!f) return null;
  const { byId, ...rest } = f;
  return { ...rest, by: names.get(byId) ?? '' };
}

/** Accepted frames of one project, goal by goal; with a panel, those of that panel. */
export async function gatheredOf(
  store: Store,
  project: Pick<ProjectRow, 'id' | 'framing'>,
  panel: number | null,
): Promise<Gathered[]> {
  const goals = (await store.goals.findAll({ where: { projectId: project.id }, order: ['place'] })).map(plain);
  const panels = panelCount(project);
  return gatheredIn({ goals, panels, ...progressOf(goals, await takenOf(store, [project.id]), panels) }, panel);
}

export function projectsService(store: Store) {
  /** Projects with goals and progress, in three queries however many there are. */
  async function records(rows: ProjectRow[], names: Map<string, string>, t?: Transaction): Promise<ProjectRecord[]> {
    const projectId = rows.map((p) => p.id);
    if (projectId.length === 0) return [];
    const [goals, taken] = await Promise.all([
      store.read<Omit<GoalRow, 'id' | 'place'>>(
        'SELECT project_id AS projectId, filter, exposure_s AS exposureS, quota FROM project_goals WHERE project_id IN (?) ORDER BY place',
        [projectId],
        t,
      ),
      takenOf(store, projectId, t),
    ]);
    const goalsOf = groupBy(goals, (g) => g.projectId);
    const takenBy = groupBy(taken, (c) => c.projectId);
    return rows.map((p) => {
      const [own, brought] = [goalsOf.get(p.id) ?? [], takenBy.get(p.id) ?? []];
      const panels = panelCount(p);
      return {
        id: p.id,
        name: p.name,
        object: p.object,
        objectType: p.objectType,
        raDeg: p.raDeg,
        decDeg: p.decDeg,
        sizeArcmin: p.sizeArcmin,
        rigId: p.rigId,
        system: p.system,
        angleDeg: p.angleDeg,
        minimumAltitudeDeg: p.minimumAltitudeDeg,
        note: p.note,
        season: { ...USUAL_SEASON, ...p.season },
        goals: own.map(({ filter, exposureS, quota }) => ({ filter, exposureS, quota })),
        owner: names.get(p.ownerId) ?? '',
        ownerId: p.ownerId,
        archived: p.archivedAt !== null,
        framing: framingRecord(p.framing, names),
        panels,
        ...progressOf(own, brought, panels),
        nights: brought.map(({ projectId: _p, ...taken }) => ({
          ...taken,
          counts: servesGoal(own, taken, panels),
        })),
        version: p.version,
        updatedAt: iso(p.updatedAt),
        updatedBy: names.get(p.updatedBy ?? '') ?? '',
      };
    });
  }
  const record = async (p: ProjectRow, names: Map<string, string>, t?: Transaction): Promise<ProjectRecord> =>
    (await records([p], names, t))[0]!;

  async function demandFilters(who: Actor, f: ProjectFields): Promise<void> {
    const { rig, revision, setup } = await currentSystem(store, who.clubId, f.rigId, f.system);
    if (!revision.setup.systems.some((s) => s.key === f.system))
      throw new Problem('invalid_input', `${rig.name} has no system “${f.system}”`, {
        issues: [{ path: 'system', message: `is not one of ${revision.setup.systems.map((s) => s.key).join(', ')}` }],
      });
    const there = filtersOf(setup);
    const missing = f.goals.filter((g) => !there.includes(g.filter));
    if (missing.length)
      throw new Problem('invalid_input', `${rig.name} has no filter ${missing.map((g) => g.filter).join(', ')}`, {
        issues: missing.map((g) => ({
          path: `goals.${f.goals.indexOf(g)}.filter`,
          message: `${rig.name} holds ${there.join(', ')}`,
        })),
      });
  }

  async function saveGoals(projectId: string, f: ProjectFields, t: Transaction): Promise<void> {
    await store.goals.destroy({ where: { projectId }, transaction: t });
    await store.goals.bulkCreate(
      f.goals.map((g, place) => ({ id: store.id(), projectId, place, ...g })),
      { transaction: t },
    );
  }

  async function demandProject(who: Actor, id: string, t?: Transaction): Promise<ProjectRow> {
    const where = { id, clubId: who.clubId };
    const found = await store.projects.findOne({ where, ...(t ? { transaction: t } : {}) });
    if (!found) throw new Problem('not_found', 'There is no such project.');
    return plain(found);
  }
  /** A change by its owner or a steward, of the project as it stood when the change was begun, in its turn at its rig. */
  async function changeProject(
    who: Actor,
    id: string,
    version: number,
    work: (row: ProjectRow, names: Map<string, string>, t: Transaction) => Promise<ProjectRecord>,
  ): Promise<ProjectRecord> {
    const { rigId } = await demandProject(who, id);
    return store.change(
      who,
      ['rig', rigId],
      async (t) => {
        const row = await demandProject(who, id, t);
        demandOwner(who, row.ownerId, row.name);
        const names = await store.names(who.clubId, t);
        // one that went to another rig meanwhile has another version too
        await demandVersion(version, row, store, () => record(row, names, t), t);
        return work(row, names, t);
      },
      { tells: { what: 'projects', rigId } },
    );
  }

  return {
    async list(who: Actor, page: Page): Promise<ProjectRecord[]> {
      const names = await store.names(who.clubId);
      const rows = await store.projects.findAll({
        where: { clubId: who.clubId },
        order: ['name', 'id'],
        ...pageOf(page),
      });
      return records(rows.map(plain), names);
    },
    async add(who: Actor, f: ProjectFields): Promise<ProjectRecord> {
      await demandFilters(who, f);
      return store.change(
        who,
        ['rig', f.rigId],
        async (t) => {
          const row: ProjectRow = {
            id: store.id(),
            clubId: who.clubId,
            ownerId: who.id,
            ...columns(f),
            framing: null,
            version: 1,
            updatedAt: store.now(),
            updatedBy: who.id,
            archivedAt: null,
          };
          await store.projects.create(row, { transaction: t });
          await saveGoals(row.id, f, t);
          await store.audit(who, f.name, 'project started', t);
          return record(row, await store.names(who.clubId, t), t);
        },
        { tells: { what: 'projects', rigId: f.rigId } },
      );
    },
    async change(
      who: Actor,
      id: string,
      { version, archived, ...f }: ProjectFields & { version: number; archived: boolean },
    ): Promise<ProjectRecord> {
      await demandFilters(who, f);
      return changeProject(who, id, version, async (row, names, t) => {
        const next = {
          ...row,
          ...columns(f),
          archivedAt: archived ? (row.archivedAt ?? store.now()) : null,
          version: row.version + 1,
          updatedAt: store.now(),
          updatedBy: who.id,
        };
        await store.projects.update(next, { where: { id }, transaction: t });
        await saveGoals(id, f, t);
        const what = archived === (row.archivedAt !== null) ? 'changed' : archived ? 'archived' : 'taken up again';
        await store.audit(who, f.name, `project ${what}`, t);
        return record(next, names, t);
      });
    },
    async pin(
      who: Actor,
      id: string,
      { framing, version }: { framing: FramingFields | null; version: number },
    ): Promise<ProjectRecord> {
      return changeProject(who, id, version, async (row, names, t) => {
        const { state, aspects, setup } = await currentSystem(store, who.clubId, row.rigId, row.system, t);
        const next = {
          ...row,
          framing: framing && {
            ...framing,
            words: state.words,
            aspect: aspects.framing,
            at: iso(store.now()),
            byId: who.id,
          },
          angleDeg: framing?.angleDeg ?? row.angleDeg,
          version: row.version + 1,
          updatedAt: store.now(),
          updatedBy: who.id,
        };
        await store.projects.update(next, { where: { id }, transaction: t });
        // what was taken belongs to the panels as they lie now
        await assignPanels(store, next, setup, t);
        const what = framing
          ? `framing pinned at ${framing.angleDeg.toFixed(1)}°${framing.star ? `, guide star of magnitude ${framing.star.mag.toFixed(1)}` : ''}`
          : 'framing let go';
        await store.audit(who, row.name, what, t);
        return record(next, names, t);
      });
    },
  };
}
