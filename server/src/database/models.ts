import type { Model, Sequelize } from 'sequelize';
import { membersTables } from '../areas/members/table.ts';
import { sitesTables } from '../areas/sites/table.ts';
import { partsTables } from '../areas/parts/table.ts';
import { rigsTables } from '../areas/rigs/table.ts';
import { projectsTables } from '../areas/projects/table.ts';
import { plansTables } from '../areas/plans/table.ts';
import { bookingsTables } from '../areas/bookings/table.ts';
import { runsTables } from '../areas/runs/table.ts';
import { liveRunsTables } from '../areas/live/table.ts';
import { nightsTables } from '../areas/nights/table.ts';
import { focusTables } from '../areas/focus/table.ts';
import { duskTables } from '../areas/dusk/table.ts';
import { guidingTables } from '../areas/guiding/table.ts';
import { drillsTables } from '../areas/drills/table.ts';
import { logbookTables } from '../areas/logbook/table.ts';
import { upkeepTables } from '../areas/upkeep/table.ts';
import { changesTables } from '../areas/changes/table.ts';
import { jobsTables } from '../jobs/table.ts';
import { defineIn } from './define.ts';

/** The tables as Sequelize models, each area’s beside its service; the schema itself is made by migrations only. */
export function models(db: Sequelize) {
  const table = defineIn(db);
  return {
    ...membersTables(table),
    ...sitesTables(table),
    ...partsTables(table),
    ...rigsTables(table),
    ...projectsTables(table),
    ...plansTables(table),
    ...bookingsTables(table),
    ...runsTables(table),
    ...nightsTables(table),
    ...focusTables(table),
    ...duskTables(table),
    ...guidingTables(table),
    ...drillsTables(table),
    ...logbookTables(table),
    ...upkeepTables(table),
    ...changesTables(table),
    ...jobsTables(table),
    ...liveRunsTables(table),
  };
}

export type Models = ReturnType<typeof models>;

/** A row that was found, as what it is: these tables give plain objects. */
export const plain = <R extends object>(m: Model<R>): R => m as unknown as R;
