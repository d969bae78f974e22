import { describe, expect, test } from '@jest/globals';
import { InvalidInput } from '../../calculation/index.ts';
import { diagnose, framesDiagnose, type JudgedPicture } from './diagnose.ts';

type Cell = JudgedPicture['grid'][number];
/** A healthy picture; `of` changes its cells. */
const picture = (more: Partial<JudgedPicture> = {}, of: (c: Cell) => Partial<Cell> = () => ({})): JudgedPicture => ({
  widthPx: 900,
  heightPx: 600,
  background: 1000,
  stars: 200,
  used: 120,
  hfdPx: 3,
  eccentricity: 0.2,
  elongationAngleDeg: 10,
  coreRatio: 1.8,
  edgeDips: { left: 0, right: 0, bottom: 0, top: 0 },
  grid: Array.from({ length: 9 }, (_, i) => {
    const cell: Cell = {
      row: Math.floor(i / 3),
      col: i % 3,
      stars: 20,
      used: 12,
      hfdPx: 3,
      eccentricity: 0.2,
      angleDeg: (37 * i) % 180,
      background: 1000,
    };
    return { ...cell, ...of(cell) };
  }),
  ...more,
});
const codes = (m: JudgedPicture, usual: Parameters<typeof diagnose>[1] = null, scale: number | null = null) =>
  diagnose(m, usual, scale).map((f) => f.code);
const corner = (c: Cell) => c.row !== 1 && c.col !== 1;
/** Direction from the middle of the picture to a cell [deg]. */
const outward = (c: Cell) => (Math.atan2((c.row - 1) * 600, (c.col - 1) * 900) * 180) / Math.PI;
const usual = { stars: 200, hfdPx: 3, background: 1000 };

