import { phrase, type Phrase } from '../phrases/index.ts';
import { sameExposure } from '../record/index.ts';
import { holds, type AspectHashes, type MadeUnder } from '../rig/index.ts';

type Kind = 'light' | 'dark' | 'flat' | 'bias' | 'darkFlat';
type Level = 'good' | 'caution' | 'bad';

/** Warm pixels come and go: darks and bias frames are renewed after so many days; common practice, no source. */
export const OLD_MASTER_DAYS = 365;

/** Does a calibration frame serve the rig as it stands? Flats hold while their aspect does; what the shutter was closed for does not see the train. */
export const calibrationHolds = (kind: Kind, made: MadeUnder, now: AspectHashes): boolean =>
  kind !== 'flat' || holds(made, now, 'flats');

/** What is to be said of a master that is so many days old. */
export function masterState(of: { kind: Kind; holds: boolean; ageDays: number }): { level: Level; phrase: Phrase } {
  if (!of.holds) return { level: 'bad', phrase: phrase('master.spoiled') };
  if (of.kind === 'flat') return { level: 'good', phrase: phrase('master.flat-holds') };
  if (of.ageDays > OLD_MASTER_DAYS) return { level: 'caution', phrase: phrase('master.old') };
  return { level: 'good', phrase: phrase('master.holds') };
}

interface Settings {
  kind: Kind;
  filter: string;
  exposureS: number;
  gain: number | null;
  setPointC: number | null;
  binning: number;
}

/** Was a master made of frames like these? */
export const isMasterOf = (master: Settings & { madeOn: string }, frames: Settings & { newest: string }): boolean =>
  master.kind === frames.kind &&
  master.filter === frames.filter &&
  sameExposure(master.exposureS, frames.exposureS) &&
  master.gain === frames.gain &&
  master.setPointC === frames.setPointC &&
  master.binning === frames.binning &&
  master.madeOn >= frames.newest;
