import type { FrameKind, ReadFrame } from '../exchange/index.ts';
import { assignFrame, type Assigned, type Candidate } from './assign.ts';

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

/** What a rig has that frames may belong to. */
export interface Matching {
  projects: readonly Candidate[];
  filters: readonly string[];
  reachDeg: number;
  aliases: Readonly<Record<string, string>>;
}

/** The same with what was found for it, and what holds after a hand’s word. */
export interface Matched extends Incoming {
  assigned: Assigned;
  kindNow: FrameKind;
  projectNow: string | null;
  filterNow: string | null;
}

/** Applies what was set by hand over what the headers say. */
export function matchFrames(frames: readonly Incoming[], m: Matching): Matched[] {
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
export const openQuestions = (f: Matched): Assigned['open'] =>
  f.assigned.open.filter(
    (o) =>
      !(o === 'no-filter' && f.filterNow !== null) &&
      !(['no-project', 'two-projects', 'no-place'].includes(o) && (f.projectId !== undefined || f.projectNow !== null)),
  );
/** It can be stored: exposure known, and a filter where one matters. */
export const storable = (f: Matched): boolean =>
  !f.assigned.open.includes('no-exposure') && (f.filterNow !== null || (f.kindNow !== 'light' && f.kindNow !== 'flat'));

export interface FrameGroup {
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
export function frameGroups(frames: readonly Matched[]): FrameGroup[] {
  const groups = new Map<string, FrameGroup>();
  for (const f of frames) {
    const object = f.read.object ?? '';
    const spelled = f.read.filter;
    const key = JSON.stringify([f.kindNow, f.projectNow ?? object, f.filterNow ?? spelled, f.read.exposureS]);
    const g = groups.get(key);
    if (g) {
      g.frames.push(f);
      g.open = [...new Set([...g.open, ...openQuestions(f)])];
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
        open: openQuestions(f),
      });
  }
  const order = ['light', 'flat', 'darkFlat', 'dark', 'bias'];
  return [...groups.values()].sort(
    (a, b) => order.indexOf(a.kind) - order.indexOf(b.kind) || a.key.localeCompare(b.key),
  );
}
