import { describe, expect, test } from '@jest/globals';
import { phrase } from '../phrases/index.ts';
import { fieldOf, settleEdges, type EdgeSeen } from './edgeCause.ts';
import type { FrameFinding } from './measure/diagnose.ts';

const shadow = (edge: string): FrameFinding => {
  const said = phrase('frame.prism-shadow', { edge, dipPercent: 4 });
  return {
    code: 'prism-shadow',
    severity: 'bad',
    evidence: '',
    advice: '',
    phrases: [said, phrase('frame.prism-shadow-advice', { edge })],
  };
};
const of = (field: string | null, n: number, ...edges: string[]): EdgeSeen[] =>
  Array.from({ length: n }, () => ({ field, findings: edges.map(shadow) }));
/** What became of the first frame's dark edge. */
const settled = (frames: EdgeSeen[]) => {
  const [first] = settleEdges(frames);
  return [first![0]!.severity, first![0]!.phrases[0].code];
};

describe('a dark edge', () => {
  test('that frames of another object show too is the prism’s', () => {
    expect(settled([...of('M 42', 5, 'top'), ...of('M 1', 4, 'top')])).toEqual(['bad', 'frame.edge-prism']);
  });
  test('that no frame of another field shows is the sky’s, and no fault', () => {
    expect(settled([...of('M 42', 5, 'top'), ...of('M 1', 4), ...of('M 31', 3, 'left')])).toEqual([
      'good',
      'frame.edge-sky',
    ]);
  });
  test.each([
    ['only this object was taken', [...of('M 42', 9, 'top')]],
    ['too few others', [...of('M 42', 5, 'top'), ...of('M 1', 2)]],
    ['others are divided', [...of('M 42', 5, 'top'), ...of('M 1', 3, 'top'), ...of('M 31', 6)]],
    ['nobody knows what others show', [...of('M 42', 5, 'top'), ...of(null, 6)]],
  ])('stays undecided where %s', (_, frames) => {
    expect(settled(frames)).toEqual(['bad', 'frame.prism-shadow']);
  });
  test('leaves other findings and frames as they are', () => {
    const clean = of('M 1', 4);
    const got = settleEdges([...of('M 42', 1, 'top'), ...clean]);
    expect(got.slice(1)).toEqual(clean.map(() => []));
  });
});

test.each([
  [{ projectId: 'a', rotationDeg: 0 }, { projectId: 'a', rotationDeg: 4 }, true],
  [{ projectId: 'a', rotationDeg: 359 }, { projectId: 'a', rotationDeg: 1 }, true],
  [{ projectId: 'a', rotationDeg: 0 }, { projectId: 'a', rotationDeg: 180 }, false],
  [{ projectId: 'a' }, { projectId: 'b' }, false],
  [{ projectId: null, object: 'M 1' }, { projectId: null, object: 'M 1' }, true],
])('%j and %j show one field: %s', (a, b, same) => {
  expect(fieldOf(a) === fieldOf(b)).toBe(same);
});
test('a frame of which nothing is known shows no field', () => {
  expect(fieldOf({ projectId: null })).toBeNull();
});
