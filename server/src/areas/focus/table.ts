import { json, real, text, when, whole } from '../../database/columns.ts';
import type { Define } from '../../database/define.ts';

export interface FocusRunRow {
  id: string;
  rigId: string;
  system: string;
  /** The focus aspect it holds for. */
  aspect: string | null;
  trainStateId: string;
  filter: string;
  position: number;
  hfd: number | null;
  error: number | null;
  temperatureC: number | null;
  time: Date | null;
  points: { position: number; hfd: number }[];
  usable: number;
  reason: string;
  source: 'typed' | 'file' | 'run';
  runId: string | null;
  excluded: number;
  byId: string;
  createdAt: Date;
}

export interface OffsetSetRow {
  id: string;
  rigId: string;
  system: string;
  aspect: string | null;
  trainStateId: string;
  reference: string;
  model: 'temperature' | 'time' | 'both' | 'none';
  offsets: Record<string, { steps: number; error: number; runs: number }>;
  temperatureStepsPerC: number | null;
  zoneSteps: number | null;
  runCount: number;
  byId: string;
  adoptedAt: Date;
}

/** The tables of this area; the schema itself is made by migrations only. */
export const focusTables = (table: Define) => ({
  focusRuns: table<FocusRunRow>('focus_runs', {
    rigId: text,
    system: text,
    aspect: text,
    trainStateId: text,
    filter: text,
    position: real,
    hfd: real,
    error: real,
    temperatureC: real,
    time: when,
    points: json,
    usable: whole,
    reason: text,
    source: text,
    runId: text,
    excluded: whole,
    byId: text,
    createdAt: when,
  }),
  offsetSets: table<OffsetSetRow>('offset_sets', {
    rigId: text,
    system: text,
    aspect: text,
    trainStateId: text,
    reference: text,
    model: text,
    offsets: json,
    temperatureStepsPerC: real,
    zoneSteps: real,
    runCount: whole,
    byId: text,
    adoptedAt: when,
  }),
});
