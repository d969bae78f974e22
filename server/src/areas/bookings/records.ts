import type { BookingRecord } from '@keen/contract';
import type { Hours } from '@keen/core/booking';
import type { Transaction } from 'sequelize';
import type { BookingRow } from '../../database/index.ts';
import { iso, type Actor, type Store } from '../../store.ts';

/** Hours as somebody makes them theirs, or another’s. */
export const newBooking = (
  store: Store,
  who: Actor,
  of: Hours & Pick<BookingRow, 'rigId' | 'memberId' | 'projectId' | 'night' | 'origin' | 'state' | 'note'>,
): BookingRow => ({
  id: store.id(),
  clubId: who.clubId,
  rigId: of.rigId,
  memberId: of.memberId,
  projectId: of.projectId,
  night: of.night,
  start: new Date(of.fromMs),
  end: new Date(of.untilMs),
  origin: of.origin,
  state: of.state,
  note: of.note,
  answer: '',
  madeBy: who.id,
  madeAt: store.now(),
  decidedBy: null,
  outcome: null,
  outcomeBy: null,
  version: 1,
  updatedAt: store.now(),
  updatedBy: who.id,
  archivedAt: null,
});

/** Bookings as they are told, with the plans that work in them. */
export async function bookingRecords(
  store: Store,
  rows: readonly BookingRow[],
  names: Map<string, string>,
  t?: Transaction,
): Promise<BookingRecord[]> {
  if (rows.length === 0) return [];
  const projectIds = [...new Set(rows.flatMap((b) => b.projectId ?? []))];
  const objects = projectIds.length
    ? await store.read<{ id: string; object: string }>(
        'SELECT id, object FROM projects WHERE id IN (?)',
        [projectIds],
        t,
      )
    : [];
  const objectOf = new Map(objects.map((p) => [p.id, p.object]));
  const plans = await store.read<{ id: string; planId: string }>(
    `SELECT b.id, p.id AS planId FROM bookings b JOIN plans p ON p.rig_id = b.rig_id AND p.status <> 'cancelled' AND p.archived_at IS NULL
       AND p.start < b.end AND p.end > b.start
     WHERE b.id IN (?) AND (EXISTS (SELECT 1 FROM plan_projects w WHERE w.plan_id = p.id AND w.project_id = b.project_id)
       OR (b.project_id IS NULL AND p.owner_id = b.member_id))`,
    [rows.map((b) => b.id)],
    t,
  );
  const planOf = new Map(plans.map((p) => [p.id, p.planId]));
  return rows.map((b) => ({
    id: b.id,
    rigId: b.rigId,
    night: b.night,
    start: iso(b.start),
    end: iso(b.end),
    memberId: b.memberId,
    member: names.get(b.memberId) ?? '',
    projectId: b.projectId,
    object: objectOf.get(b.projectId ?? '') ?? '',
    origin: b.origin,
    state: b.state,
    note: b.note,
    answer: b.answer,
    madeBy: names.get(b.madeBy) ?? '',
    madeAt: iso(b.madeAt),
    decidedBy: names.get(b.decidedBy ?? '') ?? '',
    outcome: b.outcome,
    outcomeBy: names.get(b.outcomeBy ?? '') ?? '',
    planId: planOf.get(b.id) ?? null,
    version: b.version,
    updatedAt: iso(b.updatedAt),
    updatedBy: names.get(b.updatedBy ?? '') ?? '',
  }));
}
