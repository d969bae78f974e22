import type { JobKind, JobState, Problem } from '@keen/contract';
import type { Phrase } from '@keen/core/phrases';
import { json, longText, real, text, when, whole } from '../database/columns.ts';
import type { Define } from '../database/define.ts';

export interface JobRow {
  id: string;
  clubId: string;
  memberId: string;
  kind: JobKind;
  /** The plan it is about. */
  subjectId: string | null;
  input: unknown;
  state: JobState;
  share: number;
  stage: Phrase | null;
  result: string | null;
  problem: Problem | null;
  attempts: number;
  /** Who works at it, and until when nobody else may. */
  leaseOwner: string | null;
  leaseUntil: Date | null;
  cancelRequested: number;
  /** Whoever takes it counts on: what one has whose turn is over writes nothing any more. */
  version: number;
  madeAt: Date;
  begunAt: Date | null;
  endedAt: Date | null;
}

/** The table of jobs; the schema itself is made by migrations only. */
export const jobsTables = (table: Define) => ({
  jobs: table<JobRow>('jobs', {
    clubId: text,
    memberId: text,
    kind: text,
    subjectId: text,
    input: json,
    state: text,
    share: real,
    stage: json,
    result: longText,
    problem: json,
    attempts: whole,
    leaseOwner: text,
    leaseUntil: when,
    cancelRequested: whole,
    version: whole,
    madeAt: when,
    begunAt: when,
    endedAt: when,
  }),
});
