import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { InvalidInput, parseInput } from '../calculation/index.ts';
import { seeded } from '../statistics/index.ts';
import { adapters, AdaptersInput } from './adapters.ts';
import { backfocus, BackfocusInput } from './backfocus.ts';
import { configurations, ConfigurationsInput } from './configurations.ts';
import { focusTravel, FocusTravelInput, reducer, ReducerInput } from './optics.ts';
import { isClearAt, prism, PrismInput } from './prism.ts';
import { blockedFraction, diskRectangleArea } from './shadow.ts';
import { tiltsUnseen } from './ofRig.ts';
import { spacers, SpacersInput } from './spacers.ts';

describe('stacks people build, checked by addition (common practice, no source)', () => {
  test.each([
    [55, [12.5, 20, 17.5, 5]],
    [105, [25.3, 29, 12.5, 11.55, 20, 6.5]],
    [133, [50, 4.5, 29, 12.5, 20, 2, 5, 12.5]],
    [133.35, [50, 3.3, 29, 12.5, 21, 17.5]],
  ])('%d mm', (requiredMm, lengths) => {
    const parts = lengths.map((lengthMm, i) => ({ name: `piece ${i}`, lengthMm }));
    const got = backfocus(parseInput(BackfocusInput, { requiredMm, parts, toleranceMm: 2.5 }));
    expect(got.mechanicalMm).toBeCloseTo(
      lengths.reduce((s, v) => s + v, 0),
      9,
    );
    expect(got.state).toBe('within');
    expect(got.residualMm).toBeCloseTo(got.mechanicalMm - requiredMm, 9);
  });
  test('a limit met exactly counts as met, whatever plain floats make of it', () => {
    const parts = [{ name: 'a', lengthMm: 55.3 }];
    expect(backfocus(parseInput(BackfocusInput, { requiredMm: 55, toleranceMm: 0.3, parts })).state).toBe('within');
  });
  test('three millimetres of glass ask for about one more', () => {
    const parts = [{ name: 'wheel', lengthMm: 56, glass: { thicknessMm: 3 } }];
    const got = backfocus(parseInput(BackfocusInput, { requiredMm: 55, toleranceMm: 0.1, parts }));
    expect(got.glassShiftMm).toBeCloseTo(3 * (1 - 1 / 1.52), 9);
    expect(got.state).toBe('within');
  });
});

describe('spacers', () => {
  const drawer = fc.array(
    fc.record({ um: fc.integer({ min: 50, max: 25_000 }), count: fc.integer({ min: 0, max: 3 }) }),
    { minLength: 1, maxLength: 6 },
  );
  test('every stack is within stock and tolerance, and equals what trying everything finds', () => {
    fc.assert(
      fc.property(
        drawer,
        fc.integer({ min: 0, max: 50_000 }),
        fc.integer({ min: 1, max: 4 }),
        (stock, gapUm, maxPieces) => {
          const entries = stock.map((s, i) => ({ id: `s${i}`, lengthMm: s.um / 1000, count: s.count }));
          const got = spacers(
            parseInput(SpacersInput, { gapMm: gapUm / 1000, toleranceMm: 0.8, stock: entries, maxPieces, limit: 200 }),
          );
          for (const s of got.solutions) {
            expect(Math.abs(s.errorMm)).toBeLessThanOrEqual(0.8 + 1e-9);
            expect(s.pieceCount).toBeLessThanOrEqual(maxPieces);
            for (const p of s.pieces) expect(p.count).toBeLessThanOrEqual(entries.find((e) => e.id === p.id)!.count);
          }
          // plain enumeration
          let within = 0;
          let nearest = Infinity;
          const count = (i: number, pieces: number, um: number) => {
            if (i === stock.length) {
              const miss = Math.abs(um - gapUm);
              nearest = Math.min(nearest, miss);
              if (miss <= 800) within++;
              return;
            }
            for (let n = 0; n <= Math.min(stock[i]!.count, maxPieces - pieces); n++)
              count(i + 1, pieces + n, um + n * stock[i]!.um);
          };
          count(0, 0, 0);
          expect(got.solutions.length).toBe(Math.min(200, within));
          expect(Math.round(Math.abs(got.nearest.errorMm) * 1000)).toBe(nearest);
        },
      ),
      { seed: 41, numRuns: 80 },
    );
  });
});

