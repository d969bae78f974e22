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
export interface Standard {
  hfdPx: readonly number[];
  stars: number;
}
/** The same by filter: plain data. */
export type Standards = Readonly<Record<string, Standard>>;

/**
 * Judges a frame by the good ones before it, filter by filter; the first of a filter by the last focus run.
 * @param focusedPx smallest width the last focus run saw, null before any
 * @returns why it should not count, null when it may; and the standards after it: a good one belongs to its filter’s
 */
export function judgeFrame(
  before: Standards,
  filter: string,
  m: Omit<FrameMeasure, 'offArcmin'>,
  focusedPx: number | null,
): { refusal: Refusal | null; standards: Standards } {
  const best = before[filter];
  const refusal = faultOf(m, best, focusedPx);
  if (refusal) return { refusal, standards: before };
  const standard = { hfdPx: [...(best?.hfdPx ?? []), m.hfdPx], stars: Math.max(best?.stars ?? 0, m.stars) };
  return { refusal, standards: { ...before, [filter]: standard } };
}

function faultOf(
  m: Omit<FrameMeasure, 'offArcmin'>,
  best: Standard | undefined,
  focusedPx: number | null,
): Refusal | null {
  if (m.stars === 0) return { code: 'few', phrase: phrase('run.refused-few') };
  const typical = best ? median([...best.hfdPx]) : focusedPx;
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
