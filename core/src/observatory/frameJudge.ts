import { median } from 'simple-statistics';
import type { FrameMeasure } from './devices.ts';

/** A frame is refused when its stars are wider than this many times the filter's typical frame; common practice, no source. */
export const HFD_LIMIT = 1.4;
/** … fewer than this share of the filter's richest, or longer than this. */
export const STAR_SHARE_LIMIT = 0.5;
export const ECCENTRICITY_LIMIT = 0.55;
/** Sky levels against a clear frame at which cloud is suspected, and taken for certain; common practice, no source. */
const SKY_SUSPECT = 1.2;
const SKY_CLOUD = 1.5;
const WIDE = 'as wide as they should be';

/** What a good frame through a filter looks like: typical width, richest field. */
interface Standard {
  hfdPx: number[];
  stars: number;
}

/** Judges frames by the good ones before them, filter by filter; the first of a filter by the last focus run. */
export class FrameJudge {
  private readonly standards = new Map<string, Standard>();

  /**
   * Why a frame should not count; empty when it may, and then it belongs to the standard of its filter.
   * @param focusedPx smallest width the last focus run saw, null before any
   */
  judge(filter: string, m: FrameMeasure, focusedPx: number | null): string {
    const best = this.standards.get(filter);
    const reason = this.fault(m, best, focusedPx);
    if (!reason)
      this.standards.set(filter, {
        hfdPx: [...(best?.hfdPx ?? []), m.hfdPx],
        stars: Math.max(best?.stars ?? 0, m.stars),
      });
    return reason;
  }

  /** The stars were too wide: what a focus run may cure. */
  static isWide(reason: string): boolean {
    return reason.endsWith(WIDE);
  }

  private fault(m: FrameMeasure, best: Standard | undefined, focusedPx: number | null): string {
    const typical = best ? median(best.hfdPx) : focusedPx;
    if (typical !== null && m.hfdPx > HFD_LIMIT * typical)
      return `stars ${(m.hfdPx / typical).toFixed(1)} times ${WIDE}`;
    if (best && m.stars < STAR_SHARE_LIMIT * best.stars)
      return m.background > SKY_SUSPECT ? 'cloud: few stars, bright sky' : 'few stars';
    if (m.eccentricity > ECCENTRICITY_LIMIT) return `long stars (eccentricity ${m.eccentricity.toFixed(2)})`;
    if (m.background > SKY_CLOUD) return 'bright sky: cloud';
    return '';
  }
}
