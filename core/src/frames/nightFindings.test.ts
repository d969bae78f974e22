import { expect, test } from '@jest/globals';
import {
  frameLook,
  lookAtPicture,
  nightFindings,
  renderCounts,
  shownInMost,
  toMend,
  type LookedFrame,
} from './index.ts';
import { writeFits16 } from '../exchange/index.ts';
import { healthyScene, withFaults, type DrawnFault } from '../test/faultyFrames.ts';

const frame = (n: number, faults: DrawnFault[]): LookedFrame => {
  const scene = withFaults(healthyScene(300), faults);
  const { measure } = lookAtPicture(
    writeFits16(renderCounts({ ...scene, seed: n }), scene.widthPx, scene.heightPx, []),
  );
  return { id: String(n), filter: 'Ha', exposureS: 300, look: frameLook(measure) };
};

test('half of the frames make it the night’s, the most frequent first', () => {
  expect(shownInMost([['a'], ['a', 'b'], ['b'], ['b']])).toEqual([
    { code: 'b', frames: 3, of: 4 },
    { code: 'a', frames: 2, of: 4 },
  ]);
  expect(shownInMost([['a'], [], []])).toEqual([]);
  expect(shownInMost([])).toEqual([]);
});
test('what has to be mended is what is bad, and what the optics do to every frame', () => {
  const is = (code: string, severity: string) => toMend({ code, severity } as never);
  expect([is('tilt', 'bad'), is('coma', 'caution'), is('elongated', 'caution'), is('round', 'good')]).toEqual([
    true,
    true,
    false,
    false,
  ]);
});
test('a night under a shadow says so; one trailed frame and one that nobody measured do not change that', () => {
  const frames = [frame(1, ['prism-shadow']), frame(2, ['prism-shadow']), frame(3, ['prism-shadow', 'trailing'])];
  const unmeasured = { ...frames[0]!, id: '9', look: null };
  expect(nightFindings([...frames, unmeasured], null)).toEqual({
    measured: 3,
    most: [{ code: 'prism-shadow', frames: 3, of: 3 }],
  });
  expect(nightFindings([unmeasured], 1)).toEqual({ measured: 0, most: [] });
});
