import type { LedgerRecord, ProjectRecord } from '@keen/contract';
import { ledger, type LedgerBooking, type LedgerNight } from '@keen/core/booking';
import { Op, type WhereOptions } from 'sequelize';
import { plain, type BookingRow } from '../../database/index.ts';
import { ALL, type Actor, type Store } from '../../store.ts';
import { projectsService } from '../projects/service.ts';
import { hoursOf } from './standing.ts';

export const ledgerBooking = (b: BookingRow): LedgerBooking => ({ ...b, ...hoursOf(b) });

/** What each night brought for each project, from the frames on record. */
export const ledgerNights = (projects: readonly ProjectRecord[]): LedgerNight[] =>
  projects.flatMap((p) =>
    p.nights.map((n) => ({
      projectId: p.id,
      ownerId: p.ownerId,
      rigId: p.rigId,
      night: n.night,
      openMinutes: ((n.accepted + n.rejected) * n.exposureS) / 60,
      countedMinutes: (n.accepted * n.exposureS) / 60,
    })),
  );

/** Bookings of a club from a night on, on whichever rig. */
export async function bookingsSince(store: Store, clubId: string, since: string): Promise<LedgerBooking[]> {
  const rows = await store.bookings.findAll({
    where: { clubId, night: { [Op.gte]: since } } as WhereOptions<BookingRow>,
  });
  return rows.map(plain).map(ledgerBooking);
}

/** The ledger: a member’s own lines, a steward’s are everybody’s. */
export async function ledgerSince(store: Store, who: Actor, since: string): Promise<LedgerRecord[]> {
  const projects = await projectsService(store).list(who, ALL);
  const bookings = await bookingsSince(store, who.clubId, since);
  const nights = ledgerNights(projects).filter((n) => n.night >= since);
  const names = await store.names(who.clubId);
  const objects = new Map(projects.map((p) => [p.id, p.object]));
  return ledger(bookings, nights)
    .filter((l) => who.role === 'steward' || l.memberId === who.id)
    .map((l) => ({ ...l, member: names.get(l.memberId) ?? '', object: objects.get(l.projectId ?? '') ?? '' }));
}
