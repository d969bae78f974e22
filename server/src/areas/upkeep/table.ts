import { DataTypes } from 'sequelize';
import { json, stamps, text, when, whole, type Stamps } from '../../database/columns.ts';
import type { Define } from '../../database/define.ts';

/** What comes again on a rig. */
export interface UpkeepRow extends Stamps {
  id: string;
  rigId: string;
  what: string;
  everyDays: number | null;
  everyNights: number | null;
  note: string;
  /** When it was done last, or begun to be counted. */
  since: string;
}
export interface UpkeepDoneRow {
  id: string;
  upkeepId: string;
  day: string;
  byId: string;
  note: string;
}
export interface HandoverRow {
  id: string;
  rigId: string;
  memberId: string;
  takenAt: Date;
  takenInOrder: number;
  takenNote: string;
  givenAt: Date | null;
  givenInOrder: number | null;
  givenNote: string;
}
export interface CountRow {
  id: string;
  clubId: string;
  at: Date;
  byId: string;
  note: string;
  found: { partId: string; name: string; expected: number; found: number }[];
  adopted: number;
}

/** The tables of this area; the schema itself is made by migrations only. */
export const upkeepTables = (table: Define) => ({
  upkeep: table<UpkeepRow>('upkeep', {
    rigId: text,
    what: text,
    everyDays: whole,
    everyNights: whole,
    note: text,
    since: DataTypes.DATEONLY,
    ...stamps,
  }),
  upkeepDone: table<UpkeepDoneRow>('upkeep_done', { upkeepId: text, day: DataTypes.DATEONLY, byId: text, note: text }),
  handovers: table<HandoverRow>('handovers', {
    rigId: text,
    memberId: text,
    takenAt: when,
    takenInOrder: whole,
    takenNote: text,
    givenAt: when,
    givenInOrder: whole,
    givenNote: text,
  }),
  partCounts: table<CountRow>('part_counts', {
    clubId: text,
    at: when,
    byId: text,
    note: text,
    found: json,
    adopted: whole,
  }),
});
