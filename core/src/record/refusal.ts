import { z } from 'zod';
import { phrase, words, type PlainPhrase } from '../phrases/index.ts';

/**
 * Why a frame does not count: wide stars (a focus run may cure it), few stars under a bright sky, few stars, long stars, a
 * bright sky, another filter in the light, or a person's word.
 */
export const RefusalCode = z.enum(['wide', 'cloud', 'few', 'long', 'bright', 'filter', 'by-hand']);
export type RefusalCode = z.infer<typeof RefusalCode>;

/** A reason as a heading, its figures left out. */
export const refusalPhrase = (code: RefusalCode): PlainPhrase => phrase(`refusal.${code}`);

/** What a person's bare word makes of a frame. */
export const byHand = (
  accepted: boolean,
): { accepted: boolean; reason: string; refusal: RefusalCode | null; judged: true } => ({
  accepted,
  reason: accepted ? '' : words(refusalPhrase('by-hand')),
  refusal: accepted ? null : 'by-hand',
  judged: true,
});

/** Refusals that the sky is to blame for: the time is lost to cloud, not to the equipment. */
export const CLOUD_REFUSALS = ['cloud', 'bright'] as const satisfies readonly RefusalCode[];
export const isLostToCloud = (code: RefusalCode | null): boolean =>
  code !== null && (CLOUD_REFUSALS as readonly RefusalCode[]).includes(code);

/** Stars are too wide at this many times those of their fellows; common practice, no source. */
export const WIDE_TIMES = 1.4;
/** Stars are few below this share of those of their fellows; common practice, no source. */
export const FEW_SHARE = 0.5;
/** Stars are long from this eccentricity on; common practice, no source. */
export const LONG_ECCENTRICITY = 0.6;