describe('adapters', () => {
  const thread = fc.record({
    size: fc.constantFrom('M42x0.75', 'M48x0.75', 'M54x0.75'),
    gender: fc.constantFrom('male' as const, 'female' as const),
  });
  test('in every chain each face meets its mate, and no adapter serves twice', () => {
    fc.assert(
      fc.property(
        thread,
        thread,
        fc.array(fc.record({ a: thread, b: thread, lengthMm: fc.integer({ min: 0, max: 20 }) }), { maxLength: 6 }),
        (from, to, list) => {
          const stock = list.map((s, i) => ({ id: `a${i}`, ...s }));
          const { chains } = adapters(parseInput(AdaptersInput, { from, to, stock, maxPieces: 3 }));
          for (const c of chains) {
            expect(new Set(c.ids).size).toBe(c.ids.length);
            let faces = [from];
            for (const id of c.ids) {
              const s = stock.find((x) => x.id === id)!;
              const meets = (x: typeof from, y: typeof from) => x.size === y.size && x.gender !== y.gender;
              faces = faces.flatMap((f) => [...(meets(f, s.a) ? [s.b] : []), ...(meets(f, s.b) ? [s.a] : [])]);
            }
            expect(faces.some((f) => f.size === to.size && f.gender !== to.gender)).toBe(true);
          }
          for (let i = 1; i < chains.length; i++)
            expect(chains[i]!.ids.length).toBeGreaterThanOrEqual(chains[i - 1]!.ids.length);
        },
      ),
      { seed: 42 },
    );
  });
});

describe('the prism’s shadow', () => {
  test('area of a disk in a rectangle agrees with counting points', () => {
    const r = seeded(5);
    for (let n = 0; n < 30; n++) {
      const radius = 1 + 3 * r.next();
      const [x0, y0] = [8 * r.next() - 6, 8 * r.next() - 6];
      const [x1, y1] = [x0 + 6 * r.next(), y0 + 6 * r.next()];
      let inside = 0;
      const N = 400;
      for (let i = 0; i < N; i++)
        for (let j = 0; j < N; j++) {
          const [x, y] = [radius * ((2 * (i + 0.5)) / N - 1), radius * ((2 * (j + 0.5)) / N - 1)];
          if (x * x + y * y <= radius * radius && x >= x0 && x <= x1 && y >= y0 && y <= y1) inside++;
        }
      expect(
        Math.abs(diskRectangleArea(radius, x0, x1, y0, y1) - (inside * 4 * radius * radius) / (N * N)),
      ).toBeLessThan(0.06 * radius);
    }
  });
  const rig = fc.record({
    angle: fc.double({ min: 0, max: 360, noNaN: true }),
    ratio: fc.double({ min: 3, max: 10, noNaN: true }),
    path: fc.double({ min: 20, max: 80, noNaN: true }),
    depth: fc.double({ min: 4, max: 14, noNaN: true }),
  });
  const input = (r: { angle: number; ratio: number; path: number; depth: number }, innerEdgeMm: number) =>
    parseInput(PrismInput, {
      sensor: { widthMm: 23.5, heightMm: 15.7 },
      imageCircleMm: 44,
      focalRatio: r.ratio,
      focalLengthMm: 800,
      prism: { widthMm: 9, depthMm: r.depth, angleDeg: r.angle, innerEdgeMm },
      prismToSensorMm: r.path,
      guideSensor: { widthMm: 5, heightMm: 4 },
    });
  test('there is none beyond the clear edge, and some just inside it', () => {
    fc.assert(
      fc.property(rig, (r) => {
        const clear = prism(input(r, 5)).clearInnerEdgeMm;
        expect(prism(input(r, clear + 1e-3)).maxShading).toBe(0);
        if (clear > 0.2) expect(prism(input(r, clear - 0.1)).maxShading).toBeGreaterThan(0);
      }),
      { seed: 43, numRuns: 40 },
    );
  });
  test('half a turn of the prism gives the same shadow', () => {
    const one = prism(input({ angle: 30, ratio: 5, path: 50, depth: 8 }, 7));
    const other = prism(input({ angle: 210, ratio: 5, path: 50, depth: 8 }, 7));
    expect(other.maxShading).toBeCloseTo(one.maxShading, 6);
    expect(other.shadedAreaFraction).toBeCloseTo(one.shadedAreaFraction, 6);
    expect(blockedFraction({ x: 0, y: 0 }, 2, { angle: 0, innerEdge: -5, depth: 10, width: 10 })).toBeCloseTo(1, 9);
  });
  test('an exit pupil nearer than the prism is refused', () => {
    expect(() =>
      parseInput(PrismInput, { ...input({ angle: 0, ratio: 5, path: 50, depth: 8 }, 7), exitPupilMm: 40 }),
    ).toThrow(InvalidInput);
  });
});

