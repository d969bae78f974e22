import type { FrameFields, FrameHeader } from '@keen/contract';
import type { CsvFrame, ReadFrame } from '@keen/core/exchange';
import type { Assigned, Incoming, Matched } from '@keen/core/frames';

/** Why something waits for a hand, in words. */
export const OPEN_WORDS: Record<Assigned['open'][number], string> = {
  'no-project': 'no project of this rig stands there',
  'two-projects': 'two projects could be meant',
  'no-place': 'the header says neither place nor object',
  'no-filter': 'the filter’s name is not one of this rig’s',
  'no-exposure': 'no exposure time',
  'no-time': 'no time; it goes with the evening chosen above',
};

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
