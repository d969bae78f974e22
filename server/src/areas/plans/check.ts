import type { PlanFields } from '@keen/contract';
import { words } from '@keen/core/phrases';
import { mostFrames, nightSpan, prepareLegs } from '@keen/core/sequence';
import { eveningDate } from '@keen/core/sky';
import { Op, type Transaction, type WhereOptions } from 'sequelize';
import { plain, type PlanLegRow, type PlanRow, type ProjectRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import type { Actor, Store } from '../../store.ts';
import { demandHours } from '../bookings/standing.ts';
import { demandWorking } from '../logbook/stops.ts';
import { panelCount } from '../projects/mosaic.ts';
import { currentSystem, demandRig, type CurrentSystem } from '../rigs/current.ts';
import { nightFacts, projectsIn, siteOf } from './night.ts';
import { objectsOf, planRecord } from './records.ts';

/** Most frames one plan may come to: more is no night, and its rehearsal would hold the server. */
const MOST_PLAN_FRAMES = 20_000;
const HOUR_MS = 3_600_000;

/** A plan as it is sent, with all it needs to be laid over its night. */
export interface Checked {
  fields: PlanFields;
  projects: Map<string, ProjectRow>;
  current: CurrentSystem;
  start: Date;
  end: Date;
  legs: PlanLegRow[];
}
/** The same as the database keeps it. */
export const columns = ({ fields: f, start, end, legs }: Checked) => ({
  rigId: f.rigId,
  night: f.night,
  start,
  end,
  opening: f.opening,
  legs,
  closing: f.closing,
  watches: f.watches,
  locked: f.locked ? 1 : 0,
});

/** A plan must lie in its own night, on a rig of the club, for projects of one of its systems; its hours follow from the sky. */
export async function checkPlan(store: Store, who: Actor, f: PlanFields): Promise<Checked> {
  const refuse = (path: string, message: string): never => {
    throw new Problem('invalid_input', `${path}: ${message}`, { issues: [{ path, message }] });
  };
  await demandRig(store, who.clubId, f.rigId);
  const ids = projectsIn(f.legs);
  const found = (await store.projects.findAll({ where: { id: ids, clubId: who.clubId } })).map(plain);
  const projects = new Map(found.map((p) => [p.id, p]));
  if (projects.size < ids.length) throw new Problem('not_found', 'There is no such project.');
  const { system } = projects.get(f.legs[0]!.projectId)!;
  f.legs.forEach((l, i) => {
    const project = projects.get(l.projectId)!;
    if (project.rigId !== f.rigId) refuse(`legs.${i}.projectId`, `${project.name} is taken with another rig`);
    if (l.panel !== null && l.panel >= (panelCount(project) > 1 ? panelCount(project) : 0))
      refuse(
        `legs.${i}.panel`,
        panelCount(project) > 1
          ? `${project.name} has ${panelCount(project)} panels`
          : `${project.name} is one field, without panels`,
      );
    if (project.system !== system)
      refuse(`legs.${i}.projectId`, 'all legs of a plan are taken with one imaging system of the rig');
  });
  const besides = f.legs.map((l) => (l.follower ? projects.get(l.follower.projectId)! : null));
  besides.forEach((p, i) => {
    if (p && p.rigId !== f.rigId) refuse(`legs.${i}.follower.projectId`, `${p.name} is taken with another rig`);
    if (p && p.system === system)
      refuse(`legs.${i}.follower.projectId`, `${p.name} is taken with the leading camera itself`);
    if (p && besides.some((q) => q && q.system !== p.system))
      refuse(`legs.${i}.follower.projectId`, 'one second camera follows in a plan');
  });
  const current = await currentSystem(store, who.clubId, f.rigId, system);
  await demandWorking(store, f.rigId, { system, night: f.night });
  const site = await siteOf(store, current.rig.siteId);
  // what has passed of tonight is not planned any more
  const now = store.now().getTime();
  const nowMs = eveningDate(site.timeZone, now) === f.night ? now : undefined;
  const facts = await nightFacts(store, {
    plan: f,
    date: f.night,
    site,
    projects,
    build: current.revision.setup,
    system,
    nowMs,
  });
  const prepared = prepareLegs(f, facts)!;
  const span = nightSpan(f, prepared, facts.night, [], nowMs);
  if (!span) {
    const trouble = prepared[0]!.trouble!;
    const atEnd = ['plan.leg-ends-before', 'plan.leg-is-over'].includes(trouble.code);
    return refuse(atEnd ? 'legs.0.until' : 'legs.0.from', words(trouble));
  }
  if (span.endMs - span.startMs > 20 * HOUR_MS) refuse('legs', 'a night is shorter than 20 hours');
  const evening = eveningDate(site.timeZone, span.startMs);
  if (evening !== f.night) refuse('legs', `begin in the night of ${evening}, the plan is for ${f.night}`);
  const most = prepared.reduce(
    (sum, { input: t }) =>
      sum + (t ? mostFrames(t.filters, t.overheads.downloadS, (Date.parse(t.end) - Date.parse(t.start)) / 1000) : 0),
    0,
  );
  const shortestS = Math.min(...f.legs.flatMap((l) => l.settings.filters.map((x) => x.exposureS)));
  const { downloadS } = current.setup.overheads;
  const frames = Math.min(most, (span.endMs - span.startMs) / 1000 / (shortestS + downloadS));
  if (frames > MOST_PLAN_FRAMES)
    refuse('legs', `could take more than ${MOST_PLAN_FRAMES} frames this night: longer exposures or smaller quotas`);
  const legs = f.legs.map((leg, i): PlanLegRow => {
    const hours = prepared[i]!.input;
    return { ...leg, start: hours?.start ?? null, end: hours?.end ?? null, flipAt: hours?.flipAt ?? null };
  });
  return { fields: f, projects, current, start: new Date(span.startMs), end: new Date(span.endMs), legs };
}

/** Refuses when another plan holds the rig for part of the time, or somebody else has the hours; in its turn at the rig. */
export async function demandFree(
  store: Store,
  who: Actor,
  c: Checked,
  ownerId: string,
  t: Transaction,
  except?: string,
): Promise<void> {
  const { rigId } = c.fields;
  const other = await store.plans.findOne({
    where: {
      rigId,
      status: { [Op.ne]: 'cancelled' },
      start: { [Op.lt]: c.end },
      end: { [Op.gt]: c.start },
      ...(except ? { id: { [Op.ne]: except } } : {}),
    } as WhereOptions<PlanRow>,
    transaction: t,
  });
  if (!other) return demandHours(store, who, { rigId, ownerId, start: c.start, end: c.end, legs: c.legs }, t);
  const o = plain(other);
  const current = await planRecord(store, o, await store.names(who.clubId, t), t);
  throw new Problem(
    'night_overlap',
    `${current.owner} has planned ${objectsOf(current)} on this rig from ${current.start} to ${current.end}.`,
    {
      current,
    },
  );
}
