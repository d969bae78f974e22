import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { RIGS } from '../../../demo/src/rigs.ts';
import { InvalidInput } from '../calculation/index.ts';
import { panelsOf, skyPlace, starsOf, type Panel } from '../sky/index.ts';
import { candidatesAt, nearestLit, onlyUsable } from './candidates.ts';
import { afterFlip } from './afterFlip.ts';
import { frame, framingVerdict, nearestAngle, ringOf, starsIn, windowPa } from './framing.ts';
import { exposureFor, limit, saturationMag, signalOf, WELL_SHARE } from './limit.ts';
import { guideViewOf, type OffAxisView } from './ofRig.ts';
import { longerWayPx } from './limit.ts';
import { answerOf, calibrationPlace } from './place.ts';
import { project } from '../sky/index.ts';

const rig = (key: string) => structuredClone(RIGS.find((r) => r.key === key)!.setup);
const sky = { skyMagArcsec2: 20.6 };
const view = guideViewOf(rig('astrograph'), sky) as OffAxisView;
const centre = { raDeg: 120, decDeg: 20 };
const panel = (angleDeg: number): Panel[] => [{ column: 0, row: 0, ...centre, angleDeg, acrossMm: 0, upMm: 0 }];
/** A star that stands in the middle of the window when the camera is at an angle. */
function starAt(angleDeg: number, mag: number, by = 0, v = view) {
  const pa = ((angleDeg + v.offsetDeg) * Math.PI) / 180;
  const r = v.window.centreRadiusMm + by;
  return { ...skyPlace(centre, r * Math.sin(pa), r * Math.cos(pa), v.window.focalLengthMm), mag };
}
const criteria = { exposureS: 2, snr: 20 };

describe('a framing with its guide star', () => {
  const stars = starsOf([starAt(40, 10.5)]);
  test('the ring is lit about the angle of the star, and the verdict says how far to turn', () => {
    const ring = ringOf(frame(view, criteria, stars, panel(0), 0), 'camera', 0);
    expect(ring[40]!.lit).toBe(true);
    expect(ring[130]!.lit).toBe(false);
    const off = frame(view, criteria, stars, panel(52), 52);
    const { verdict, turnTo } = framingVerdict(off, 'camera', 52, 0, ringOf(off, 'camera', 52));
    expect(verdict.level).toBe('caution');
    expect(turnTo!.offDeg).toBeLessThan(0);
    const turned = frame(view, criteria, stars, panel(turnTo!.angleDeg), turnTo!.angleDeg);
    expect(starsIn(turned, 0, 0)[0]!.usable).toBe(true);
    expect(framingVerdict(turned, 'camera', turnTo!.angleDeg, 0, []).verdict.level).toBe('good');
  });
  test('with the framing kept, turning the guider finds the same star, where the prism stays out of the light', () => {
    const out = rig('astrograph');
    out.offAxis!.prism.innerEdgeMm = 22;
    const far = guideViewOf(out, sky) as OffAxisView;
    const kept = frame(far, criteria, starsOf([starAt(40, 10.5, 0, far)]), panel(10), 10);
    const near = nearestAngle(ringOf(kept, 'guider', 10), 0)!;
    expect(starsIn(kept, 0, near.angleDeg)[0]!.mag).toBeCloseTo(10.5, 2);
    expect(windowPa(far, 10, near.angleDeg)).toBeCloseTo(windowPa(far, (10 + near.angleDeg) % 360, 0), 9);
    // at 9 mm the prism shades as it is bolted, and more when it comes to the corner
    expect(view.shadesNow).toBe(true);
    expect(ringOf(frame(view, criteria, stars, panel(10), 10), 'guider', 10)[30]!.barred).toBe(true);
    expect(framingVerdict(frame(view, criteria, stars, panel(10), 10), 'guider', 10, 30, []).verdict.text).toContain(
      'light',
    );
  });
  test('a neighbour, a flood of light and a faint star each bar it, and say so', () => {
    const of = (list: { raDeg: number; decDeg: number; mag: number }[]) => {
      const f = frame(view, criteria, starsOf(list), panel(40), 40);
      return {
        best: starsIn(f, 0, 0)[0]!,
        text: framingVerdict(f, 'camera', 40, 0, ringOf(f, 'camera', 40)).verdict.text,
      };
    };
    const pair = of([starAt(40, 10.5), starAt(40, 11, 0.03)]);
    expect([pair.best.usable, pair.best.blendArcsec !== null]).toEqual([false, true]);
    expect(pair.text).toContain('neighbour');
    expect(of([starAt(40, 4)]).text).toContain('fills its well');
    const faint = of([starAt(40, 16.2)]);
    expect(faint.best.snr).toBeLessThan(20);
    expect(faint.text).toContain('expose the guider');
    expect(of([]).text).toContain('No star stands in the guide window');
  });
  test('every panel of a mosaic needs its star', () => {
    const f = rig('astrograph').focalLengthMm;
    const panels = panelsOf({
      ...centre,
      angleDeg: 40,
      focalLengthMm: f,
      sensorMm: { width: 23.5, height: 15.7 },
      columns: 2,
      rows: 1,
      overlap: 0.1,
    });
    const mosaic = frame(view, criteria, stars, panels, 40);
    expect(framingVerdict(mosaic, 'camera', 40, 0, ringOf(mosaic, 'camera', 40)).verdict.text).toMatch(/of 2 panels/);
    expect(ringOf(mosaic, 'camera', 40).every((s) => !s.lit)).toBe(true);
  });
  test('the sweep for neighbours agrees with the plain search', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(fc.integer({ min: 0, max: 200 }), fc.integer({ min: 0, max: 200 }), fc.integer({ min: 6, max: 13 })),
          { minLength: 1, maxLength: 60 },
        ),
        (list) => {
          const s = starsOf(list.map(([x, y, mag]) => ({ raDeg: 120 + x / 3600, decDeg: 20 + y / 3600, mag })));
          const placed = project(s, centre, 1000);
          const swept = onlyUsable(s, placed, 0.05, { brightest: 0, faintest: 20 });
          const got = new Set(swept.index.subarray(0, swept.length));
          const plain = new Set(
            list
              .map((_, i) => i)
              .filter((i) =>
                list.every(
                  (_b, j) =>
                    j === i ||
                    Math.hypot(placed.eastMm[i]! - placed.eastMm[j]!, placed.northMm[i]! - placed.northMm[j]!) > 0.05 ||
                    s.mag[j]! > s.mag[i]! + 2.5,
                ),
              ),
          );
          expect([...got].sort()).toEqual([...plain].sort());
        },
      ),
      { seed: 31 },
    );
  });
  test('a guide scope sees a wide field; a rig without either sees none', () => {
    const scope = guideViewOf(rig('refractor'), sky)!;
    expect(scope.kind).toBe('guide-scope');
    expect(scope.assumed).toEqual([]);
    const bare = rig('refractor');
    delete bare.guideScope;
    expect(guideViewOf(bare, sky)).toBeNull();
    const unknown = rig('refractor');
    unknown.guideScope = { focalLengthMm: 240, pixelUm: 2.9, flexureArcsecPerMin: 0 };
    expect(guideViewOf(unknown, sky)!.assumed.length).toBeGreaterThan(3);
  });
  test('what was seen under the sky goes before the drawing', () => {
    const seen = rig('astrograph');
    seen.offAxis!.windowPaDeg = 180;
    const got = guideViewOf(seen, sky) as OffAxisView;
    expect([got.offsetDeg, got.checked]).toEqual([180, true]);
  });
});

