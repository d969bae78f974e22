import type { SyncInput } from './sync.ts';

export interface Segment {
  kind: 'exposure' | 'download' | 'idle' | 'dither';
  fromS: number;
  toS: number;
}
/** One cycle of two cameras that dither together, for drawing. Sums of each lane equal the cycle. */
export interface Cycle {
  cycleS: number;
  ditherFromS: number;
  lead: Segment[];
  follower: Segment[];
}

/** Lays one cycle out: exposures and read-outs of both, the wait for the longer, the dither, and what is left of it. */
export function cycleOf(i: SyncInput, followerFrames: number, cycleS: number): Cycle {
  const run = (frames: number, exposureS: number, downloadS: number) => frames * exposureS + (frames - 1) * downloadS;
  const leadS = run(i.lead.framesPerDither, i.lead.exposureS, i.lead.downloadS);
  const followerS = run(followerFrames, i.follower.exposureS, i.follower.downloadS);
  const ditherFromS = Math.max(leadS, followerS);
  const lane = (frames: number, exposureS: number, downloadS: number): Segment[] => {
    const list: Segment[] = [];
    let t = 0;
    const push = (kind: Segment['kind'], toS: number) => {
      if (toS > t + 1e-9) list.push({ kind, fromS: t, toS });
      t = Math.max(t, toS);
    };
    for (let k = 0; k < frames; k++) {
      push('exposure', t + exposureS);
      // the last read-out goes on while the others finish or the dither runs
      push('download', t + downloadS);
    }
    push('idle', ditherFromS);
    push('dither', Math.max(t, ditherFromS + i.ditherSettleS));
    push('idle', cycleS);
    return list;
  };
  return {
    cycleS,
    ditherFromS,
    lead: lane(i.lead.framesPerDither, i.lead.exposureS, i.lead.downloadS),
    follower: lane(followerFrames, i.follower.exposureS, i.follower.downloadS),
  };
}

/**
 * Share of the follower's frames that dithers by the lead alone would smear: a frame is spoiled when any part of the
 * dither falls into it. Phases of the two cycles are taken as unrelated.
 */
export function spoiledShare(i: SyncInput): number {
  const { exposureS, downloadS, framesPerDither } = i.lead;
  const between =
    framesPerDither * exposureS + (framesPerDither - 1) * downloadS + Math.max(downloadS, i.ditherSettleS);
  return Math.min(1, (i.follower.exposureS + i.ditherSettleS) / between);
}
