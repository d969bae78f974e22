import type { ReadFrame } from '../exchange/index.ts';
import { separationDeg } from '../sky/index.ts';
import { matchFilter } from './filterName.ts';

/** What a frame may belong to; a mosaic stands here once for each of its panels, under one id. */
export interface Candidate {
  id: string;
  object: string;
  raDeg: number;
  decDeg: number;
}

export interface Assigned {
  projectId: string | null;
  filter: string | null;
  /** Why it belongs nowhere yet, as codes: each can be set by hand. */
  open: ('no-project' | 'two-projects' | 'no-place' | 'no-filter' | 'no-exposure' | 'no-time')[];
  /** Distance from the project's place [deg]; null where the name decided. */
  offDeg: number | null;
}

const folded = (name: string) => name.toLowerCase().replace(/[^a-z0-9]+/g, '');

/**
 * Gives a frame its project and filter. A place in the header decides: the nearest project within the reach; without a
 * place the object's name does, if exactly one project has it.
 * @param reachDeg  how far from a project's place a frame may point: about half the field's diagonal
 */
export function assignFrame(
  f: ReadFrame,
  projects: readonly Candidate[],
  filters: readonly string[],
  reachDeg: number,
  aliases: Readonly<Record<string, string>> = {},
): Assigned {
  const open: Assigned['open'] = [];
  const wantsFilter = f.kind === 'light' || f.kind === 'flat';
  const filter = wantsFilter ? matchFilter(f.filter, filters, aliases) : (filters[0] ?? '');
  if (wantsFilter && filter === null) open.push('no-filter');
  if (f.exposureS === null || (f.exposureS === 0 && f.kind !== 'bias')) open.push('no-exposure');
  if (f.kind !== 'light') return { projectId: null, filter: wantsFilter ? filter : '', open, offDeg: null };
  if (f.startedAt === null) open.push('no-time');
  const named = f.object ? projects.filter((p) => folded(p.object) === folded(f.object!)) : [];
  if (f.raDeg === null || f.decDeg === null) {
    const ids = new Set(named.map((p) => p.id));
    if (ids.size !== 1) open.push(ids.size > 1 ? 'two-projects' : f.object ? 'no-project' : 'no-place');
    return { projectId: ids.size === 1 ? named[0]!.id : null, filter, open, offDeg: null };
  }
  const place = { raDeg: f.raDeg, decDeg: f.decDeg };
  const near = projects
    .map((p) => ({ p, offDeg: separationDeg(place, p) }))
    .filter((n) => n.offDeg <= reachDeg)
    .sort((a, b) => a.offDeg - b.offDeg);
  // two projects of one object, or two in one field: the name tells them apart, if anything does
  const alike = near.filter((n) => n.offDeg - near[0]!.offDeg < 0.1 * reachDeg);
  const one = (list: typeof near) => (new Set(list.map((n) => n.p.id)).size === 1 ? list.slice(0, 1) : list);
  const chosen = one(one(alike).length > 1 ? alike.filter((n) => named.includes(n.p)) : alike);
  if (chosen.length !== 1) open.push(near.length ? 'two-projects' : 'no-project');
  const found = chosen.length === 1 ? chosen[0]! : null;
  return { projectId: found?.p.id ?? null, filter, open, offDeg: found?.offDeg ?? null };
}