describe('findings', () => {
  test('of a healthy picture: round', () => expect(codes(picture())).toEqual(['round']));
  test('a dip of two in a hundred at one edge is a shadow, and names the edge', () => {
    const dips = (top: number) => picture({ edgeDips: { left: 0.001, right: -0.001, bottom: 0, top } });
    expect(codes(dips(0.0199))).toEqual(['round']);
    const [shadow] = diagnose(dips(0.02));
    expect([shadow!.code, shadow!.phrases[0].values.edge]).toEqual(['prism-shadow', 'top']);
    expect(shadow!.evidence).toContain('2.0');
  });
  test('cloud needs something to be held against: few stars as wide as before, or a bright sky over fewer', () => {
    expect(codes(picture({ stars: 100 }))).toEqual(['round']);
    expect(codes(picture({ stars: 120 }), usual)).toContain('cloud');
    expect(codes(picture({ stars: 121 }), usual)).not.toContain('cloud');
    // wide stars are fewer by themselves: that is focus
    expect(codes(picture({ stars: 100, hfdPx: 4.5 }), usual)).toEqual(['defocus']);
    expect(codes(picture({ stars: 170, background: 1250 }), usual)).toContain('cloud');
    expect(codes(picture({ stars: 171, background: 1250 }), usual)).not.toContain('cloud');
  });
  test('out of focus: half as wide again as usual, eight seconds of arc, or a ring; a ring ends the list', () => {
    expect(codes(picture({ hfdPx: 4.5 }), usual)).toEqual(['defocus']);
    expect(codes(picture({ hfdPx: 4 }), null, 2)).toEqual(['defocus']);
    expect(codes(picture({ hfdPx: 3.9 }), null, 2)).toEqual(['round']);
    const ring = picture({ hfdPx: 9, coreRatio: 0.5 }, () => ({ eccentricity: 0.9, angleDeg: 20 }));
    expect(codes(ring)).toEqual(['defocus']);
  });
  test('too few stars end it: fewer than ten, or in fewer than seven cells', () => {
    expect(codes(picture({ used: 9 }))).toEqual(['too-few-stars']);
    expect(codes(picture({}, (c) => (c.row === 0 ? { used: 2 } : {})))).toEqual(['too-few-stars']);
    expect(codes(picture({}, (c) => (c.row === 0 && c.col < 2 ? { used: 2 } : {})))).toEqual(['round']);
  });
  test('the same way everywhere is trailing, one cell may differ; two are no pattern', () => {
    const long = (but: number) =>
      picture({ eccentricity: 0.6, elongationAngleDeg: 30 }, (c) =>
        3 * c.row + c.col < but ? { eccentricity: 0.3 } : { eccentricity: 0.6, angleDeg: 30 + 5 * (c.col - 1) },
      );
    expect(codes(long(1))).toEqual(['trailing']);
    expect(codes(long(2))).toEqual(['elongated']);
    const [found] = diagnose(long(0));
    // by hand: 1/√(1 − 0.36)
    expect(found!.evidence).toContain('1.25 times as long as wide');
  });
  test('along or across the radius in the corners is spacing; which way round is said to depend on the corrector', () => {
    const by = (turn: number) =>
      picture({}, (c) =>
        corner(c)
          ? { eccentricity: 0.6, angleDeg: (outward(c) + turn + 360) % 180 }
          : { eccentricity: c.row === 1 && c.col === 1 ? 0.2 : 0.4, angleDeg: (outward(c) + turn + 360) % 180 },
      );
    expect(codes(by(0))).toEqual(['spacing-radial']);
    expect(codes(by(90))).toEqual(['spacing-tangential']);
    expect(codes(by(45))).toEqual(['elongated']);
    expect(diagnose(by(0))[0]!.advice).toMatch(/depends on its design.*1 mm/);
  });
  test('widths on a plane are tilt, from a fifth across the field on; a bowl is none', () => {
    const plane = (a: number, b: number) => picture({}, (c) => ({ hfdPx: 3 + a * (c.col - 1) + b * (c.row - 1) }));
    expect(codes(plane(0.29, 0))).toEqual(['round']);
    expect(codes(plane(0.2, -0.11))).toEqual(['tilt']);
    const [tilt] = diagnose(plane(0.4, 0));
    expect(tilt!.evidence).toMatch(/from 2\.6.* to 3\.4.* towards 0°/);
    expect(codes(picture({}, (c) => ({ hfdPx: corner(c) ? 4 : 3 })))).toEqual(['round']);
  });
  test('light to one side is said from five errors on, and not of pictures measured before it was looked at', () => {
    const leaning = (more: object) =>
      picture({ flare: { x: 0, y: 0, error: 0.001, outward: 0, outwardError: 0.003, ...more } });
    expect(codes(leaning({}))).toEqual(['round']);
    expect(codes(leaning({ outward: 0.0149 }))).toEqual(['round']);
    expect(codes(leaning({ outward: -0.0151 }))).toEqual(['coma']);
    expect(codes(leaning({ outward: 0.1, outwardError: 0.021 }))).toEqual(['round']);
    expect(codes(leaning({ x: 0.008, y: 0.008 }))).toEqual(['one-sided']);
    expect(codes(leaning({ x: 0.008, y: 0.008, error: 0.003 }))).toEqual(['round']);
    expect(codes(picture({ flare: null }))).toEqual(['round']);
  });
  test('come together where they are apart', () => {
    const both = picture({ edgeDips: { left: 0.05, right: 0, bottom: 0, top: 0 } }, (c) => ({
      hfdPx: 3 + 0.5 * (c.col - 1),
    }));
    expect(codes(both)).toEqual(['prism-shadow', 'tilt']);
  });
});

describe('asked for', () => {
  const run = (input: unknown) => framesDiagnose.run(input);
  test('without a picture, with two, or by a path where none is taken, it says what would be right', () => {
    expect(() => run({})).toThrow(/either a measured picture or a file/);
    expect(() => run({ file: 'a.fits', measure: picture() })).toThrow(/either a measured picture or a file/);
    expect(() => run({ file: 'a.fits' })).toThrow(/no path is taken here/);
    expect(() => run({ measure: picture(), baseline: { file: 'b.fits' } })).toThrow(/baseline\.file/);
    expect(() => run({ measure: { ...picture(), grid: [] } })).toThrow(InvalidInput);
  });
});
