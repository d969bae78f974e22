import type { RigRecord } from '@keen/contract';
import { addDays, eveningDate, instantOfLocal } from '@keen/core/sky';
import { BOOKINGS, RIGS, SITES, TAKEN_OVER, UPKEEP } from '@keen/demo';
import { bookingsService } from './areas/bookings/service.ts';
import type { Actor, Store } from './store.ts';

const DAY_MS = 86_400_000;
const HOUR_MS = 3_600_000;

/** What the demo’s people look after, have in their hands, and have booked. */
export async function seedShared(
  store: Store,
  people: ReadonlyMap<string, Actor>,
  rigs: ReadonlyMap<string, RigRecord>,
  today: Date,
): Promise<void> {
  const zoneOf = (rig: string) => SITES.find((s) => s.key === RIGS.find((r) => r.key === rig)!.site)!.timeZone;
  const dayThere = (rig: string) => eveningDate(zoneOf(rig), today.getTime());
  const steward = people.get('odalys')!.id;
  for (const { rig, sinceDays, ...what } of UPKEEP)
    await store.upkeep.create({
      id: store.id(),
      rigId: rigs.get(rig)!.id,
      ...what,
      since: addDays(dayThere(rig), -sinceDays),
      version: 1,
      updatedAt: new Date(today.getTime() - 30 * DAY_MS),
      updatedBy: steward,
      archivedAt: null,
    });
  await store.handovers.create({
    id: store.id(),
    rigId: rigs.get(TAKEN_OVER.rig)!.id,
    memberId: people.get(TAKEN_OVER.by)!.id,
    takenAt: new Date(today.getTime() - TAKEN_OVER.daysAgo * DAY_MS),
    takenInOrder: 1,
    takenNote: TAKEN_OVER.note,
    givenAt: null,
    givenInOrder: null,
    givenNote: '',
  });
  for (const { rig, by, inNights, fromHour, hours, note, wait } of BOOKINGS) {
    const night = addDays(dayThere(rig), inNights);
    const start = instantOfLocal(zoneOf(rig), Date.parse(`${night}T00:00:00Z`) + fromHour * HOUR_MS);
    await bookingsService(store).add(people.get(by)!, {
      rigId: rigs.get(rig)!.id,
      night,
      start: new Date(start).toISOString(),
      end: new Date(start + hours * HOUR_MS).toISOString(),
      projectId: null,
      memberId: null,
      note,
      wait,
    });
  }
}
