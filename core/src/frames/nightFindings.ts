import { settleEdges } from './edgeCause.ts';
import { standardsOf, type LookedFrame } from './frameMeasures.ts';
import { diagnose, type FrameFinding, type FrameFindingCode } from './measure/diagnose.ts';

/** From this share of the measured frames on, a finding is the night’s and not a frame’s; common practice, no source. */
const MOST = 0.5;
/** Spoil no frame so far that it would not count, and are there in every one. */
const OF_THE_OPTICS = new Set<FrameFindingCode>(['coma', 'one-sided']);
/** Whether a finding has to be mended, and not only known. */
export const toMend = (f: Pick<FrameFinding, 'code' | 'severity'>): boolean =>
  f.severity === 'bad' || OF_THE_OPTICS.has(f.code);

export interface ShownFinding<Code extends string> {
  code: Code;
  frames: number;
  of: number;
}
export const isOfMost = (s: { frames: number; of: number }): boolean => s.frames >= MOST * s.of;
/** What at least half of the measured frames show, the most frequent first. */
export function shownInMost<Code extends string>(codesByFrame: readonly (readonly Code[])[]): ShownFinding<Code>[] {
  const count = new Map<Code, number>();
  for (const codes of codesByFrame) for (const c of codes) count.set(c, (count.get(c) ?? 0) + 1);
  const of = codesByFrame.length;
  return [...count]
    .map(([code, frames]) => ({ code, frames, of }))
    .filter(isOfMost)
    .sort((a, b) => b.frames - a.frames);
}

/**
 * What most frames of a night show that has to be mended, each held against the usual frame of its filter.
 * @param scaleArcsecPerPx null where the rig’s is not known
 */
export function nightFindings(
  frames: readonly LookedFrame[],
  scaleArcsecPerPx: number | null,
): { measured: number; most: ShownFinding<FrameFindingCode>[] } {
  const usual = standardsOf(frames);
  const seen = frames.flatMap((f) =>
    f.look ? [{ field: f.field ?? null, findings: diagnose(f.look, usual(f), scaleArcsecPerPx) }] : [],
  );
  const codes = settleEdges(seen).map((found) => found.filter(toMend).map((d) => d.code));
  return { measured: codes.length, most: shownInMost(codes) };
}
