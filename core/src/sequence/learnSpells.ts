/** What is known of one frame: when, and whether cloud spoilt it. */
export interface SkyFrame {
  startMs: number;
  endMs: number;
  cloud: boolean;
}
/** Mean spells as a site’s own nights gave them. */
export interface LearntSpells {
  nights: number;
  clearMeanMin: number;
  cloudMeanMin: number;
  /** Changes that were seen each way: a mean is known within about one part in their square root. */
  clearEnds: number;
  cloudEnds: number;
}

/** So many nights before what they say replaces a guess. */
export const LEARN_FROM_NIGHTS = 10;
/** A longer gap says nothing of the sky in it [ms]: the night may have been stopped for other reasons; common practice, no source. */
const LONGEST_GAP_MS = 30 * 60_000;

/**
 * Mean lengths of clear and cloudy spells from frames of real nights. The time under either sky divided by how often it
 * ended: the estimate of greatest likelihood for spells without memory, which counts spells cut off by dusk, dawn or a gap
 * for what was seen of them. Blind to cloud while nobody exposed, so it flatters a place whose nights are given up.
 * @param nights frames of each night, in their order
 * @returns null where too few nights, or no change in either direction, were seen
 */
export function learnSpells(nights: readonly (readonly SkyFrame[])[]): LearntSpells | null {
  const ms = { clear: 0, cloud: 0 };
  const ends = { clear: 0, cloud: 0 };
  let counted = 0;
  for (const frames of nights) {
    if (frames.length < 2) continue;
    counted++;
    frames.forEach((f, i) => {
      const sky = f.cloud ? 'cloud' : 'clear';
      const next = frames[i + 1];
      ms[sky] += f.endMs - f.startMs;
      if (!next || next.startMs - f.endMs > LONGEST_GAP_MS) return;
      const gap = Math.max(0, next.startMs - f.endMs);
      if (next.cloud === f.cloud) ms[sky] += gap;
      else {
        ends[sky]++;
        // somewhere in the gap: half for each
        ms.clear += gap / 2;
        ms.cloud += gap / 2;
      }
    });
  }
  if (counted < LEARN_FROM_NIGHTS || ends.clear === 0 || ends.cloud === 0) return null;
  return {
    nights: counted,
    clearMeanMin: ms.clear / ends.clear / 60_000,
    cloudMeanMin: ms.cloud / ends.cloud / 60_000,
    clearEnds: ends.clear,
    cloudEnds: ends.cloud,
  };
}
