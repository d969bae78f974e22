import type { FrameFields, FrameHeader } from '@keen/contract';
import type { CsvFrame, FrameKind, ReadFrame } from '@keen/core/exchange';
import { assignFrame, type Assigned, type Candidate } from '@keen/core/frames';

/** One frame on its way into the record: what its file said, and what a person set by hand. */
export interface Incoming {
  file: string;
  hash: string | null;
  read: ReadFrame;
  /** Set by hand; undefined: as matched. */
  projectId?: string | null;
  filter?: string;
  kind?: FrameKind;
  accepted: boolean;
  reason: string;
}

export interface Matching {
  projects: readonly Candidate[];
  filters: readonly string[];
  reachDeg: number;
  aliases: Readonly<Record<string, string>>;
}

export interface Matched extends Incoming {
  assigned: Assigned;
  kindNow: FrameKind;
  projectNow: string | null;
  filterNow: string | null;
}

/** Why something waits for a hand, in words. */
export const OPEN_WORDS: Record<Assigned['open'][number], string> = {
  'no-project': 'no project of this rig stands there',
  'two-projects': 'two projects could be meant',
  'no-place': 'the header says neither place nor object',
  'no-filter': 'the filter’s name is not one of this rig’s',
  'no-exposure': 'no exposure time',
  'no-time': 'no time; it goes with the evening chosen above',
};

/** Applies what was set by hand over what the headers say. */
export function matchAll(frames: readonly Incoming[], m: Matching): Matched[] {
  return frames.map((f) => {
    const read = f.kind ? { ...f.read, kind: f.kind } : f.read;
    const assigned = assignFrame(read, m.projects, m.filters, m.reachDeg, m.aliases);
    return {
      ...f,
      assigned,
      kindNow: read.kind,
      projectNow: read.kind === 'light' ? (f.projectId === undefined ? assigned.projectId : f.projectId) : null,
      filterNow: f.filter ?? assigned.filter,
    };
  });
}

/** Complaints that a hand has not settled. A missing time only decides the night. */
export const openOf = (f: Matched): Assigned['open'] =>
  f.assigned.open.filter(
    (o) =>
      !(o === 'no-filter' && f.filterNow !== null) &&
      !(['no-project', 'two-projects', 'no-place'].includes(o) && (f.projectId !== undefined || f.projectNow !== null)),
  );
/** It can be stored: exposure known, and a filter where one matters. */
export const storable = (f: Matched): boolean =>
  !f.assigned.open.includes('no-exposure') && (f.filterNow !== null || (f.kindNow !== 'light' && f.kindNow !== 'flat'));

export interface Group {
  key: string;
  kind: FrameKind;
  projectId: string | null;
  object: string;
  filter: string | null;
  spelled: string;
  exposureS: number | null;
  frames: Matched[];
  open: Assigned['open'];
}

/** Frames that are alike in everything that decides where they count. */
export function groupsOf(frames: readonly Matched[]): Group[] {
  const groups = new Map<string, Group>();
  for (const f of frames) {
    const object = f.read.object ?? '';
    const spelled = f.read.filter;
    const key = JSON.stringify([f.kindNow, f.projectNow ?? object, f.filterNow ?? spelled, f.read.exposureS]);
    const g = groups.get(key);
    if (g) {
      g.frames.push(f);
      g.open = [...new Set([...g.open, ...openOf(f)])];
    } else
      groups.set(key, {
        key,
        kind: f.kindNow,
        projectId: f.projectNow,
        object,
        filter: f.filterNow,
        spelled,
        exposureS: f.read.exposureS,
        frames: [f],
        open: openOf(f),
      });
  }
  const order = ['light', 'flat', 'darkFlat', 'dark', 'bias'];
  return [...groups.values()].sort(
    (a, b) => order.indexOf(a.kind) - order.indexOf(b.kind) || a.key.localeCompare(b.key),
  );
}

const known = <T extends object>(fields: T): FrameHeader =>
  Object.fromEntries(Object.entries(fields).filter(([, v]) => v !== null && v !== undefined)) as FrameHeader;

/** What is sent of a frame: header fields and nothing of its pixels. */
export const fieldsOf = (f: Matched): FrameFields => ({
  kind: f.kindNow,
  projectId: f.projectNow,
  filter: f.kindNow === 'light' || f.kindNow === 'flat' ? (f.filterNow ?? '') : '',
  exposureS: f.read.exposureS ?? 0,
  startedAt: f.read.startedAt,
  file: f.file,
  hash: f.hash,
  header: known({
    object: f.read.object,
    raDeg: f.read.raDeg,
    decDeg: f.read.decDeg,
    setPointC: f.read.setPointC,
    sensorC: f.read.sensorC,
    gain: f.read.gain,
    offset: f.read.offset,
    binning: f.read.binning,
    pixelUm: f.read.pixelUm,
    focalLengthMm: f.read.focalLengthMm,
    focuserPosition: f.read.focuserPosition,
    focuserC: f.read.focuserC,
    rotationDeg: f.read.rotationDeg,
    bayer: f.read.bayer,
    widthPx: f.read.widthPx,
    heightPx: f.read.heightPx,
  }),
  accepted: f.accepted,
  reason: f.reason,
  refusal: f.accepted ? null : 'by-hand',
});

const EMPTY: ReadFrame = {
  kind: 'light',
  kindSaid: true,
  object: null,
  raDeg: null,
  decDeg: null,
  filter: '',
  exposureS: null,
  startedAt: null,
  setPointC: null,
  sensorC: null,
  gain: null,
  offset: null,
  binning: 1,
  pixelUm: null,
  focalLengthMm: null,
  focuserPosition: null,
  focuserC: null,
  rotationDeg: null,
  bayer: null,
  widthPx: null,
  heightPx: null,
};
/** Frames of a table or typed: no file stands behind them, so nothing tells one told twice. */
export function incomingOf(c: Pick<CsvFrame, 'filter' | 'exposureS' | 'count'> & Partial<CsvFrame>): Incoming[] {
  const read: ReadFrame = {
    ...EMPTY,
    kind: c.kind ?? 'light',
    object: c.object || null,
    filter: c.filter,
    exposureS: c.exposureS,
    startedAt: c.startedAt ?? null,
    sensorC: c.sensorC ?? null,
    gain: c.gain ?? null,
  };
  return Array.from({ length: c.count }, () => ({ file: c.file ?? '', hash: null, read, accepted: true, reason: '' }));
}
