import type { SpokenVerdict } from '@keen/core';
import type { FrameFinding } from '@keen/core/frames';
import { judge, phrase } from '@keen/core/phrases';
import type { FrameRow } from './useLookThrough.ts';

/** From this share of the measured frames on, a finding is the night’s and not a frame’s; common practice, no source. */
const MOST = 0.5;

/** Spoil no frame so far that it would not count, and are there in every one. */
const OF_THE_OPTICS = new Set<FrameFinding['code']>(['coma', 'one-sided']);

/** What a night’s frames come to: how many count, what most of them show, what is better refused. */
export function framesVerdict(rows: readonly FrameRow[], findingsOf: (r: FrameRow) => FrameFinding[]): SpokenVerdict {
  const measured = rows.filter((r) => r.look);
  const recorded = rows.filter((r) => r.record);
  if (measured.length === 0) return judge('caution', phrase('look.none'));
  const shown = new Map<string, number>();
  for (const r of measured)
    for (const f of findingsOf(r))
      if (f.severity === 'bad' || OF_THE_OPTICS.has(f.code)) shown.set(f.code, (shown.get(f.code) ?? 0) + 1);
  const most = [...shown].filter(([, n]) => n >= MOST * measured.length).sort((a, b) => b[1] - a[1]);
  const suggested = rows.filter((r) => r.suggestion && r.accepted);
  const counts = recorded.length
    ? [phrase('look.night', { counted: recorded.filter((r) => r.accepted).length, frames: recorded.length })]
    : [];
  const parts = [
    ...most.map(([code, n]) => phrase('look.most', { shown: n, measured: measured.length, finding: code.replaceAll('-', ' ') })), // prettier-ignore
    ...counts,
    ...(suggested.length ? [phrase('look.suggested', { frames: suggested.length, lostMin: suggested.reduce((s, r) => s + r.suggestion!.costsS, 0) / 60 })] : []), // prettier-ignore
    ...(measured.length < rows.length ? [phrase('look.unmeasured', { frames: rows.length - measured.length })] : []),
  ];
  if (parts.length === 0) return judge('good', phrase('frames.healthy'));
  return judge(most.length ? 'bad' : suggested.length ? 'caution' : 'good', ...parts);
}
