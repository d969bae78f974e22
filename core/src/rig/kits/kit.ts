import type { Origin } from '../schemas.ts';

/** Kinds of things a rig begins with. Every number is what such a thing typically is: common practice, no source. */
export interface TubeKit {
  key: string;
  /** What a rig of it is called until somebody says otherwise. */
  name: string;
  /** The name with what tells it from its like. */
  label: string;
  kind: 'refractor' | 'newtonian' | 'two-mirror' | 'lens';
  apertureMm: number;
  focalLengthMm: number;
  obstructionMm: number;
  massKg: number;
  lengthMm: number;
  widthMm: number;
  /** Mass centre before (+) or behind (−) the middle of the tube. */
  centreMm: number;
  ringsKg: number;
  focuserKg: number;
  /** Distance the corrector, or the flange of a lens, asks for; null: none is needed, or none is known. */
  backFocusMm: number | null;
  /** A corrector of its own, screwed in before the train; built in or none where it is not given. */
  corrector?: { name: string; massKg: number };
  toleranceMm: number;
  imageCircleMm: number;
  focuserStepUm: number;
}

export interface SensorKit {
  key: string;
  label: string;
  pixelUm: number;
  widthPx: number;
  heightPx: number;
  massKg: number;
  /** Flange to sensor. */
  depthMm: number;
}

export interface MountKit {
  key: string;
  label: string;
  drive: 'worm' | 'strain-wave' | 'direct';
  ratedLoadKg: number;
  shaftKg: number;
  shaftMm: { min: number; max: number };
  /** Saddle's surface from the crossing of the axes. */
  saddleMm: number;
  weightsKg: number[];
}

export const assumed = (spread: number): Origin => ({ kind: 'assumed', spread });
