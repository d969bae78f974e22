import { goalKey, pointingOf, type Gathered } from '@keen/core/record';
import { viewOf, type RigBuild, type RigSetup } from '@keen/core/rig';
import { legTargetInput, type NightFacts, type NightPlan } from '@keen/core/sequence';
import { night as nightOf, target, turn, type Site, type TargetOutput } from '@keen/core/sky';
import type { ProjectRow } from '../../database/index.ts';
import { panelsOfProject } from '../projects/mosaic.ts';

interface Turned {
  raDeg: number;
  decDeg: number;
  angleDeg: number;
}
/** What the club has on record that a night is laid out with: plain data, so that a worker can have it. */
export interface NightRecords {
  date: string;
  site: Site;
  build: RigBuild;
  system: string;
  projects: ReadonlyMap<string, ProjectRow>;
  /** Accepted frames by goal key. */
  gathered: ReadonlyMap<string, readonly Gathered[]>;
  /** Nothing before it is offered; left out: the whole night. */
  nowMs?: number | undefined;
}

/** Where a leg points and how its picture is turned, with what that is called. */
export function pointing(p: ProjectRow, panel: number | null, setup: RigSetup) {
  const name = panel === null ? p.object : `${p.object}, panel ${panel + 1}`;
  const { raDeg, decDeg, angleDeg } = pointingOf<Turned>(p, panel, panelsOfProject(p, setup));
  return { name, raDeg, decDeg, angleDeg: turn(angleDeg) };
}

/** The sky above the legs of a plan, and the frames there are; all of it is worked out, nothing is read. */
export function factsOf(plan: Pick<NightPlan, 'legs'>, of: NightRecords): NightFacts {
  const { site, date, projects, build } = of;
  const setup = viewOf(build, of.system);
  const targets = new Map<string, TargetOutput>();
  for (const leg of plan.legs) {
    const project = projects.get(leg.projectId)!;
    const key = goalKey(leg);
    if (!targets.has(key))
      targets.set(
        key,
        target(legTargetInput(project, leg.panel, { site, date, panels: panelsOfProject(project, setup) })),
      );
  }
  const gathered = (projectId: string, panel: number | null) => of.gathered.get(goalKey({ projectId, panel })) ?? [];
  return {
    night: nightOf({ site, date }),
    targets,
    gathered,
    overheads: setup.overheads,
    followerOf: (id) => ({ overheads: viewOf(build, projects.get(id)!.system).overheads, done: gathered(id, null) }),
    nowMs: of.nowMs,
  };
}
