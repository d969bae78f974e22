import { DataTypes } from 'sequelize';
import type { AspectHashes } from '@keen/core/rig';
import type { ClosingStep, Leg, OpeningStep, PlanLock, Watches } from '@keen/core/sequence';

import { json, stamps, text, when, whole, type Stamps } from '../../database/columns.ts';
import type { Define } from '../../database/define.ts';

export type PlanLegRow = Leg & { start: string | null; end: string | null; flipAt: string | null };

export interface PlanRow extends Stamps {
  id: string;
  rigId: string;
  ownerId: string;
  night: string;
  start: Date;
  end: Date;
  opening: OpeningStep[];
  legs: PlanLegRow[];
  closing: ClosingStep[];
  watches: Watches;
  locked: number;
  /** Closed fields, by whom. */
  locks: (PlanLock & { byId: string })[];
  /** The protected plan it was made from. */
  fromPlanId: string | null;
  status: 'planned' | 'done' | 'cancelled';
  madeFor: { aspects: AspectHashes; offsetSetId: string | null; revision: number } | null;
}

/** The tables of this area; the schema itself is made by migrations only. */
export const plansTables = (table: Define) => ({
  plans: table<PlanRow>('plans', {
    rigId: text,
    ownerId: text,
    night: DataTypes.DATEONLY,
    start: when,
    end: when,
    opening: json,
    legs: json,
    closing: json,
    watches: json,
    locked: whole,
    locks: json,
    fromPlanId: text,
    status: text,
    madeFor: json,
    ...stamps,
  }),
});
