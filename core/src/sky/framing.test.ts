import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { angleDeg, direction } from './ephemeris.ts';
import { panelsOf, positionAngle, skyPlace } from './framing.ts';

const centre = fc.record({
  raDeg: fc.double({ min: 0, max: 359.99, noNaN: true }),
  decDeg: fc.double({ min: -88, max: 88, noNaN: true }),
});
const sensor = { focalLengthMm: 800, sensorMm: { width: 23.5, height: 15.7 } };

describe('the tangent plane', () => {
  test('a place behind a point is as far and in the direction the plane says', () => {
    fc.assert(
      fc.property(
        centre,
        fc.double({ min: 0, max: 359, noNaN: true }),
        fc.double({ min: 0.5, max: 60, noNaN: true }),
        (c, pa, r) => {
          const p = skyPlace(c, r * Math.sin((pa * Math.PI) / 180), r * Math.cos((pa * Math.PI) / 180), 800);
          const apart = angleDeg(direction(p.raDeg, p.decDeg), direction(c.raDeg, c.decDeg));
          expect(apart).toBeCloseTo((Math.atan(r / 800) * 180) / Math.PI, 8);
          expect(Math.abs(((positionAngle(c, p) - pa + 540) % 360) - 180)).toBeLessThan(1e-6);
        },
      ),
      { seed: 51 },
    );
  });
});

describe('mosaics', () => {
  test('one panel is the framing itself', () => {
    fc.assert(
      fc.property(centre, fc.double({ min: 0, max: 359, noNaN: true }), (c, angle) => {
        const [p] = panelsOf({ ...c, angleDeg: angle, ...sensor, columns: 1, rows: 1, overlap: 0.1 });
        expect(angleDeg(direction(p!.raDeg, p!.decDeg), direction(c.raDeg, c.decDeg))).toBeLessThan(1e-6);
        expect(p!.angleDeg).toBeCloseTo(angle, 9);
      }),
      { seed: 52 },
    );
  });
  test('neighbours overlap by the share asked for, east is left while the top is north', () => {
    const [a, b] = panelsOf({ raDeg: 100, decDeg: 0, angleDeg: 0, ...sensor, columns: 2, rows: 1, overlap: 0.2 });
    expect(a!.raDeg).toBeGreaterThan(b!.raDeg);
    const apart = angleDeg(direction(a!.raDeg, a!.decDeg), direction(b!.raDeg, b!.decDeg));
    expect(apart).toBeCloseTo((2 * Math.atan((0.8 * 23.5) / 2 / 800) * 180) / Math.PI, 9);
    const [up, down] = panelsOf({ raDeg: 100, decDeg: 40, angleDeg: 0, ...sensor, columns: 1, rows: 2, overlap: 0.1 });
    expect(up!.decDeg).toBeGreaterThan(down!.decDeg);
  });
  test('turned by half a turn the same fields come in the opposite order', () => {
    const of = (angle: number) =>
      panelsOf({ raDeg: 210, decDeg: 54, angleDeg: angle, ...sensor, columns: 3, rows: 2, overlap: 0.15 });
    const [one, other] = [of(20), of(200).reverse()];
    one.forEach((p, i) => {
      expect(angleDeg(direction(p.raDeg, p.decDeg), direction(other[i]!.raDeg, other[i]!.decDeg))).toBeLessThan(1e-6);
      expect(Math.abs(((p.angleDeg - other[i]!.angleDeg + 540) % 360) - 180)).toBeCloseTo(180, 4);
    });
  });
  test('far north each panel takes its own angle', () => {
    const panels = panelsOf({ raDeg: 30, decDeg: 85, angleDeg: 0, ...sensor, columns: 2, rows: 1, overlap: 0 });
    expect(Math.abs(((panels[0]!.angleDeg - panels[1]!.angleDeg + 540) % 360) - 180)).toBeGreaterThan(5);
  });
});
