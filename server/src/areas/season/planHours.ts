import type { ProjectRecord } from '@keen/contract';
import { overlap, TAKES_HOURS, type Hours } from '@keen/core/booking';
import { pointedAt, stillWanted } from '@keen/core/record';
import {
  brokenLocks,
  legsForHours,
  movedToNight,
  nightMover,
  SHORTEST_STAY_MS,
  usualClosing,
  usualOpening,
  type Leg,
  type NightPlan,
} from '@keen/core/sequence';
import { target, type Site } from '@keen/core/sky';
import { Op, type WhereOptions } from 'sequelize';
import { plain, type BookingRow, type PlanRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { ALL, type Actor, type Store } from '../../store.ts';
import { settingsOf } from '../members/settings.ts';
import { hoursOf } from '../bookings/standing.ts';
import { offsetsHolding } from '../focus/holding.ts';
import { siteOf, skySite } from '../plans/night.ts';
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
  const found = (
    await store.bookings.findAll({
      where: { rigId, night, state: [...TAKES_HOURS], end: { [Op.gt]: store.now() } } as WhereOptions<BookingRow>,
      order: [['start', 'ASC']],
    })
  ).map(plain);
  const plans = (
    await store.plans.findAll({ where: { rigId, night, status: { [Op.ne]: 'cancelled' } } as WhereOptions<PlanRow> })
  ).map(plain);
  const all = (await projectsService(store).list(who, ALL)).filter((p) => p.rigId === rigId && !p.archived);
  const projectOf = new Map(all.map((p) => [p.id, p]));
  const open = found
    .filter((b) => b.state === 'held' && !plans.some((p) => overlap(hoursOf(p), hoursOf(b))))
    .flatMap((b): Planned[] => {
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
  const blocks = inARow(
    found.map((row) => ({ row, project: open.find((o) => o.booking.id === row.id)?.project ?? null })),
    plans,
  );
  // of one’s own hours where there are any: what others have between is theirs
  const mine = blocks.find((block) => block.some((o) => o.booking.memberId === who.id)) ?? blocks[0]!;
  const { system } = mine[0]!.project;
  const [first, last] = [mine[0]!.booking.start, mine.at(-1)!.booking.end];
  const others = [...plans, ...found.filter((b) => !mine.some((o) => o.booking.id === b.id))];
  const current = await currentSystem(store, who.clubId, rigId, system);
  const offsets = await offsetsHolding(store, current);
  const site = await siteOf(store, rig.siteId);
  const hours = { fromMs: first.getTime(), untilMs: last.getTime() };
  const backups = all
    .filter((p) => p.system === system && stillWanted(p).length > 0)
    .slice(0, MOST_LOOKED_AT)
    .map((p) => ({ p, freeMs: freeWithin(p, night, skySite(site), hours) }))
    .filter((c) => c.freeMs >= SHORTEST_STAY_MS)
    // one’s own first, then who stands free longest
    .sort((x, y) => Number(y.p.ownerId === who.id) - Number(x.p.ownerId === who.id) || y.freeMs - x.freeMs)
    .map((c) => c.p);
  const plan = await protectedAs(
    store,
    who,
    { rigId, night, timeZone: site.timeZone },
    {
      // whoever has hours before finds the rig to open, whoever has them after leaves it so
      opening: others.some((o) => o.end <= first) ? [] : usualOpening(current.setup.overheads.autofocusS),
      legs: legsForHours(
        mine.map((o) => ({
          project: o.project,
          start: o.booking.start.toISOString(),
          end: o.booking.end.toISOString(),
        })),
        offsets,
        backups,
      ),
      closing: others.some((o) => o.start >= last) ? [] : usualClosing(),
      watches: (await settingsOf(store, who.clubId)).watches,
    },
  );
  const made = await plansService(store).add(who, { rigId, night, ...plan, locked: false, locks: [] });
  return {
    planId: made.id,
    left: open.filter((o) => !mine.some((m) => m.booking.id === o.booking.id)).map((o) => o.project.object),
  };
}

/** Projects that are looked at for filling gaps, at most. */
const MOST_LOOKED_AT = 100;
/** How long an object stands free within some hours of a night [ms]. */
function freeWithin(p: ProjectRecord, night: string, site: Site, { fromMs, untilMs }: Hours): number {
  const { windows } = target({
    site,
    date: night,
    ...pointedAt(p, null, []),
    minimumAltitudeDeg: p.minimumAltitudeDeg,
    darkness: 'astronomical',
    stepMin: 10,
  });
  return windows.reduce(
    (sum, w) => sum + Math.max(0, Math.min(untilMs, Date.parse(w.end)) - Math.max(fromMs, Date.parse(w.start))),
    0,
  );
}

interface Planned {
  project: ProjectRecord;
  booking: BookingRow;
}
/**
 * Hours of a night that one plan can take: after one another, of one imaging system, with nothing of anybody’s between that is for
 * no project, for another system, only asked for, or planned.
 * @param found in their order; without a project what cannot be planned
 */
function inARow(
  found: readonly { row: BookingRow; project: ProjectRecord | null }[],
  plans: readonly PlanRow[],
): Planned[][] {
  const blocks: Planned[][] = [];
  let before: Planned | null = null;
  for (const { row, project } of found) {
    const here: Planned | null = project && { project, booking: row };
    const goesOn =
      before !== null &&
      here !== null &&
      before.project.system === here.project.system &&
      !plans.some((p) => p.start >= before!.booking.end && p.end <= row.start);
    if (here && goesOn) blocks.at(-1)!.push(here);
    else if (here) blocks.push([here]);
    before = here;
  }
  return blocks;
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
