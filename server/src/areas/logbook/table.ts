import { DataTypes } from 'sequelize';
import type { Stop } from '@keen/core/record';
import type { Aspect } from '@keen/core/rig';

import { json, stamps, text, type Stamps } from '../../database/columns.ts';
import type { Define } from '../../database/define.ts';

export interface LogRow extends Stamps {
  id: string;
  rigId: string;
  aspect: Aspect | null;
  night: string | null;
  problem: string;
  cause: string;
  cure: string;
  finding: string;
  stops: Stop | null;
  byId: string;
}

/** The tables of this area; the schema itself is made by migrations only. */
export const logbookTables = (table: Define) => ({
  logEntries: table<LogRow>('log_entries', {
    rigId: text,
    aspect: text,
    night: DataTypes.DATEONLY,
    problem: text,
    cause: text,
    cure: text,
    finding: text,
    stops: json,
    byId: text,
    ...stamps,
  }),
});
