import { describe, expect, test } from '@jest/globals';
import { InvalidInput } from '../../calculation/index.ts';
import { writeFits16, type WrittenCard } from '../../exchange/index.ts';
import { median, weightedFit } from '../../statistics/index.ts';
import { healthyScene, withFaults } from '../../test/faultyFrames.ts';
import { inventedStars, renderCounts, type Scene } from '../index.ts';
import { diagnose, JudgedPicture } from './diagnose.ts';
import { lookAtPicture, measurePicture, type MeasureOutput } from './measure.ts';
import { heightOf, toneOf } from './smallPictures.ts';
import { everyNth, rounds } from '../../test/rounds.ts';

const fits = (scene: Scene, cards: WrittenCard[] = []) =>
  writeFits16(renderCounts(scene), scene.widthPx, scene.heightPx, cards);
const look = (scene: Scene, cards: WrittenCard[] = []) => measurePicture(fits(scene, cards));
const codes = (m: MeasureOutput) => diagnose(JudgedPicture.parse(m)).map((f) => f.code);
const plain = (seed: number, more: Partial<Scene> = {}): Scene => ({
  ...healthyScene(seed),
  guiding: undefined,
  vignetting: 0,
  hotPixels: 0,
  ...more,
});
/** Axes of the ellipse at half the peak. */
const axes = (s: { fwhmPx: number | null; eccentricity: number | null }) => {
  const flat = (1 - s.eccentricity! ** 2) ** 0.25;
  return { long: s.fwhmPx! / flat, short: s.fwhmPx! * flat };
};