describe('all configurations together', () => {
  const M54 = { m: { size: 'M54x0.75', gender: 'male' as const }, f: { size: 'M54x0.75', gender: 'female' as const } };
  const stock = [5, 7.5, 10, 15, 20, 2].map((lengthMm) => ({
    id: `ring ${lengthMm}`,
    lengthMm,
    count: lengthMm < 10 ? 2 : 1,
    a: M54.f,
    b: M54.m,
  }));
  const common = [
    { name: 'guider', lengthMm: 29 },
    { name: 'wheel', lengthMm: 20, glass: { thicknessMm: 3 } },
    { name: 'camera', lengthMm: 12.5 },
  ];
  const two = {
    configurations: [
      { name: 'native', requiredMm: 105, toleranceMm: 0.5 },
      { name: 'reduced', requiredMm: 85, toleranceMm: 0.5 },
    ],
    common,
    stock,
  };
  test('every solution fills each configuration, keeps the guide camera in reach and stays within the drawer', () => {
    const guide = { behindPrismMm: 10, minMm: 50, maxMm: 56 };
    const got = configurations(parseInput(ConfigurationsInput, { ...two, guide, limit: 10 }));
    expect(got.solutions.length).toBeGreaterThan(0);
    const length = (ids: string[]) => ids.reduce((s, id) => s + stock.find((x) => x.id === id)!.lengthMm, 0);
    for (const s of got.solutions) {
      for (const [k, c] of s.perConfiguration.entries()) {
        const total = 61.5 + length(s.common) + length(c.pieces);
        expect(Math.abs(total - (two.configurations[k]!.requiredMm + 3 * (1 - 1 / 1.52)))).toBeLessThanOrEqual(0.501);
        const used = [...s.common, ...c.pieces];
        for (const id of new Set(used))
          expect(used.filter((u) => u === id).length).toBeLessThanOrEqual(stock.find((x) => x.id === id)!.count);
      }
      expect(s.guideMm!).toBeGreaterThanOrEqual(50 - 1e-6);
      expect(s.guideMm!).toBeLessThanOrEqual(56 + 1e-6);
    }
  });
  test('what the drawer lacks is said with a length', () => {
    const got = configurations(parseInput(ConfigurationsInput, { ...two, stock: [stock[0]!] }));
    expect(got.solutions).toEqual([]);
    expect(got.buy.length).toBeGreaterThan(0);
    expect(got.verdict.level).toBe('bad');
  });
  test('threads that cannot meet rule a stack out', () => {
    const wrong = stock.map((s) => ({
      ...s,
      a: { size: 'M42x0.75', gender: 'female' as const },
      b: { size: 'M42x0.75', gender: 'male' as const },
    }));
    const faced = [{ ...common[0]!, front: M54.f }, ...common.slice(1)];
    const got = configurations(parseInput(ConfigurationsInput, { ...two, common: faced, stock: wrong }));
    expect(got.solutions).toEqual([]);
  });
});

test('a near object needs f²/(D − f) more: 2.14 mm at 300 m and 800 mm', () => {
  const got = focusTravel(
    parseInput(FocusTravelInput, {
      focalPlaneBehindFocuserMm: 100,
      travelMm: 50,
      stackMm: 70,
      objectDistanceM: 300,
      focalLengthMm: 800,
    }),
  );
  expect(got.nearFocusShiftMm).toBeCloseTo(2.139, 3);
});

test('clear of the light at an angle and place is what the search for the clear place says', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0, max: 359, noNaN: true }),
      fc.double({ min: 2, max: 10, noNaN: true }),
      fc.double({ min: 4, max: 14, noNaN: true }),
      (angleDeg, focalRatio, width) => {
        const input = parseInput(PrismInput, {
          sensor: { widthMm: 23.5, heightMm: 15.7 },
          imageCircleMm: 44,
          focalRatio,
          focalLengthMm: 800,
          prism: { widthMm: width, depthMm: 8, angleDeg, innerEdgeMm: 12 },
          prismToSensorMm: 55,
          guideSensor: { widthMm: 5.6, heightMm: 3.2 },
        });
        const { clearInnerEdgeMm } = prism(input);
        expect(isClearAt(input, angleDeg, clearInnerEdgeMm + 0.01)).toBe(true);
        expect(isClearAt(input, angleDeg, clearInnerEdgeMm - 0.01)).toBe(false);
      },
    ),
    { seed: 81, numRuns: 40 },
  );
});