describe('signal', () => {
  const optics = view.optics;
  test('the limit is the magnitude at which the signal is just what was wanted', () => {
    for (const exposureS of [0.5, 2, 6]) {
      const { limitingMag } = limit({ ...optics, exposureS, snr: 20 });
      expect(signalOf(optics, limitingMag, exposureS).snr).toBeCloseTo(20, 6);
    }
  });
  test('at the saturation magnitude the brightest pixel is just full', () => {
    const mag = saturationMag(optics, 2, 12_000);
    expect(signalOf(optics, mag, 2).peakElectrons).toBeCloseTo(WELL_SHARE * 12_000, 3);
  });
  test('the advised exposure is enough and not too much where that is possible', () => {
    fc.assert(
      fc.property(fc.double({ min: 4, max: 16, noNaN: true }), (mag) => {
        const got = exposureFor(optics, mag, 20, 14_600);
        const s = signalOf(optics, mag, got.exposureS);
        expect(got.enough).toBe(s.snr >= 20);
        if (got.saturated) expect(got.exposureS).toBe(0.5);
      }),
      { seed: 32 },
    );
    expect(exposureFor(optics, 11, 20, 14_600).exposureS).toBe(2);
    expect(() => signalOf({ ...optics, obstructionMm: 300 }, 10, 2)).toThrow(InvalidInput);
  });
  test('the nearest lit angle goes the short way round', () => {
    expect(nearestLit((k) => k === 350, 360, 1, 5)).toEqual({ angleDeg: 350, offDeg: -15 });
    expect(nearestLit(() => false, 360, 1, 5)).toBeNull();
  });
  test('stars come usable first, then by signal', () => {
    const stars = starsOf([starAt(0, 5), starAt(0, 12, 0.8), starAt(0, 11, -0.8)]);
    const got = candidatesAt(view.window, view.offsetDeg, stars, project(stars, centre, view.window.focalLengthMm), {
      optics,
      ...criteria,
      fullWellE: 14_600,
    });
    expect(got.map((c) => Math.round(c.mag))).toEqual([11, 12, 5]);
  });
});