describe('a picture whose truth is known', () => {
  test.each(everyNth([2.2, 3, 4.5, 6.5], 3))('gives the seeing put in: %f px', (seeingFwhmPx) => {
    const m = look(plain(1, { seeingFwhmPx }));
    // a pixel is a square: it adds its own width
    expect(m.fwhmPx! / Math.hypot(seeingFwhmPx, 0.8)).toBeCloseTo(1, 1);
    expect(Math.abs(m.fwhmPx! / seeingFwhmPx - 1)).toBeLessThan(0.08);
    expect(m.eccentricity!).toBeLessThan(0.3);
  });
  test('gives its sky and noise, and counts its stars', () => {
    const scene = plain(2, { skyElectrons: 900, readNoiseElectrons: 4, electronsPerCount: 0.5, biasCounts: 300 });
    const m = look(scene);
    expect(m.background).toBeCloseTo(300 + 900 / 0.5, -1.5);
    // clipping at 3σ takes a little of the noise
    expect(m.noise / (Math.sqrt(900 + 16) / 0.5)).toBeCloseTo(1, 1);
    // stars near each other run together
    expect(m.stars / scene.stars.length).toBeGreaterThan(0.75);
    expect(m.stars).toBeLessThanOrEqual(scene.stars.length);
  });
  test.each(everyNth([20, 95, 160], 2))('a drift at %i° is found at that angle', (angleDeg) => {
    const m = look(plain(3, { drift: { lengthPx: 5, angleDeg } }));
    expect(Math.abs(m.elongationAngleDeg! - angleDeg)).toBeLessThan(4);
    expect(codes(m)).toEqual(['trailing']);
  });
  test('tilt and spacing come out as put in, to a fifth', () => {
    const tilted = look(plain(4, { tilt: { right: 0.5, top: 0 } }));
    const places = tilted
      .list!.filter((t) => t.fwhmPx !== null)
      .map((t) => ({ rx: (2 * t.x) / (tilted.widthPx - 1) - 1, squared: t.fwhmPx! ** 2 }));
    const fit = weightedFit(
      places.map((p) => [1, p.rx]),
      places.map((p) => p.squared),
      places.map(() => 1),
    )!;
    const growth = fit.coefficients[1]! / fit.coefficients[0]!;
    expect(Math.abs(growth / 0.5 - 1)).toBeLessThan(0.2);
    const spacingPx = 6;
    const spaced = look(plain(5, { spacingPx }));
    const shares = spaced.list!.flatMap((s) => {
      const [rx, ry] = [(2 * s.x) / (spaced.widthPx - 1) - 1, (2 * s.y) / (spaced.heightPx - 1) - 1];
      const far = (rx * rx + ry * ry) / 2;
      if (far < 0.35 || s.fwhmPx === null) return [];
      const { long, short } = axes(s);
      return [Math.sqrt(Math.max(0, long ** 2 - short ** 2)) / far];
    });
    expect(shares.length).toBeGreaterThan(20);
    expect(Math.abs(median(shares) / spacingPx - 1)).toBeLessThan(0.2);
  });
  test.each(everyNth([0.7, 0.9, -0.8], 2))(
    'coma that draws light %f seeing widths out of the cores in the corners is found so far out',
    (times) => {
      const scene = plain(16);
      const cornerPx = times * scene.seeingFwhmPx;
      const [found] = diagnose(JudgedPicture.parse(look({ ...scene, coma: { cornerPx } }))).filter(
        (f) => f.code === 'coma',
      );
      expect(found!.phrases[0].code).toBe(times > 0 ? 'frame.coma' : 'frame.coma-inwards');
      // cells lie within the corners and their widths are those of stars less drawn out
      expect(Math.abs((found!.phrases[0].values.awayPx as number) / Math.abs(cornerPx) - 1)).toBeLessThan(0.15);
    },
  );
  test.each(everyNth([10, 200, 290], 2))(
    'a lean of all stars towards %i° is found there, as far as it goes',
    (angleDeg) => {
      const [scene, a] = [plain(17), (angleDeg * Math.PI) / 180];
      const px = 0.6 * scene.seeingFwhmPx;
      const found = diagnose(
        JudgedPicture.parse(look({ ...scene, coma: { everywherePx: { x: px * Math.cos(a), y: px * Math.sin(a) } } })),
      ).find((f) => f.code === 'one-sided')!;
      const { awayPx, towardsDeg } = found.phrases[0].values as { awayPx: number; towardsDeg: number };
      expect(Math.abs(towardsDeg - angleDeg)).toBeLessThan(6);
      expect(Math.abs(awayPx / px - 1)).toBeLessThan(0.15);
    },
  );
  test('where light lies to no side, its error covers what is found, whatever else is wrong', () => {
    const faults = [[], ['trailing'], ['spacing-radial'], ['spacing-tangential'], ['prism-shadow']] as const;
    const pulls = Array.from(
      { length: 12 },
      (_, i) => look(withFaults(healthyScene(700 + i), faults[i % 5]!)).flare!,
    ).flatMap((f) => [f.x / f.error, f.y / f.error, f.outward / f.outwardError]);
    const rms = Math.sqrt(pulls.reduce((s, p) => s + p * p, 0) / pulls.length);
    expect(rms).toBeGreaterThan(0.7);
    expect(rms).toBeLessThan(1.35);
  });
  test('a prism shadow is as deep as its middle third, on that edge alone', () => {
    const m = look(plain(6, { prism: { edge: 'top', depth: 0.2 } }));
    expect(m.edgeDips.top).toBeGreaterThan(0.04);
    expect(Math.max(m.edgeDips.left, m.edgeDips.right, m.edgeDips.bottom)).toBeLessThan(0.02);
  });
  test('vignetting and a gradient are no shadow', () => {
    expect(codes(look({ ...healthyScene(7), vignetting: 0.5 }))).toEqual(['round']);
  });
  test('behind colour cells it is measured in fours, its sizes in pixels of the sensor', () => {
    const scene = plain(8, { seeingFwhmPx: 5 });
    const counts = renderCounts(scene);
    // what each cell of RGGB lets through
    counts.forEach(
      (v, k) =>
        (counts[k] = Math.round(
          v *
            [
              [0.5, 1],
              [1, 0.7],
            ][Math.floor(k / scene.widthPx) % 2]![(k % scene.widthPx) % 2]!,
        )),
    );
    const m = measurePicture(writeFits16(counts, scene.widthPx, scene.heightPx, [['BAYERPAT', 'RGGB']]));
    expect([m.colourCells, m.widthPx]).toEqual([true, scene.widthPx]);
    expect(Math.abs(m.fwhmPx! / 5 - 1)).toBeLessThan(0.08);
    const mono = look(scene).list!;
    const near = m.list!.filter((s) => mono.some((t) => Math.hypot(s.x - t.x, s.y - t.y) < 0.5));
    expect(near.length / m.list!.length).toBeGreaterThan(0.8);
  });
});

