import { median } from 'simple-statistics';
import { phrase, type PlainPhrase } from '../phrases/index.ts';
import { FEW_SHARE, LONG_ECCENTRICITY, WIDE_TIMES, type RefusalCode } from '../record/index.ts';
import type { FrameMeasure } from './devices.ts';

/** Sky levels against a clear frame at which cloud is suspected, and taken for certain; common practice, no source. */
const SKY_SUSPECT = 1.2;
const SKY_CLOUD = 1.5;

/** A code to act on, and the same with its figures. */
export interface Refusal {
  code: RefusalCode;
  phrase: PlainPhrase;
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
      return { code: 'wide', phrase: phrase('run.refused-wide', { times: m.hfdPx / typical }) };
    if (best && m.stars < FEW_SHARE * best.stars)
      return m.background > SKY_SUSPECT
        ? { code: 'cloud', phrase: phrase('run.refused-cloud') }
        : { code: 'few', phrase: phrase('run.refused-few') };
    if (m.eccentricity > LONG_ECCENTRICITY)
      return { code: 'long', phrase: phrase('run.refused-long', { eccentricity: m.eccentricity }) };
    if (m.background > SKY_CLOUD) return { code: 'bright', phrase: phrase('run.refused-bright') };
    return null;
  }
}
