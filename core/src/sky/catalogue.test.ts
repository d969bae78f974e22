import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { findObjects, OBJECT_TYPES, type Catalogue } from './catalogue.ts';
import { skyEllipse } from './framing.ts';
import { separationDeg } from './separation.ts';

const catalogue = JSON.parse(
  readFileSync(join(import.meta.dirname, '../../../data/deep-sky.json'), 'utf8'),
) as Catalogue;
const one = (typed: string) => {
  const got = findObjects(catalogue, typed, 1)[0];
  if (!got) throw new Error(`nothing found for ${typed}`);
  return got;
};

describe('the catalogue in famous places', () => {
  test('all 110 numbers of Messier are there, each with its own place and a size', () => {
    const places = Array.from({ length: 110 }, (_, i) => one(`M ${i + 1}`));
    places.forEach((p, i) => {
      expect(p.id).toBe(`M ${i + 1}`);
      expect([p.id, (p.majorArcmin ?? 0) > 0.3]).toEqual([p.id, true]);
    });
    for (let i = 0; i < places.length; i++)
      for (let j = 0; j < i; j++) expect(separationDeg(places[i]!, places[j]!)).toBeGreaterThan(0.03);
  });
  // ranges wide enough for any good source; what is tested is that the entry is that object and nothing absurd
  test.each<[string, string, [number, number], [number, number]]>([
    ['M 31', 'galaxy', [3, 4.5], [150, 220]],
    ['M 51', 'galaxy', [8, 9], [9, 14]],
    ['M 81', 'spiral galaxy', [6.5, 7.5], [20, 30]],
    ['M 64', 'spiral galaxy', [8, 9], [8, 11]],
    ['M 87', 'elliptical galaxy', [8, 9.5], [6, 11]],
    ['NGC 4565', 'spiral galaxy', [9, 10.5], [12, 18]],
    ['NGC 1365', 'spiral galaxy', [9, 10.5], [9, 13]],
    ['M 45', 'open cluster', [1, 2], [80, 130]],
    ['M 57', 'planetary nebula', [8.5, 10], [1, 4]],
    ['M 13', 'globular cluster', [5.5, 6.2], [15, 25]],
    ['M 24', 'star cloud', [2, 5], [60, 130]],
  ])('%s', (id, kind, mag, size) => {
    const o = one(id);
    expect(OBJECT_TYPES[o.type]).toContain(kind);
    expect(o.mag!).toBeGreaterThanOrEqual(mag[0]);
    expect(o.mag!).toBeLessThanOrEqual(mag[1]);
    expect(o.majorArcmin!).toBeGreaterThanOrEqual(size[0]);
    expect(o.majorArcmin!).toBeLessThanOrEqual(size[1]);
  });
  test.each([
    ['whirlpool', 'M 51'],
    ['ngc5194', 'M 51'],
    ['sh2-155', 'Sh2-155'],
    ['cave nebula', 'Sh2-155'],
    ['Caldwell 9', 'Sh2-155'],
    ['barnard 33', 'B 33'],
    ['horsehead', 'B 33'],
    ['sharpless 101', 'Sh2-101'],
    ['rosette', 'NGC 2237'],
    ['NGC 2244', 'NGC 2237'],
    ['witch head', 'IC 2118'],
    ['splinter', 'NGC 5907'],
    ['messier 76', 'M 76'],
    ['elephant trunk', 'IC 1396'],
    ['elephant’s trunk', 'IC 1396'],
    ['messier 40', 'M 40'],
    ['veil', 'Veil Nebula'],
    ['hyades', 'Mel 25'],
    ['melotte 15', 'Mel 15'],
    ['collinder 399', 'Cr 399'],
    ['small magellanic', 'NGC 292'],
  ])('“%s” is %s', (typed, id) => {
    expect(one(typed).id).toBe(id);
  });
  test('IC 1396 and its like are as large as they are; an edge-on galaxy lies at its angle', () => {
    expect(one('IC 1396').majorArcmin).toBeGreaterThan(120);
    for (const [id, lo, hi] of [
      ['NGC 891', 15, 30],
      ['NGC 4565', 130, 142],
      ['M 31', 30, 40],
      ['M 104', 85, 95],
    ] as const) {
      expect([id, one(id).paDeg! > lo && one(id).paDeg! < hi]).toEqual([id, true]);
      expect(one(id).minorArcmin!).toBeLessThan(one(id).majorArcmin! * 0.6);
    }
  });
  test('no entry stands twice under one designation, and every kind has words', () => {
    const seen = new Set<string>();
    const twice = catalogue.id.filter((id) => seen.has(id) || !seen.add(id));
    expect(twice).toEqual([]);
    for (const t of new Set(catalogue.type)) expect([t, OBJECT_TYPES[t] !== undefined]).toEqual([t, true]);
  });
  test('a place written by hand agrees with the source where the source has the object under another name', () => {
    const table = readFileSync(join(import.meta.dirname, '../../../data/deep-sky-corrections.csv'), 'utf8');
    const rows = table
      .trim()
      .split('\n')
      .slice(1)
      .map((l) => l.split(','));
    expect(rows.length).toBeGreaterThan(400);
    for (const [id, , , , ra, dec, , major] of rows) {
      const o = one(id!);
      expect([id, o.id]).toEqual([id, id]);
      // companions in the source stand within the object, or within half a degree of a small one
      if (!ra || !dec) continue;
      const near = Math.max(0.5, Number(major || 0) / 60);
      for (const alias of o.aliases.filter((a) => /^(NGC|IC) /.test(a))) {
        const at = catalogue.id.indexOf(alias);
        if (at >= 0)
          expect(separationDeg(o, { raDeg: catalogue.raDeg[at]!, decDeg: catalogue.decDeg[at]! })).toBeLessThan(near);
      }
    }
  });
  test('galaxies keep a believable surface brightness: between 19 and 26 mag/arcsec² over their ellipse', () => {
    const odd: string[] = [];
    for (const row of readFileSync(join(import.meta.dirname, '../../../data/deep-sky-corrections.csv'), 'utf8')
      .trim()
      .split('\n')
      .slice(1)) {
      const [id, , , type, , , mag, major, minor] = row.split(',');
      if (!['s', 'e', 's0', 'i'].includes(type!) || !mag || !major) continue;
      const area = (Math.PI / 4) * Number(major) * Number(minor || major) * 3600;
      const surface = Number(mag) + 2.5 * Math.log10(area);
      if (surface < 19 || surface > 26) odd.push(`${id} ${surface.toFixed(1)}`);
    }
    expect(odd).toEqual([]);
  });
});

describe('an outline on the sky', () => {
  test('is as long and as wide as it says, at its angle, also near the pole', () => {
    for (const decDeg of [0, 45, -70, 85]) {
      const centre = { raDeg: 30, decDeg };
      const line = skyEllipse(centre, 2, 0.5, 35, 72);
      expect(separationDeg(line[0]!, line[36]!)).toBeCloseTo(2, 3);
      expect(separationDeg(line[18]!, line[54]!)).toBeCloseTo(0.5, 3);
      const east = (line[0]!.raDeg - 30) * Math.cos((decDeg * Math.PI) / 180);
      if (Math.abs(decDeg) < 50)
        expect((Math.atan2(east, line[0]!.decDeg - decDeg) * 180) / Math.PI).toBeCloseTo(35, 0);
      expect(line).toHaveLength(73);
    }
  });
});
