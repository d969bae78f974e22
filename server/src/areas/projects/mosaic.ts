import type { RigSetup } from '@keen/core/rig';
import { panelsOf, type Panel } from '@keen/core/sky';
import { mosaicOf } from '@keen/core/train';
import type { ProjectRow } from '../../database/index.ts';

/** The panels of a project’s pinned mosaic with its system as it stands; empty where it is one field. */
export function panelsOfProject(p: Pick<ProjectRow, 'framing'>, setup: RigSetup): Panel[] {
  if (!p.framing || p.framing.columns * p.framing.rows === 1) return [];
  return panelsOf(mosaicOf(p.framing, setup));
}

/** How many panels a project has; one field is one. */
export const panelCount = ({ framing }: Pick<ProjectRow, 'framing'>): number =>
  framing ? framing.columns * framing.rows : 1;