describe('what nights bring', () => {
  test('a satellite is a trail and no star, and spoils nothing else', () => {
    const scene = plain(9);
    const m = look({ ...scene, satellite: { from: [20, 40], to: [700, 400], electronsPerPx: 3000 } });
    expect(m.trails).toBe(1);
    expect(codes(m)).toEqual(['round']);
    expect(m.hfdPx! / look(scene).hfdPx!).toBeCloseTo(1, 1);
  });
  test('a nebula in the middle, half as bright as the sky, changes no sizes', () => {
    const scene = plain(10);
    const m = look({
      ...scene,
      nebula: [{ x: 360, y: 240, sigmaPx: 260, peakElectrons: 0.5 * scene.skyElectrons }],
    });
    expect(m.hfdPx! / look(scene).hfdPx!).toBeCloseTo(1, 1);
    expect(codes(m)).toEqual(['round']);
  });
  test('with a handful of stars nothing is said of the corners', () => {
    const scene = plain(11);
    expect(codes(look({ ...scene, stars: scene.stars.slice(0, 6) }))).toEqual(['too-few-stars']);
    const none = look({ ...scene, stars: [] });
    expect([none.stars, none.hfdPx, none.verdict.level]).toEqual([0, null, 'bad']);
  });
  test('a dense cluster is measured by its clean stars', () => {
    const scene = plain(12);
    const middle = inventedStars({ widthPx: 160, heightPx: 160, count: 700, faintestElectrons: 3000, seed: 5 });
    const m = look({ ...scene, stars: [...scene.stars, ...middle.map((s) => ({ ...s, x: s.x + 280, y: s.y + 160 }))] });
    expect(m.stars).toBeGreaterThan(180);
    expect(m.fwhmPx! / look(scene).fwhmPx!).toBeCloseTo(1, 1);
  });
  test('full stars are counted as full and measured nowhere', () => {
    const scene = plain(13, { fullCounts: 16_000 });
    const m = look({ ...scene, stars: scene.stars.map((s, i) => (i % 4 ? s : { ...s, electrons: 3e6 })) });
    expect(m.saturatedFraction).toBeGreaterThan(0.15);
    expect(Math.abs(m.fwhmPx! / scene.seeingFwhmPx - 1)).toBeLessThan(0.08);
  });
  test('hot pixels, hot columns and an amplifier’s glow are no stars', () => {
    const scene = plain(14);
    const m = look({
      ...scene,
      hotPixels: 600,
      hotColumns: 2,
      amplifierGlow: { corner: [1, 1], peakElectrons: 0.15 * scene.skyElectrons },
    });
    const clean = look(scene);
    expect(Math.abs(m.stars - clean.stars)).toBeLessThan(0.1 * clean.stars);
    expect(m.hfdPx! / clean.hfdPx!).toBeCloseTo(1, 1);
    expect(codes(m)).toEqual(['round']);
  });
  test('far out of focus, stars are rings of that width', () => {
    const m = look(plain(15, { defocusPx: 20 }));
    expect(codes(m)).toEqual(['defocus']);
    expect([m.fwhmPx, m.eccentricity]).toEqual([null, null]);
    // by hand: half of the light of a ring from 0.35 to 1 lies within √((1 + 0.35²)/2) of its radius
    expect(m.hfdPx! / (20 * Math.sqrt((1 + 0.35 ** 2) / 2))).toBeCloseTo(1, 1);
  });
  test('a picture of one value is no error', () => {
    const m = measurePicture(writeFits16(new Uint16Array(64 * 64).fill(7), 64, 64, []));
    expect(m).toMatchObject({ stars: 0, noise: 0, hfdPx: null, verdict: { level: 'bad' } });
  });
});

