import { median } from 'simple-statistics';
import { z } from 'zod';
import type { FrameMeasure } from './devices.ts';

/** A frame is refused when its stars are wider than this many times the filter's typical frame; common practice, no source. */
export const HFD_LIMIT = 1.4;
/** … fewer than this share of the filter's richest, or longer than this. */
export const STAR_SHARE_LIMIT = 0.5;
export const ECCENTRICITY_LIMIT = 0.55;
/** Sky levels against a clear frame at which cloud is suspected, and taken for certain; common practice, no source. */
const SKY_SUSPECT = 1.2;
const SKY_CLOUD = 1.5;

/** Why a frame does not count: wide stars (a focus run may cure it), few stars under a bright sky, few stars, long stars, a bright sky, or a person's word. */
export const RefusalCode = z.enum(['wide', 'cloud', 'few', 'long', 'bright', 'by-hand']);
export type RefusalCode = z.infer<typeof RefusalCode>;
/** The codes as headings, their figures left out. */
export const REFUSAL_WORDS: Record<RefusalCode, string> = {
  wide: 'stars too wide',
  cloud: 'cloud: few stars, bright sky',
  few: 'few stars',
  long: 'long stars',
  bright: 'bright sky: cloud',
  'by-hand': 'refused by hand',
};

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
    if (typical !== null && m.hfdPx > HFD_LIMIT * typical)
      return { code: 'wide', text: `stars ${(m.hfdPx / typical).toFixed(1)} times as wide as they should be` };
    if (best && m.stars < STAR_SHARE_LIMIT * best.stars)
      return m.background > SKY_SUSPECT
        ? { code: 'cloud', text: 'cloud: few stars, bright sky' }
        : { code: 'few', text: 'few stars' };
    if (m.eccentricity > ECCENTRICITY_LIMIT)
      return { code: 'long', text: `long stars (eccentricity ${m.eccentricity.toFixed(2)})` };
    if (m.background > SKY_CLOUD) return { code: 'bright', text: 'bright sky: cloud' };
    return null;
  }
}
