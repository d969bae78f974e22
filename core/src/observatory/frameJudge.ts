import { median } from 'simple-statistics';
import { FEW_SHARE, LONG_ECCENTRICITY, WIDE_TIMES, type RefusalCode } from '../record/index.ts';
import type { FrameMeasure } from './devices.ts';

/** Sky levels against a clear frame at which cloud is suspected, and taken for certain; common practice, no source. */
const SKY_SUSPECT = 1.2;
const SKY_CLOUD = 1.5;

/** A code to act on, and words with the figures. */
export interface Refusal {
  code: RefusalCode;
  text: string;
}

/** What a good frame through a filter looks like: typical width, richest field. */
interface Standard {
  hfdPx: number[];
  stars: number;
}

/** Judges frames by the good ones before them, filter by filter; the first of a filter by the last focus run. */
export class FrameJudge {
  private readonly standards = new Map<string, Standard>();

  /**
   * Why a frame should not count; null when it may, and then it belongs to the standard of its filter.
   * @param focusedPx smallest width the last focus run saw, null before any
   */
  judge(filter: string, m: FrameMeasure, focusedPx: number | null): Refusal | null {
    const best = this.standards.get(filter);
    const refusal = this.fault(m, best, focusedPx);
    if (!refusal)
      this.standards.set(filter, {
        hfdPx: [...(best?.hfdPx ?? []), m.hfdPx],
        stars: Math.max(best?.stars ?? 0, m.stars),
      });
    return refusal;
  }

  private fault(m: FrameMeasure, best: Standard | undefined, focusedPx: number | null): Refusal | null {
    const typical = best ? median(best.hfdPx) : focusedPx;
    if (typical !== null && m.hfdPx > WIDE_TIMES * typical)
      return { code: 'wide', text: `stars ${(m.hfdPx / typical).toFixed(1)} times as wide as they should be` };
    if (best && m.stars < FEW_SHARE * best.stars)
      return m.background > SKY_SUSPECT
        ? { code: 'cloud', text: 'cloud: few stars, bright sky' }
        : { code: 'few', text: 'few stars' };
    if (m.eccentricity > LONG_ECCENTRICITY)
      return { code: 'long', text: `long stars (eccentricity ${m.eccentricity.toFixed(2)})` };
    if (m.background > SKY_CLOUD) return { code: 'bright', text: 'bright sky: cloud' };
    return null;
  }
}
