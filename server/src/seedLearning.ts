import type { RigRecord } from '@keen/contract';
import { judgeDrill } from '@keen/core/drills';
import { addDays, eveningDate } from '@keen/core/sky';
import { DRILLS_ANSWERED, LOG_ENTRIES, RIGS, SITES } from '@keen/demo';
import type { Actor, Store } from './store.ts';

const DAY_MS = 86_400_000;

/** What the demo's people wrote down and answered. */
export async function seedLearning(
  store: Store,
  people: ReadonlyMap<string, Actor>,
  rigs: ReadonlyMap<string, RigRecord>,
  today: Date,
): Promise<void> {
  for (const { rig, by, daysAgo, ...words } of LOG_ENTRIES) {
    const zone = SITES.find((s) => s.key === RIGS.find((r) => r.key === rig)!.site)!.timeZone;
    const who = people.get(by)!.id;
    const at = new Date(today.getTime() - daysAgo * DAY_MS);
    const night = addDays(eveningDate(zone, today.getTime()), -daysAgo);
    await store.logEntries.create({
      id: store.id(),
      rigId: rigs.get(rig)!.id,
      ...words,
      night,
      byId: who,
      version: 1,
      updatedAt: at,
      updatedBy: who,
      archivedAt: null,
    });
  }
  for (const [k, [who, situation, cause, cure]] of DRILLS_ANSWERED.entries()) {
    const seed = 1000 + k;
    const { causeRight, cureRight } = judgeDrill({ situation, seed, cause, cure });
    await store.drillAnswers.create({
      id: store.id(),
      memberId: people.get(who)!.id,
      situation,
      seed,
      cause,
      cure,
      causeRight,
      cureRight,
      at: new Date(today.getTime() - (30 - k) * DAY_MS),
    });
  }
}
