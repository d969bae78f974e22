import type { LiveRun } from '@keen/contract';
import { DataTypes } from 'sequelize';
import { longText, real, text, when, whole } from '../../database/columns.ts';
import type { Define } from '../../database/define.ts';

export interface LiveRunRow {
  id: string;
  planId: string;
  rigId: string;
  /** The rig, while it runs: unique. */
  rigBusy: string | null;
  byId: string;
  state: LiveRun['state'];
  speed: number;
  /** The name of equipment elsewhere; empty: stand-ins. */
  bridge: string;
  /** Plan and stand-ins, as JSON. */
  input: string;
  /** The run it becomes, as JSON. */
  record: string;
  holderId: string | null;
  askedById: string | null;
  lastSeq: number;
  atMs: number;
  frames: number;
  leaseOwner: string | null;
  leaseUntil: Date | null;
  claims: number;
  /** Written by whoever drives it, and by nobody else. */
  version: number;
  begunAt: Date;
  endedAt: Date | null;
  runId: string | null;
  /** As JSON. */
  debrief: string | null;
  problem: string;
}

/** The tables of this area; the schema itself is made by migrations only. */
export const liveRunsTables = (table: Define) => ({
  liveRuns: table<LiveRunRow>('live_runs', {
    planId: text,
    rigId: text,
    rigBusy: text,
    byId: text,
    state: text,
    speed: real,
    bridge: text,
    input: longText,
    record: longText,
    holderId: text,
    askedById: text,
    lastSeq: whole,
    atMs: DataTypes.BIGINT,
    frames: whole,
    leaseOwner: text,
    leaseUntil: when,
    claims: whole,
    version: whole,
    begunAt: when,
    endedAt: when,
    runId: text,
    debrief: longText,
    problem: text,
  }),
});
