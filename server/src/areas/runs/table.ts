import { DataTypes } from 'sequelize';
import type { AspectHashes } from '@keen/core/rig';
import type { RunKind } from '@keen/contract';

import { json, longText, text, when, whole } from '../../database/columns.ts';
import type { Define } from '../../database/define.ts';

export interface RunRow {
  id: string;
  kind: RunKind;
  /** Null for a night that was brought in. */
  planId: string | null;
  rigId: string;
  system: string;
  night: string;
  name: string;
  trainStateId: string;
  aspects: AspectHashes | null;
  offsetSetId: string | null;
  planVersion: number | null;
  seed: number | null;
  state: 'rehearsed' | 'accepted' | 'discarded';
  offsetsUsed: number;
  result: string | null;
  byId: string;
  at: Date;
  /** The plan's id once accepted: unique, so that a plan is counted once. */
  acceptedPlan: string | null;
  /** Of a second camera’s night: the run of its lead, beside which it was taken. */
  besideId: string | null;
}

/** The tables of this area; the schema itself is made by migrations only. */
export const runsTables = (table: Define) => ({
  runs: table<RunRow>('runs', {
    kind: text,
    planId: text,
    rigId: text,
    system: text,
    night: DataTypes.DATEONLY,
    name: text,
    trainStateId: text,
    aspects: json,
    offsetSetId: text,
    planVersion: whole,
    seed: whole,
    state: text,
    offsetsUsed: whole,
    result: longText,
    byId: text,
    at: when,
    acceptedPlan: text,
    besideId: text,
  }),
});
