import { readFileSync, statSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { shippedStars } from '../test/shippedStars.ts';
import { angleDeg, direction } from './ephemeris.ts';
import {
  columnsOf,
  packTile,
  readTile,
  tileAt,
  tileBytes,
  tilesAround,
  type Star,
  type StarIndex,
} from './starTiles.ts';

const FOLDER = join(import.meta.dirname, '../../../data/stars');
const index = JSON.parse(readFileSync(join(FOLDER, 'index.json'), 'utf8')) as StarIndex;
const ra = fc.double({ min: 0, max: 359.999999, noNaN: true });
const dec = fc.double({ min: -90, max: 90, noNaN: true });
const MAS = 1 / 3.6e6;

describe('packing', () => {
  test('a star comes back within two milliarcseconds and half a thousandth of a magnitude, the brightest first', () => {
    fc.assert(
      fc.property(ra, dec, fc.double({ min: -1.5, max: 14, noNaN: true }), (raDeg, decDeg, mag) => {
        const tile = tileAt(raDeg, decDeg);
        const [got] = [readTile(packTile([{ raDeg, decDeg, mag }], tile), tile)];
        expect(angleDeg(direction(got.raDeg[0]!, got.decDeg[0]!), direction(raDeg, decDeg))).toBeLessThan(2 * MAS);
        expect(Math.abs(got.mag[0]! - mag)).toBeLessThan(6e-4);
      }),
      { seed: 11 },
    );
    const stars: Star[] = [9, 4, 12, 4.5].map((mag, i) => ({ raDeg: 10 + i / 10, decDeg: 1, mag }));
    expect([...readTile(packTile(stars, tileAt(10, 1)), tileAt(10, 1)).mag].map((m) => Math.round(10 * m))).toEqual([
      40, 45, 90, 120,
    ]);
  });
  test('bytes cut inside a star are refused', () => {
    expect(() => readTile(new Uint8Array(12), { band: 3, column: 1 })).toThrow(RangeError);
  });
  test('the tile of every place within a cap is among the tiles around it', () => {
    fc.assert(
      fc.property(
        ra,
        dec,
        fc.double({ min: 0.01, max: 40, noNaN: true }),
        fc.double({ min: 0, max: 1 - 1e-9, noNaN: true }),
        fc.double({ min: 0, max: 360, noNaN: true }),
        (raDeg, decDeg, radius, share, way) => {
          // a place at a distance and position angle from the centre
          const d = (radius * share * Math.PI) / 180;
          const [w, b] = [(way * Math.PI) / 180, (decDeg * Math.PI) / 180];
          const sin = Math.sin(b) * Math.cos(d) + Math.cos(b) * Math.sin(d) * Math.cos(w);
          const dRa = Math.atan2(Math.sin(w) * Math.sin(d) * Math.cos(b), Math.cos(d) - Math.sin(b) * sin);
          const place = tileAt(
            raDeg + (dRa * 180) / Math.PI,
            (Math.asin(Math.max(-1, Math.min(1, sin))) * 180) / Math.PI,
          );
          expect(tilesAround(raDeg, decDeg, radius)).toContainEqual(place);
        },
      ),
      { seed: 12, numRuns: 400 },
    );
  });
  test('no tile is named twice', () => {
    fc.assert(
      fc.property(ra, dec, fc.double({ min: 0, max: 60, noNaN: true }), (r, d, radius) => {
        const names = tilesAround(r, d, radius).map((t) => `${t.band}/${t.column}`);
        expect(new Set(names).size).toBe(names.length);
      }),
      { seed: 13 },
    );
  });
});

describe('the shipped catalogue', () => {
  const stars = shippedStars();
  const near = (raDeg: number, decDeg: number) => {
    const found = stars({ raDeg, decDeg, radiusDeg: 0.02, faintestMag: 14 });
    const here = direction(raDeg, decDeg);
    let best = { mag: Number.NaN, off: Infinity };
    for (let i = 0; i < found.length; i++) {
      const off = angleDeg(direction(found.raDeg[i]!, found.decDeg[i]!), here) * 3600;
      if (off < best.off) best = { mag: found.mag[i]!, off };
    }
    return best;
  };
  // Places from memory of the Hipparcos catalogue (ESA 1997), J2000; V_T is a few hundredths to a tenth fainter than V
  test.each([
    ['Vega', 279.2347, 38.7837, 0.03],
    ['Sirius', 101.2872, -16.7161, -1.46],
    ['Polaris', 37.9546, 89.2641, 2.0],
    ['Mizar', 200.9814, 54.9254, 2.1],
    ['σ Octantis', 317.1952, -88.9565, 5.45],
  ])('%s stands where it should', (_name, raDeg, decDeg, mag) => {
    const got = near(raDeg, decDeg);
    expect(got.off).toBeLessThan(15);
    expect(Math.abs(got.mag - mag)).toBeLessThan(0.35);
  });
  test('counts of the index are those of the files, and every file is small', () => {
    let total = 0;
    index.bands.forEach((b, band) => {
      expect(b.tiles).toHaveLength(columnsOf(band));
      const sum = b.tiles.reduce((s, t) => s + t.at(-1)!, 0);
      expect(statSync(join(FOLDER, b.file)).size).toBe(8 * sum);
      expect(statSync(join(FOLDER, b.file)).size).toBeLessThan(4e6);
      total += sum;
    });
    expect(total).toBe(index.stars);
    expect(readdirSync(FOLDER)).toHaveLength(index.bands.length + 1);
  });
  test('a tile cut at a depth holds that many stars, none fainter, and the next one is', () => {
    const tile = { band: 24, column: 30 };
    const bytes = readFileSync(join(FOLDER, index.bands[tile.band]!.file));
    for (const [k, depth] of index.depths.slice(0, -1).entries()) {
      const { from, to } = tileBytes(index, tile, k);
      const got = readTile(bytes.subarray(from, to), tile);
      expect(Math.max(-9, ...got.mag)).toBeLessThanOrEqual(depth + 1e-6);
      expect(readTile(bytes.subarray(to, to + 8), tile).mag[0]!).toBeGreaterThan(depth);
    }
  });
  test('a target of two degrees costs at most 300 kB even in the Milky Way', () => {
    // Cygnus, the Scutum cloud, Carina, a pole
    for (const [r, d] of [
      [305, 38],
      [281, -7],
      [161, -60],
      [0, 89],
    ] as const) {
      const bytes = tilesAround(r, d, 2).reduce((s, t) => {
        const { from, to } = tileBytes(index, t, index.depths.length - 1);
        return s + to - from;
      }, 0);
      expect(bytes).toBeLessThan(300_000);
    }
  });
});