describe('calibrating', () => {
  const site = (latitudeDeg: number) => ({
    latitudeDeg,
    longitudeDeg: 15,
    elevationM: 300,
    timeZone: 'UTC',
    horizon: [],
  });
  test('the place is near the equator, off the meridian on the side asked for, and as high as latitude allows', () => {
    const time = '2026-11-24T20:00:00Z';
    const east = calibrationPlace(site(47), time, 'east');
    const west = calibrationPlace(site(47), time, 'west');
    expect(east.decDeg).toBe(0);
    // hour angle 12° at latitude 47°: sin h = cos φ cos H
    const altitude = (Math.asin(Math.cos((47 * Math.PI) / 180) * Math.cos((12 * Math.PI) / 180)) * 180) / Math.PI;
    expect(Math.abs(east.altitudeDeg - altitude)).toBeLessThan(0.3);
    expect(east.azimuthDeg).toBeLessThan(180);
    expect(west.azimuthDeg).toBeGreaterThan(180);
    const polar = calibrationPlace(site(68), time, 'east');
    expect(polar.decDeg).toBeGreaterThan(5);
    expect(calibrationPlace(site(-30), time, 'west').decDeg).toBe(0);
    expect(calibrationPlace(site(85), time, 'east').good).toBe(false);
  });
  test('a calibration that sends the star less far than seeing blurs it asks for a longer way', () => {
    // by hand: eight widths of 2″ are 16″, at 2″ a pixel 8 px, in fives 10
    expect(longerWayPx({ travelArcsec: 15.9, scaleArcsecPerPx: 2 }, 2)).toBe(10);
    expect(longerWayPx({ travelArcsec: 16, scaleArcsecPerPx: 2 }, 2)).toBeNull();
  });
  test('a spot that does not move is called a hot pixel; one that does, a star', () => {
    expect(answerOf(3000, 0.5, 2.5, 0.4).verdict.level).toBe('bad');
    expect(answerOf(3000, 0.5, 2.5, null).expectedPx).toBeCloseTo(9.02, 2);
    expect(answerOf(3000, 0.5, 2.5, 9).verdict.level).toBe('good');
    expect(answerOf(3000, 0.5, 2.5, 5).verdict.level).toBe('caution');
  });
});

describe('the other side of the meridian', () => {
  const at = (angleDeg: number, stars: Parameters<typeof starsOf>[0]) => {
    const f = frame(view, criteria, starsOf(stars), panel(angleDeg), angleDeg);
    return afterFlip(f, 'camera', angleDeg, 0, ringOf(f, 'camera', angleDeg))!;
  };
  test('one star alone is lost with the flip, and no angle has one on both sides', () => {
    const got = at(40, [starAt(40, 10.5)]);
    expect(got.verdict).toMatchObject({ level: 'caution' });
    expect(got.verdict.text).toContain('end the leg at the meridian');
    expect(got.turnTo).toBeNull();
  });
  test('a star opposite is found, and told', () => {
    const got = at(40, [starAt(40, 10.5), starAt(220, 9.5)]);
    expect(got.verdict).toMatchObject({ level: 'good' });
    expect(got.verdict.text).toContain('magnitude 9.5');
    expect(got.turnTo).toBeNull();
  });
  test('where the opposite star stands a little aside, the angle with both is named', () => {
    const got = at(40, [starAt(40, 10.5), starAt(43, 10.4), starAt(225, 9.5)]);
    if (got.turnTo) expect(Math.abs(got.turnTo.offDeg)).toBeLessThan(15);
    expect(['good', 'caution']).toContain(got.verdict.level);
  });
  test('agrees with a camera that is turned by half a turn by hand, over random skies', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 359 }),
        fc.array(fc.tuple(fc.integer({ min: 0, max: 359 }), fc.double({ min: 8, max: 12, noNaN: true })), {
          minLength: 1,
          maxLength: 12,
        }),
        (angle, list) => {
          const stars = list.map(([a, mag]) => starAt(a, mag));
          const there = (deg: number) =>
            starsIn(frame(view, criteria, starsOf(stars), panel(deg % 360), deg % 360), 0, 0).some((c) => c.usable);
          const got = at(angle, stars);
          expect(got.verdict.level).toBe(there(angle + 180) ? 'good' : 'caution');
          if (got.turnTo) expect([there(got.turnTo.angleDeg), there(got.turnTo.angleDeg + 180)]).toEqual([true, true]);
          else if (got.verdict.level === 'caution')
            expect(
              Array.from({ length: 360 }, (_, d) => there(d) && there(d + 180)).filter(Boolean).length,
            ).toBeLessThan(2);
        },
      ),
      { numRuns: 40 },
    );
  });
  test('a guide scope sees the same field upside down', () => {
    const scope = guideViewOf(rig('refractor'), sky)!;
    expect(scope.kind).toBe('guide-scope');
    const f = frame(scope, criteria, starsOf([{ ...centre, mag: 9 }]), panel(0), 0);
    expect(afterFlip(f, 'camera', 0, 0, [])).toBeNull();
  });
});
