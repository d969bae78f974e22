import type { ProjectRecord } from '@keen/contract';
import { overlap, TAKES_HOURS, type Hours } from '@keen/core/booking';
import type { PromisedHours } from '@keen/core/season';
import { Op, type WhereOptions } from 'sequelize';
import { plain, type BookingRow, type PlanRow } from '../../database/index.ts';
import type { Actor, Store } from '../../store.ts';
import { hoursOf } from '../bookings/standing.ts';

interface Span {
  rigIds: readonly string[];
  from: string;
  until: string;
  now: number;
  /** What the rules gave, and nobody planned, is open again. */
  movesPromises: boolean;
}
export interface SpokenFor {
  promised: PromisedHours[];
  /** By rig [ms]. */
  taken: Map<string, [number, number][]>;
}

/** Hours of coming nights that are somebody’s: booked, promised, or planned without either. */
export async function hoursSpokenFor(
  store: Store,
  who: Actor,
  projects: readonly ProjectRecord[],
  { rigIds, from, until, now, movesPromises }: Span,
): Promise<SpokenFor> {
  const night = { [Op.between]: [from, until] };
  const plans = (
    await store.plans.findAll({
      where: {
        rigId: [...rigIds],
        night,
        archivedAt: null,
        status: { [Op.ne]: 'cancelled' },
      } as WhereOptions<PlanRow>,
    })
  ).map(plain);
  const planned = (b: BookingRow) =>
    plans.some(
      (p) => p.rigId === b.rigId && p.legs.some((l) => l.projectId === b.projectId) && overlap(hoursOf(p), hoursOf(b)),
    );
  const bookings = (
    await store.bookings.findAll({
      where: { clubId: who.clubId, rigId: [...rigIds], night, state: [...TAKES_HOURS] } as WhereOptions<BookingRow>,
    })
  )
    .map(plain)
    .filter((b) => !movesPromises || b.origin === 'member' || b.start.getTime() <= now || planned(b));
  const ownerOf = new Map(projects.map((p) => [p.id, p.ownerId]));
  const toCome = (h: Hours & Omit<PromisedHours, 'start' | 'end'>): PromisedHours[] => {
    const { fromMs, untilMs, ...of } = h;
    const start = Math.max(fromMs, now);
    return untilMs > start
      ? [{ ...of, start: new Date(start).toISOString(), end: new Date(untilMs).toISOString() }]
      : [];
  };
  const promised = [
    ...bookings.flatMap((b) =>
      toCome({
        ...hoursOf(b),
        rigId: b.rigId,
        night: b.night,
        memberId: b.memberId,
        projectId: b.projectId,
        origin: b.origin,
      }),
    ),
    ...plans
      .filter((p) => p.status === 'planned')
      .flatMap((p) => legHours(p).filter((l) => !bookings.some((b) => b.rigId === p.rigId && overlap(hoursOf(b), l))))
      .flatMap(({ projectId, plan, ...hours }) =>
        toCome({
          ...hours,
          rigId: plan.rigId,
          night: plan.night,
          memberId: ownerOf.get(projectId) ?? plan.ownerId,
          projectId,
          origin: 'plan',
        }),
      ),
  ];
  const taken = new Map<string, [number, number][]>(rigIds.map((id) => [id, []]));
  for (const x of [...plans, ...bookings]) taken.get(x.rigId)?.push([x.start.getTime(), x.end.getTime()]);
  return { promised, taken };
}

/** Hours of a plan by project, one after the other: legs that take turns share theirs. Backups only fill gaps. */
function legHours(plan: PlanRow): (Hours & { projectId: string; plan: PlanRow })[] {
  const spans = new Map<string, Hours>();
  for (const l of plan.legs) {
    if (l.role === 'backup' || !l.start || !l.end) continue;
    const [fromMs, untilMs] = [Date.parse(l.start), Date.parse(l.end)];
    const there = spans.get(l.projectId);
    spans.set(l.projectId, {
      fromMs: Math.min(fromMs, there?.fromMs ?? fromMs),
      untilMs: Math.max(untilMs, there?.untilMs ?? untilMs),
    });
  }
  let after = -Infinity;
  return [...spans]
    .sort(([, a], [, b]) => a.fromMs - b.fromMs)
    .flatMap(([projectId, { fromMs, untilMs }]) => {
      const from = Math.max(fromMs, after);
      after = Math.max(after, untilMs);
      return untilMs > from ? [{ projectId, plan, fromMs: from, untilMs }] : [];
    });
}
