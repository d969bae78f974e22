import { describe, expect, test } from '@jest/globals';
import { writeFits16 } from '../../exchange/fitsWrite.ts';
import { healthyScene } from '../../test/faultyFrames.ts';
import { seeded } from '../../statistics/index.ts';
import { measurePicture } from '../measure/measure.ts';
import { renderCounts } from '../render/render.ts';
import { shiftBetween, wanderOf, type StarredFrame } from './wander.ts';
import { rounds } from '../../test/rounds.ts';

const field = (seed: number, n = 80) => {
  const r = seeded(seed);
  return Array.from({ length: n }, () => ({ x: 1000 * r.next(), y: 700 * r.next(), flux: 1000 * r.next() ** 3 + 10 }));
};
/** A frame of the field moved, each star measured to a tenth of a pixel, a few lost and a few false. */
function frame(
  stars: ReturnType<typeof field>,
  at: number,
  dx: number,
  dy: number,
  seed: number,
  noise = 0.1,
): StarredFrame {
  const r = seeded(seed).fork('frame');
  const seen = stars
    .filter(() => r.next() > 0.1)
    .map((s) => ({
      x: s.x + dx + noise * r.normal(),
      y: s.y + dy + noise * r.normal(),
      flux: s.flux * (1 + 0.1 * r.normal()),
    }));
  return {
    startedMs: at * 310_000,
    exposureS: 300,
    stars: [...seen, ...field(seed + 999, 6)].sort((a, b) => b.flux - a.flux),
  };
}

describe('one frame against another', () => {
  test('shifts of any size and direction are given back to a few hundredths, whatever was lost', () => {
    const stars = field(1);
    for (let seed = 1; seed <= rounds(20, 60); seed++) {
      const r = seeded(seed);
      const [dx, dy] = [200 * (r.next() - 0.5), 200 * (r.next() - 0.5)];
      const got = shiftBetween(frame(stars, 0, 0, 0, seed), frame(stars, 1, dx, dy, seed + 500))!;
      expect(Math.hypot(got.x - dx, got.y - dy)).toBeLessThan(0.1);
    }
  });
  test('another field, and one without stars, are not matched', () => {
    expect(shiftBetween(frame(field(2), 0, 0, 0, 1), frame(field(3), 1, 0, 0, 2))).toBeNull();
    expect(shiftBetween(frame(field(2), 0, 0, 0, 1), { startedMs: 1, exposureS: 1, stars: [] })).toBeNull();
  });
  test('drawn and measured pictures give the shift that was drawn', () => {
    const scene = healthyScene(31, 480, 320);
    const measured = (dx: number, dy: number, seed: number): StarredFrame => {
      const s = { ...scene, seed, stars: scene.stars.map((p) => ({ ...p, x: p.x + dx, y: p.y + dy })) };
      return {
        startedMs: 0,
        exposureS: 300,
        stars: measurePicture(writeFits16(renderCounts(s), s.widthPx, s.heightPx, [])).list!,
      };
    };
    const got = shiftBetween(measured(0, 0, 1), measured(7.3, -4.6, 2))!;
    expect(Math.hypot(got.x - 7.3, got.y + 4.6)).toBeLessThan(0.1);
  });
});

describe('how stars wander', () => {
  /** Drift per frame, and a dither after every so many. */
  function night(perFrame: [number, number], ditherEvery: number, seed: number, n = 24): StarredFrame[] {
    const r = seeded(seed).fork('night');
    const stars = field(seed);
    let [x, y] = [0, 0];
    return Array.from({ length: n }, (_, i) => {
      if (i > 0) [x, y] = [x + perFrame[0], y + perFrame[1]];
      if (i > 0 && i % ditherEvery === 0) [x, y] = [x + 8 * r.normal(), y + 8 * r.normal()];
      return frame(stars, i, x, y, 31 * seed + i, 0.15);
    });
  }
  test('a drift under dithers after every second frame is given back within its error, night after night', () => {
    let outside = 0;
    for (let seed = 1; seed <= rounds(20, 60); seed++) {
      const got = wanderOf(night([0.9, -0.5], 2, seed), 1.2)!;
      expect(got.clear).toBe(true);
      const minutes = 310 / 60;
      const off = Math.hypot(got.xPerMin - 0.9 / minutes, got.yPerMin + 0.5 / minutes);
      // two axes: beyond 2.45 σ once in twenty; the scatter is known from about ten pairs only
      if (off > 2.7 * got.errorPerMin) outside++;
      expect(off).toBeLessThan(0.03);
    }
    expect(outside).toBeLessThan(rounds(5, 9));
  });
  test('no drift is called none, and a dither after every frame says nothing', () => {
    let clear = 0;
    for (let seed = 1; seed <= rounds(15, 60); seed++) if (wanderOf(night([0, 0], 3, seed), 1.2)?.clear) clear++;
    expect(clear).toBeLessThanOrEqual(1);
    let told = 0;
    for (let seed = 1; seed <= rounds(15, 60); seed++) if (wanderOf(night([0.9, -0.5], 1, seed), 1.2)) told++;
    expect(told).toBeLessThanOrEqual(2);
  });
  test('of a thousand stars a frame sixty are compared', () => {
    const stars = field(5, 900);
    const many = Array.from({ length: 60 }, (_, i) => frame(stars, i, 0.4 * i, 0, i + 1));
    expect(wanderOf(many, 1.2)!.clear).toBe(true);
    expect(shiftBetween(many[0]!, many[1]!)!.stars).toBeLessThanOrEqual(60);
  });
  test('frames of another object between two of this one break the pairs, and nothing is made of them', () => {
    const [here, there] = [field(8), field(9)];
    const mixed = Array.from({ length: 16 }, (_, i) => frame(i % 2 ? there : here, i, 0.5 * i, 0, i + 1));
    expect(wanderOf(mixed, 1.2)).toBeNull();
  });
  test('too few frames say nothing', () => expect(wanderOf(night([1, 0], 5, 4, 4), 1)).toBeNull());
});