describe('small pictures', () => {
  test('keep the tones of sky and stars, and stand upright', () => {
    for (const z of [-14, -3, 0, 2, 40, 9000])
      expect(Math.abs(heightOf(toneOf(z)) - z)).toBeLessThan(0.2 + 0.05 * Math.abs(z));
    const scene = plain(17, { stars: [] });
    const light = renderCounts({ ...scene, nebula: [{ x: 60, y: 440, sigmaPx: 30, peakElectrons: 20_000 }] });
    const { small, pieces, measure } = lookAtPicture(writeFits16(light, scene.widthPx, scene.heightPx, []));
    expect([small.widthPx, small.heightPx, pieces.length, pieces[0]!.widthPx]).toEqual([144, 96, 9, 96]);
    const brightest = small.tones.indexOf(Math.max(...small.tones));
    // high up in the picture, which is row 440 of 480: near the top, at the left
    expect([brightest % 144, Math.floor(brightest / 144)]).toEqual([expect.closeTo(12, -0.5), expect.closeTo(8, -0.5)]);
    expect(measure.stars).toBeLessThan(3);
    const mean = (t: Uint8Array) => t.reduce((sum, v) => sum + v, 0) / t.length;
    expect(mean(pieces[0]!.tones)).toBeGreaterThan(mean(pieces[8]!.tones));
  });
});

describe('a file', () => {
  const whole = fits(plain(16, { widthPx: 64, heightPx: 64, stars: [] }));
  const refusal = (bytes: Uint8Array) => {
    try {
      measurePicture(bytes);
    } catch (e) {
      if (e instanceof InvalidInput) return e.message;
      throw e;
    }
    return null;
  };
  const changed = (card: string, by: string) => {
    const at = Buffer.from(whole).indexOf(card);
    const bytes = Uint8Array.from(whole);
    bytes.set(new TextEncoder().encode(by.padEnd(80)), at);
    return bytes;
  };
  test('cut short is refused with what it needs and what is there; padding may be missing', () => {
    expect(refusal(whole.subarray(0, 2880 + 5000))).toMatch(
      /cut short: 64 × 64 pixels need 8192 bytes, 5000 are there/,
    );
    expect(refusal(whole.subarray(0, 2880 + 8192))).toBeNull();
    expect(refusal(whole.subarray(0, 400))).toMatch(/no END card/);
    expect(refusal(new TextEncoder().encode('hello'))).toMatch(/not a FITS file/);
  });
  test.each([
    ['BITPIX  =', 'BITPIX  =                   64', /BITPIX is 64/],
    ['NAXIS1  =', 'NAXIS1  =                   16', /16 × 64 pixels; at least 32/],
    ['NAXIS1  =', 'NAXIS1  =            900000000', /million pixels/],
    ['NAXIS   =', 'NAXIS   =                    0', /no picture in this file/],
  ])('whose %s is changed to “%s” says so before anything is set aside', (card, by, message) => {
    expect(refusal(changed(card, by))).toMatch(message);
  });
  test('with more than half its pixels blank is refused', () => {
    const counts = new Uint16Array(64 * 64).fill(500);
    counts.fill(32768, 0, 3000);
    const bytes = writeFits16(counts, 64, 64, [['BLANK', 0]]);
    expect(refusal(bytes)).toMatch(/3000 of 4096 pixels have no value/);
  });
  test('sums to zero as a whole, as its checksums promise', () => {
    const view = new DataView(whole.buffer, whole.byteOffset, whole.byteLength);
    let sum = 0n;
    for (let at = 0; at < whole.length; at += 4) sum += BigInt(view.getUint32(at));
    while (sum >> 32n) sum = (sum & 0xffffffffn) + (sum >> 32n);
    expect(sum).toBe(0xffffffffn);
  });
});

test('findings of drawn faults: each is found, the healthy are left alone', () => {
  const faults = ['prism-shadow', 'defocus', 'trailing', 'spacing-radial', 'spacing-tangential', 'tilt'] as const;
  for (let seed = 0; seed < rounds(6, 12); seed++) {
    const scene = healthyScene(300 + seed, 600, 400);
    const fault = faults[seed % faults.length]!;
    expect([seed, codes(look(withFaults(scene, [fault])))]).toEqual([seed, expect.arrayContaining([fault])]);
    expect([seed, codes(look(scene))]).toEqual([seed, ['round']]);
  }
});
