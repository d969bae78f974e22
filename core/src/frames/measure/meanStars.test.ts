import { describe, expect, test } from '@jest/globals';
import { writeFits16 } from '../../exchange/index.ts';
import { healthyScene } from '../../test/faultyFrames.ts';
import { mean } from '../../statistics/index.ts';
import { renderCounts, type Scene } from '../index.ts';
import { lookAtPicture } from './measure.ts';
import { meanStars } from './meanStars.ts';
import { heightOf, type SmallPicture } from './smallPictures.ts';

const drawn = (scene: Scene) =>
  lookAtPicture(writeFits16(renderCounts(scene), scene.widthPx, scene.heightPx, [])).stars;
/** Second moments of the brighter part about its own centre, in pixels of the drawing, x to the right and y up. */
function shape({ widthPx, heightPx, tones }: SmallPicture) {
  const light = [...tones].map((t, i) => ({
    x: i % widthPx,
    y: heightPx - 1 - Math.floor(i / widthPx),
    v: Math.max(0, heightOf(t) - 6),
  }));
  const sum = light.reduce((s, l) => s + l.v, 0);
  const [x, y] = [light.reduce((s, l) => s + l.v * l.x, 0) / sum, light.reduce((s, l) => s + l.v * l.y, 0) / sum];
  const of = (f: (dx: number, dy: number) => number) => light.reduce((s, l) => s + l.v * f(l.x - x, l.y - y), 0) / sum;
  const [xx, xy, yy] = [of((a) => a * a), of((a, b) => a * b), of((_, b) => b * b)];
  const [mean, off] = [(xx + yy) / 2, Math.hypot((xx - yy) / 2, xy)];
  return {
    ratio: Math.sqrt((mean + off) / (mean - off)),
    angleDeg: ((Math.atan2(2 * xy, xx - yy) * 90) / Math.PI + 180) % 180,
  };
}

describe('the mean star', () => {
  test('of a healthy field is round in every cell, brightest in its middle', () => {
    const nine = drawn({ ...healthyScene(30), guiding: undefined });
    expect(nine).toHaveLength(9);
    for (const star of nine) {
      expect(shape(star).ratio).toBeLessThan(1.15);
      // tones are coarse: several places are the brightest
      const most = Math.max(...star.tones);
      const top = [...star.tones].flatMap((t, i) =>
        t === most ? [{ x: i % star.widthPx, y: Math.floor(i / star.widthPx) }] : [],
      );
      expect(Math.hypot(mean(top.map((t) => t.x)) - 20, mean(top.map((t) => t.y)) - 20)).toBeLessThan(1.5);
    }
  });
  test.each([25, 120])('of a field that drifted at %i° is drawn out that way, the right way up', (angleDeg) => {
    for (const star of drawn({ ...healthyScene(31), guiding: undefined, drift: { lengthPx: 6, angleDeg } })) {
      expect(shape(star).ratio).toBeGreaterThan(1.25);
      expect(Math.abs(((shape(star).angleDeg - angleDeg + 270) % 180) - 90)).toBeLessThan(12);
    }
  });
  test('lies in the cell where its stars lie, from the top left; cells without any are black', () => {
    const values = new Float32Array(90 * 60);
    // one star low at the right
    for (let y = 0; y < 60; y++)
      for (let x = 0; x < 90; x++) values[y * 90 + x] = 100 * Math.exp(-((x - 74) ** 2 + (y - 12) ** 2) / 4);
    const nine = meanStars(values, 90, 60, [{ x: 74, y: 12 }], 3);
    expect(nine.map((s) => Math.max(...s.tones) > 0)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8].map((i) => i === 8));
    // at the edge its surroundings are not all there
    expect(meanStars(values, 90, 60, [{ x: 88, y: 12 }], 3).every((s) => Math.max(...s.tones) === 0)).toBe(true);
  });
});
