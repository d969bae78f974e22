import type { SpokenVerdict } from '@keen/core/calculation';
import { shownInMost, toMend, type FrameFinding } from '@keen/core/frames';
import { makeVerdict, phrase, nameOf } from '@keen/core/phrases';
import type { FrameRow } from './frameRow.ts';

/** What a night’s frames come to: how many count, what most of them show, what is better refused. */
export function framesVerdict(rows: readonly FrameRow[], findingsOf: (r: FrameRow) => FrameFinding[]): SpokenVerdict {
  const measured = rows.filter((r) => r.look);
  const recorded = rows.filter((r) => r.record);
  if (measured.length === 0) return makeVerdict('caution', phrase('look.none'));
  const most = shownInMost(
    measured.map((r) =>
      findingsOf(r)
        .filter(toMend)
        .map((f) => f.code),
    ),
  );
  const suggested = rows.filter((r) => r.suggestion && r.accepted);
  const counts = recorded.length
    ? [phrase('look.night', { counted: recorded.filter((r) => r.accepted).length, frames: recorded.length })]
    : [];
  const parts = [
    ...most.map((m) => phrase('look.most', { shown: m.frames, measured: m.of, finding: [nameOf(m.code)] })),
    ...counts,
    ...(suggested.length
      ? [
          phrase('look.suggested', {
            frames: suggested.length,
            lostMin: suggested.reduce((s, r) => s + r.suggestion!.costsS, 0) / 60,
          }),
        ]
      : []),
    ...(measured.length < rows.length ? [phrase('look.unmeasured', { frames: rows.length - measured.length })] : []),
  ];
  if (parts.length === 0) return makeVerdict('good', phrase('frames.healthy'));
  return makeVerdict(most.length ? 'bad' : suggested.length ? 'caution' : 'good', ...parts);
}
