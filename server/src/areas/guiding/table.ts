import { DataTypes } from 'sequelize';
import type { LogSummary } from '@keen/core/guiding';

import { json, text, when } from '../../database/columns.ts';
import type { Define } from '../../database/define.ts';

export interface GuideLogRow {
  id: string;
  rigId: string;
  system: string;
  trainStateId: string;
  night: string;
  name: string;
  note: string;
  beganAt: Date | null;
  summary: LogSummary;
  csv: string;
  byId: string;
  at: Date;
  archivedAt: Date | null;
}

/** The tables of this area; the schema itself is made by migrations only. */
export const guidingTables = (table: Define) => ({
  guideLogs: table<GuideLogRow>('guide_logs', {
    rigId: text,
    system: text,
    trainStateId: text,
    night: DataTypes.DATEONLY,
    name: text,
    note: text,
    beganAt: when,
    summary: json,
    csv: DataTypes.TEXT('medium'),
    byId: text,
    at: when,
    archivedAt: when,
  }),
});
