import { panelAt } from '@keen/core/sky';
import { mosaicOf } from '@keen/core/train';
import type { RigSetup } from '@keen/core/rig';
import type { Transaction } from 'sequelize';
import { plain, type ProjectRow } from '../../database/index.ts';
import type { Store } from '../../store.ts';
import { markFrames } from '../nights/frameSums.ts';
import { panelsOfProject } from './mosaic.ts';

/**
 * Gives the light frames of a project their panels, by where each points and the framing as it is pinned now. A frame whose
 * place is not known, or that points beside all panels, belongs to none.
 * @param runId only those of this run
 */
export async function assignPanels(
  store: Store,
  project: Pick<ProjectRow, 'id' | 'framing'>,
  setup: RigSetup,
  t: Transaction,
  runId?: string,
): Promise<void> {
  const panels = panelsOfProject(project, setup);
  const where = { projectId: project.id, kind: 'light' as const, ...(runId ? { runId } : {}) };
  if (panels.length === 0) {
    const [moved] = await store.frames.update({ panel: null }, { where, transaction: t });
    if (moved) await markRunsOf(project.id);
    return;
  }
  const mosaic = mosaicOf(project.framing!, setup);
  const frames = await store.frames.findAll({ where, attributes: ['id', 'header', 'panel'], transaction: t });
  const moved = new Map<number | null, string[]>();
  for (const f of frames.map(plain)) {
    const { raDeg, decDeg } = f.header;
    const panel = raDeg === undefined || decDeg === undefined ? null : panelAt({ raDeg, decDeg }, panels, mosaic);
    if (panel !== f.panel) moved.set(panel, [...(moved.get(panel) ?? []), f.id]);
  }
  for (const [panel, ids] of moved) await store.frames.update({ panel }, { where: { id: ids }, transaction: t });
  if (moved.size) await markRunsOf(project.id);

  async function markRunsOf(projectId: string): Promise<void> {
    const runs = await store.read<{ id: string }>(
      'SELECT DISTINCT run_id AS id FROM frames WHERE project_id = ?',
      [projectId],
      t,
    );
    await markFrames(
      store,
      runs.map((r) => r.id),
      t,
    );
  }
}
