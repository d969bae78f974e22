import { overlap } from '@keen/core/booking';
import { stillWanted } from '@keen/core/record';
import {
  brokenLocks,
  legsForHours,
  movedToNight,
  nightMover,
  usualClosing,
  usualOpening,
  USUAL_WATCHES,
  type Leg,
  type NightPlan,
} from '@keen/core/sequence';
import { Op, type WhereOptions } from 'sequelize';
import { plain, type BookingRow, type PlanRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { ALL, type Actor, type Store } from '../../store.ts';
import { hoursOf } from '../bookings/standing.ts';
import { offsetsHolding } from '../focus/holding.ts';
import { siteOf } from '../plans/night.ts';
import { decided } from '../plans/records.ts';
import { plansService } from '../plans/service.ts';
import { projectsService } from '../projects/service.ts';
import { currentSystem, rigOf } from '../rigs/current.ts';

/**
 * The plan of a night whose hours are spoken for, saved: each project in its hours with the framing that was pinned, others that
 * want something for the gaps, what is protected on the rig as it is protected.
 */
export async function planHours(
  store: Store,
  who: Actor,
  { rigId, night }: { rigId: string; night: string },
): Promise<{ planId: string; left: string[] }> {
  const rig = await rigOf(store, who.clubId, rigId);
  const found = await store.bookings.findAll({
    where: { rigId, night, state: 'held', end: { [Op.gt]: store.now() } } as WhereOptions<BookingRow>,
    order: [['start', 'ASC']],
  });
  const plans = (
    await store.plans.findAll({ where: { rigId, night, status: { [Op.ne]: 'cancelled' } } as WhereOptions<PlanRow> })
  ).map(plain);
  const all = (await projectsService(store).list(who, ALL)).filter((p) => p.rigId === rigId && !p.archived);
  const projectOf = new Map(all.map((p) => [p.id, p]));
  const open = found
    .map(plain)
    .filter((b) => !plans.some((p) => overlap(hoursOf(p), hoursOf(b))))
    .flatMap((b) => {
      const project = projectOf.get(b.projectId ?? '');
      return project ? [{ project, booking: b }] : [];
    });
  if (open.length === 0)
    throw new Problem(
      'not_found',
      'No hours of this night are promised to a project and without a plan: say what booked hours are for, or plan by hand.',
    );
  if (who.role !== 'steward' && !open.some((o) => o.booking.memberId === who.id))
    throw new Problem('not_allowed', 'None of these hours are yours; whose they are, or a steward, makes the plan.');
  // one plan is of one system: that of most hours
  const hours = new Map<string, number>();
  for (const { project, booking } of open)
    hours.set(project.system, (hours.get(project.system) ?? 0) + (booking.end.getTime() - booking.start.getTime()));
  const system = [...hours].sort((a, b) => b[1] - a[1])[0]![0];
  const mine = open.filter((o) => o.project.system === system);
  const current = await currentSystem(store, who.clubId, rigId, system);
  const offsets = await offsetsHolding(store, current);
  const backups = all
    .filter((p) => p.system === system && stillWanted(p).length > 0)
    .sort((a, b) => Number(b.ownerId === who.id) - Number(a.ownerId === who.id));
  const site = await siteOf(store, rig.siteId);
  const plan = await protectedAs(
    store,
    who,
    { rigId, night, timeZone: site.timeZone },
    {
      opening: plans.length ? [] : usualOpening(current.setup.overheads.autofocusS),
      legs: legsForHours(
        mine.map((o) => ({
          project: o.project,
          start: o.booking.start.toISOString(),
          end: o.booking.end.toISOString(),
        })),
        offsets,
        backups,
      ),
      closing: plans.length ? [] : usualClosing(),
      watches: USUAL_WATCHES,
    },
  );
  const made = await plansService(store).add(who, { rigId, night, ...plan, locked: false, locks: [] });
  return {
    planId: made.id,
    left: open.filter((o) => o.project.system !== system).map((o) => o.project.object),
  };
}

/** What a steward closed on a rig, as its newest protected plan has it, in a plan that is made now. */
async function protectedAs(
  store: Store,
  who: Actor,
  of: { rigId: string; night: string; timeZone: string },
  plan: NightPlan,
): Promise<NightPlan & { fromPlanId: string | null }> {
  if (who.role === 'steward') return { ...plan, fromPlanId: null };
  const rows = await store.plans.findAll({
    where: { rigId: of.rigId, status: { [Op.ne]: 'cancelled' } } as WhereOptions<PlanRow>,
    order: [
      ['night', 'DESC'],
      ['id', 'ASC'],
    ],
    limit: 50,
  });
  const source = rows.map(plain).find((p) => p.locks.length > 0);
  if (!source) return { ...plan, fromPlanId: null };
  const pattern = movedToNight(decided(source), nightMover(of.timeZone, source.night, of.night));
  const closed = new Set(source.locks.map((l) => l.field));
  const leg = (l: Leg, i: number): Leg => {
    const was = pattern.legs[Math.min(i, pattern.legs.length - 1)]!;
    const lengths = new Map(was.settings.filters.map((f) => [f.name, f.exposureS]));
    return {
      ...l,
      ...(closed.has('following')
        ? { guiding: was.guiding, meridian: was.meridian, centreWithinArcmin: was.centreWithinArcmin }
        : {}),
      settings: {
        ...l.settings,
        ...(closed.has('order') ? { order: was.settings.order } : {}),
        ...(closed.has('focus') ? { focus: was.settings.focus, coolingCPerHour: was.settings.coolingCPerHour } : {}),
        ...(closed.has('dither') ? { dither: was.settings.dither } : {}),
        ...(closed.has('exposures')
          ? { filters: l.settings.filters.map((f) => ({ ...f, exposureS: lengths.get(f.name) ?? f.exposureS })) }
          : {}),
      },
    };
  };
  const made: NightPlan = {
    opening: closed.has('opening') ? pattern.opening : plan.opening,
    legs: plan.legs.map(leg),
    closing: closed.has('closing') ? pattern.closing : plan.closing,
    watches: closed.has('watches') ? pattern.watches : plan.watches,
  };
  // whose night it is, and when, the promise says: a pattern that closes that too is none for these hours
  return { ...made, fromPlanId: brokenLocks(source.locks, pattern, made).length ? null : source.id };
}
