import { describe, expect, test } from '@jest/globals';
import { edgeDips } from '../frames/index.ts';
import { prism, prismMoveFor, shadowMap, type PrismOutput } from './index.ts';

const input = {
  sensor: { widthMm: 23.5, heightMm: 15.7 },
  imageCircleMm: 44,
  focalRatio: 6,
  focalLengthMm: 720,
  prism: { widthMm: 8, depthMm: 8, angleDeg: 90, innerEdgeMm: 12 },
  prismToSensorMm: 55,
  guideSensor: { widthMm: 4.8, heightMm: 3.6 },
};
const worst = (light: Float32Array, w: number, h: number) => Math.max(...Object.values(edgeDips(light, w, h, 0)));
/** A frame’s worth of light with the prism so far in, on a finer net than the search looks at. */
function dipAt(outMm: number, more: object = {}) {
  const of = { ...input, ...more };
  const { clearInnerEdgeMm } = prism(of) as PrismOutput;
  const map = shadowMap({ ...of, prism: { ...of.prism, innerEdgeMm: clearInnerEdgeMm - outMm } }, 360, 240);
  return worst(
    map.map((b) => 1 - b),
    360,
    240,
  );
}

describe('how far out a prism has to come', () => {
  test.each([1.5, 2.5, 4])('one that stands %s mm in the light is told so by the dip it makes', (outMm) => {
    const dip = dipAt(outMm);
    expect(dip).toBeGreaterThan(0.005);
    expect(Math.abs(prismMoveFor(input, dip, worst)! - outMm)).toBeLessThan(0.25);
  });
  test('a faster cone dips softer: the same dip is a longer way', () => {
    const slow = prismMoveFor(input, 0.1, worst)!;
    const fast = prismMoveFor({ ...input, focalRatio: 3 }, 0.1, worst)!;
    expect(fast).toBeGreaterThan(slow);
  });
  test('where the rig says the prism stands makes no difference; no place darkens an edge wholly', () => {
    const elsewhere = { ...input, prism: { ...input.prism, innerEdgeMm: 30 } };
    expect(prismMoveFor(elsewhere, 0.1, worst)).toBeCloseTo(prismMoveFor(input, 0.1, worst)!, 6);
    expect(prismMoveFor(input, 1.5, worst)).toBeNull();
  });
});
