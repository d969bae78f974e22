import type { Phrase } from '@keen/core/phrases';
import type { AspectHashes, RigBuild } from '@keen/core/rig';
import type { CableSheet } from '@keen/core/cables';

import { json, stamps, text, when, whole, type Stamps } from '../../database/columns.ts';
import type { Define } from '../../database/define.ts';

export interface RigRow extends Stamps {
  id: string;
  clubId: string;
  siteId: string;
  name: string;
}

export interface TrainStateRow {
  id: string;
  rigId: string;
  system: string;
  fingerprint: string;
  words: string;
  aspects: AspectHashes | null;
  createdAt: Date;
}

export interface RevisionRow {
  id: string;
  rigId: string;
  number: number;
  setup: RigBuild;
  changes: Phrase[];
  /** State of the first system. */
  trainStateId: string;
  /** State of every system by its key. */
  trainStates: Record<string, string>;
  byId: string;
  at: Date;
}

export interface CablesRow extends Stamps {
  id: string;
  rigId: string;
  sheet: CableSheet;
}

/** The tables of this area; the schema itself is made by migrations only. */
export const rigsTables = (table: Define) => ({
  rigs: table<RigRow>('rigs', { clubId: text, siteId: text, name: text, ...stamps }),
  trainStates: table<TrainStateRow>('train_states', {
    rigId: text,
    system: text,
    fingerprint: text,
    words: text,
    aspects: json,
    createdAt: when,
  }),
  revisions: table<RevisionRow>('rig_revisions', {
    rigId: text,
    number: whole,
    setup: json,
    changes: json,
    trainStateId: text,
    trainStates: json,
    byId: text,
    at: when,
  }),
  cables: table<CablesRow>('cable_sheets', { rigId: text, sheet: json, ...stamps }),
});