describe('a prism at the edge of the light', () => {
  const at = (innerEdgeMm: number, more: object = {}) =>
    prism(
      parseInput(PrismInput, {
        focalLengthMm: 600,
        focalRatio: 6,
        imageCircleMm: 60,
        sensor: { widthMm: 23.5, heightMm: 15.7 },
        prism: { widthMm: 12, depthMm: 8, innerEdgeMm, angleDeg: 90 },
        prismToSensorMm: 60,
        guideSensor: { widthMm: 5, heightMm: 4 },
        ...more,
      }),
    );
  test('less shade than can be seen is not called none, and spare is never less than nothing', () => {
    const clear = at(30).clearInnerEdgeMm;
    const touching = [0.02, 0.05, 0.1, 0.2, 0.4, 0.8]
      .map((d) => at(clear - d))
      .filter((p) => p.maxShading > 0 && p.maxShading <= 0.01);
    expect(touching.length).toBeGreaterThan(0);
    for (const p of touching) {
      expect(p.verdict.phrases[0]!.code).toBe('train.prism-touches');
      expect(p.verdict.text).not.toMatch(/No shadow|−\d/);
    }
    expect(at(clear + 0.1).verdict.text).toMatch(/No shadow, 0\.1/);
  });
  test('where no place is both clear and inside the circle, none is named', () => {
    const small = { imageCircleMm: 24 };
    const [shading, outside] = [at(8, small), at(30, small)];
    expect(shading.verdict.phrases[0]!.code).toBe('train.prism-shades-nowhere');
    expect(outside.verdict.phrases[0]!.code).toBe('train.prism-outside-nowhere');
    for (const p of [shading, outside]) {
      expect(p.verdict.text).not.toMatch(/Move it|must come/);
      expect(p.advice.join(' ')).toContain('No place is both free of shadow and inside');
    }
  });
});

test('a reducer at the sensor reduces nothing', () => {
  const got = reducer(
    parseInput(ReducerInput, { designFactor: 0.8, designSpacingMm: 55, spacingMm: 0, focalLengthMm: 800 }),
  );
  expect(got.factor).toBe(1);
});

