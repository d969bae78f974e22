import { describe, expect, test } from '@jest/globals';
import { RIGS } from '@keen/demo';
import { commonScale, draw, extentOf, heavyWords } from './elevation.ts';

const SIDE = 560;
const REAR = 330;
const HEIGHT = 330;
const CHAR = 6.3;
const massText = (kg: number) => `${(kg / 0.45359237).toFixed(2)} lb`;

describe.each(RIGS.map((r) => [r.name, r.setup] as const))('the drawing of the %s', (_name, setup) => {
  const scale = commonScale(setup, SIDE, REAR, HEIGHT, massText);
  const views = [
    draw(setup, 'side', SIDE, HEIGHT, scale, massText),
    draw(setup, 'rear', REAR, HEIGHT, scale, massText),
  ];

  test('holds every part inside the picture, to one scale', () => {
    for (const d of views) {
      expect(d.boxes).toHaveLength(setup.placed.length);
      for (const b of d.boxes) {
        expect(b.x).toBeGreaterThanOrEqual(0);
        expect(b.x + b.width).toBeLessThanOrEqual(d.width);
        expect(b.y + b.height).toBeLessThanOrEqual(d.height);
      }
    }
    const [side] = views;
    for (const b of side!.boxes) {
      expect(b.x + b.width / 2).toBeCloseTo(side!.originX + b.part.zMm * scale, 6);
      expect(b.y + b.height / 2).toBeCloseTo(side!.originY - b.part.xMm * scale, 6);
    }
  });
  test('keeps labels apart from each other and above the parts', () => {
    for (const d of views) {
      const spans = d.labels.map((l) => ({ y: l.y, from: l.x, to: l.x + l.text.length * CHAR }));
      for (const [i, a] of spans.entries())
        for (const b of spans.slice(i + 1)) if (a.y === b.y) expect(a.to <= b.from || b.to <= a.from).toBe(true);
      const top = Math.min(...d.boxes.map((b) => b.y));
      for (const l of d.labels) expect(l.y).toBeLessThan(top + 1);
    }
  });
  test('both views hang from one line, with room for the weights below', () => {
    expect(views[0]!.originY).toBeCloseTo(views[1]!.originY, 9);
    expect(views[0]!.originY - extentOf(setup).xMin * scale).toBeLessThanOrEqual(HEIGHT);
  });
});

test('which way it is heavy, in words, and nothing below one kilogram-millimetre', () => {
  expect(heavyWords({ x: 500, y: 0, z: 0 })).toBe('even');
  expect(heavyWords({ x: 0, y: 0.9, z: -12 })).toBe('back-heavy');
  expect(heavyWords({ x: 0, y: 5, z: 40 })).toBe('front-heavy, heavy on the right');
});
