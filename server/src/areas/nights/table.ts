import type { FrameFields, FrameHeader, MasterFields } from '@keen/contract';
import type { FrameMeasures } from '@keen/core/frames';

import { json, real, text, when, whole } from '../../database/columns.ts';
import type { Define } from '../../database/define.ts';

export interface FrameRow {
  id: string;
  runId: string;
  seq: number;
  kind: FrameFields['kind'];
  projectId: string | null;
  /** Of its project’s mosaic; null: one field, or beside all panels. */
  panel: number | null;
  filter: string;
  exposureS: number;
  startedAt: Date | null;
  file: string;
  header: FrameHeader;
  measures: Record<string, number>;
  /** What was measured in its picture; null where nobody looked. */
  look: FrameMeasures | null;
  accepted: number;
  /** A person said whether it counts. */
  judged: number;
  reason: string;
  refusal: FrameFields['refusal'];
  /** Club and file while the frame counts: unique, so that a file counts once. */
  countedHash: string | null;
  fileHash: string | null;
}

export interface FramePictureRow {
  id: string;
  picture: string;
}

export interface MasterRow {
  id: string;
  rigId: string;
  trainStateId: string;
  flatsAspect: string | null;
  data: MasterFields;
  byId: string;
  at: Date;
  archivedAt: Date | null;
}

/** The tables of this area; the schema itself is made by migrations only. */
export const nightsTables = (table: Define) => ({
  frames: table<FrameRow>('frames', {
    runId: text,
    seq: whole,
    kind: text,
    projectId: text,
    panel: whole,
    filter: text,
    exposureS: real,
    startedAt: when,
    file: text,
    header: json,
    measures: json,
    look: json,
    accepted: whole,
    judged: whole,
    reason: text,
    refusal: text,
    countedHash: text,
    fileHash: text,
  }),
  framePictures: table<FramePictureRow>('frame_pictures', { picture: text }),
  masters: table<MasterRow>('masters', {
    rigId: text,
    trainStateId: text,
    flatsAspect: text,
    data: json,
    byId: text,
    at: when,
    archivedAt: when,
  }),
});