describe('the search over the drawer against plain enumeration', () => {
  interface Kind {
    id: string;
    lengthMm: number;
    count: number;
    a?: { size: string; gender: 'male' | 'female' };
    b?: { size: string; gender: 'male' | 'female' };
  }
  const meets = (a?: { size: string; gender: string }, b?: { size: string; gender: string }) =>
    !a || !b || (a.size === b.size && a.gender !== b.gender);
  /** Every order and orientation of some pieces between two faces. */
  function joins(pieces: Kind[], from?: Kind['a'], to?: Kind['a']): boolean {
    if (!pieces.length) return meets(from, to);
    return pieces.some((p, i) => {
      const rest = pieces.filter((_, k) => k !== i);
      return [
        [p.a, p.b],
        [p.b, p.a],
      ].some(([front, rear]) => meets(from, front) && joins(rest, !front && !rear ? from : rear, to));
    });
  }
  function stacks(stock: Kind[], most: number): Kind[][] {
    let all: Kind[][] = [[]];
    for (const k of stock)
      all = all.flatMap((s) =>
        Array.from({ length: k.count + 1 }, (_, n) => [...s, ...new Array<Kind>(n).fill(k)]).filter(
          (t) => t.length <= most,
        ),
      );
    return all;
  }
  const lengthOf = (s: Kind[]) => s.reduce((sum, k) => sum + k.lengthMm, 0);
  /** Fewest pieces that serve all configurations, and with them the least error; null when nothing does. */
  function fewest(input: ReturnType<typeof ConfigurationsInput.parse>): { pieces: number; error: number } | null {
    const all = stacks(input.stock as Kind[], input.maxPieces);
    const common = input.common.reduce((s, p) => s + p.lengthMm, 0);
    let best: { pieces: number; error: number } | null = null;
    for (const behind of all) {
      const guideMm = input.guide
        ? input.guide.behindPrismMm +
          input.common.slice(1).reduce((s, p) => s + p.lengthMm, 0) +
          (input.spaceAfter > 0 ? lengthOf(behind) : 0)
        : 0;
      if (input.guide && (guideMm < input.guide.minMm - 1e-6 || guideMm > input.guide.maxMm + 1e-6)) continue;
      const inner = input.spaceAfter > 0 ? input.common[input.spaceAfter - 1]?.rear : undefined;
      if (!joins(behind, inner, input.common[input.spaceAfter]?.front)) continue;
      let [pieces, error] = [behind.length, 0];
      const served = input.configurations.every((c) => {
        const want = c.requiredMm - common - c.front.reduce((s, p) => s + p.lengthMm, 0) - lengthOf(behind);
        const face = c.front.length ? c.front.at(-1)!.rear : c.corrector;
        const fits = all.filter(
          (s) =>
            Math.abs(lengthOf(s) - want) <= c.toleranceMm + 1e-6 &&
            (input.stock as Kind[]).every(
              (k) => s.filter((q) => q === k).length + behind.filter((q) => q === k).length <= k.count,
            ) &&
            joins(s, face, input.common[0]?.front),
        );
        const first = fits.sort(
          (a, b) => a.length - b.length || Math.abs(lengthOf(a) - want) - Math.abs(lengthOf(b) - want),
        )[0];
        if (!first) return false;
        pieces += first.length;
        error += Math.abs(lengthOf(first) - want);
        return true;
      });
      if (served && (!best || pieces < best.pieces || (pieces === best.pieces && error < best.error)))
        best = { pieces, error };
    }
    return best;
  }
  test('serves what can be served, with no more pieces, and says none only where there is none', () => {
    const random = seeded(77);
    const whole = (n: number) => Math.floor(random.next() * n);
    const face = (): Kind['a'] | undefined =>
      random.next() < 0.4
        ? undefined
        : { size: ['M48', 'M42'][whole(2)]!, gender: random.next() < 0.5 ? 'male' : 'female' };
    const faces = () => {
      const [a, b] = [face(), face()];
      return { ...(a ? { a } : {}), ...(b ? { b } : {}) };
    };
    const piece = (name: string) => {
      const [front, rear] = [face(), face()];
      return { name, lengthMm: 2 + whole(12), ...(front ? { front } : {}), ...(rear ? { rear } : {}) };
    };
    let [served, none] = [0, 0];
    for (let n = 0; n < 250; n++) {
      const corrector = face();
      const input = parseInput(ConfigurationsInput, {
        configurations: Array.from({ length: 1 + whole(2) }, (_, i) => ({
          name: `c${i}`,
          requiredMm: 40 + whole(20),
          toleranceMm: 1.5,
          ...(corrector ? { corrector } : {}),
          front: random.next() < 0.5 ? [piece('front')] : [],
        })),
        common: [piece('guider'), piece('wheel')],
        spaceAfter: whole(3),
        ...(random.next() < 0.6 ? { guide: { behindPrismMm: 8, minMm: 14 + whole(6), maxMm: 24 + whole(8) } } : {}),
        stock: Array.from({ length: 4 }, (_, i) => ({
          id: `s${i}`,
          lengthMm: 3 + whole(14),
          count: 1 + whole(2),
          ...faces(),
        })),
        maxPieces: 2,
      });
      const [own, plain] = [configurations(input), fewest(input)];
      const first = own.solutions[0];
      expect([n, first ? first.pieceCount : null]).toEqual([n, plain ? plain.pieces : null]);
      expect(own.cutShort).toBe(false);
      if (first) served++;
      else none++;
      if (first)
        expect(first.perConfiguration.reduce((s, c) => s + Math.abs(c.errorMm), 0)).toBeCloseTo(plain!.error, 6);
    }
    expect([served > 40, none > 40]).toEqual([true, true]);
  });
});

test('a tip-tilt plate behind the guider is seen by nobody; in front of it, or without a guider, it is fine', () => {
  const piece = (name: string, more: object = {}) => ({ name, lengthMm: 10, ...more });
  const [plate, guider] = [piece('plate', { tilts: true }), piece('guider', { guider: true })];
  expect(tiltsUnseen({ train: [plate, guider, piece('camera')] })).toBeNull();
  expect(tiltsUnseen({ train: [guider, plate, piece('camera')] })).toBe('plate');
  expect(tiltsUnseen({ train: [piece('x'), plate] })).toBeNull();
});
