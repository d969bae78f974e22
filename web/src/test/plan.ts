import type { PlanRecord, ProjectRecord } from '@keen/contract';
import { USUAL_WATCHES, type PlanSettings } from '@keen/core/sequence';

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
/** A saved plan of one leg and nothing around it, from 18 to 21 hours unless told otherwise. */
export function planOf(p: ProjectRecord, settings: PlanSettings, more: Partial<PlanRecord> = {}): PlanRecord {
  const [start, end] = [more.start ?? '2026-11-19T18:00:00.000Z', more.end ?? '2026-11-19T21:00:00.000Z'];
  return {
    id: id(60),
    rigId: id(3),
    night: '2026-11-19',
    start,
    end,
    opening: [],
    closing: [],
    watches: USUAL_WATCHES,
    legs: [
      {
        id: 'leg-1',
        projectId: p.id,
        panel: null,
        role: 'main',
        turnMin: null,
        from: { by: 'clock', at: start },
        until: { by: 'clock', at: end },
        settings,
        guiding: true,
        meridian: 'flip',
        centreWithinArcmin: 0.5,
        follower: null,
        projectName: p.name,
        object: p.object,
        start,
        end,
        flipAt: null,
      },
    ],
    locked: false,
    locks: [],
    madeFrom: null,
    status: 'planned',
    owner: 'Noor Vik',
    ownerId: id(1),
    runs: [],
    system: p.system,
    madeFor: null,
    version: 3,
    updatedAt: '2026-11-18T12:00:00.000Z',
    updatedBy: 'Noor Vik',
    ...more,
  };
}
