import { DataTypes } from 'sequelize';
import type { BookingOrigin, BookingState, HoursOutcome, Sharing } from '@keen/core/booking';

import { json, stamps, text, when, type Stamps } from '../../database/columns.ts';
import type { Define } from '../../database/define.ts';

export interface BookingRow extends Stamps {
  id: string;
  clubId: string;
  rigId: string;
  memberId: string;
  projectId: string | null;
  night: string;
  start: Date;
  end: Date;
  origin: BookingOrigin;
  state: BookingState;
  note: string;
  /** What a steward said to it. */
  answer: string;
  madeBy: string;
  madeAt: Date;
  decidedBy: string | null;
  outcome: HoursOutcome | null;
  outcomeBy: string | null;
}
/** Nights on which somebody is away. */
export interface AbsenceRow {
  id: string;
  memberId: string;
  fromNight: string;
  untilNight: string;
  title: string;
}
/** How a rig is shared; its id is the rig’s. */
export interface SharingRow extends Stamps {
  id: string;
  data: Sharing;
}

/** The tables of this area; the schema itself is made by migrations only. */
export const bookingsTables = (table: Define) => ({
  bookings: table<BookingRow>('bookings', {
    clubId: text,
    rigId: text,
    memberId: text,
    projectId: text,
    night: DataTypes.DATEONLY,
    start: when,
    end: when,
    origin: text,
    state: text,
    note: text,
    answer: text,
    madeBy: text,
    madeAt: when,
    decidedBy: text,
    outcome: text,
    outcomeBy: text,
    ...stamps,
  }),
  absences: table<AbsenceRow>('absences', {
    memberId: text,
    fromNight: DataTypes.DATEONLY,
    untilNight: DataTypes.DATEONLY,
    title: text,
  }),
  sharing: table<SharingRow>('rig_sharing', { data: json, ...stamps }),
});
