import type { Stars, StarSource } from '../calculation/index.ts';
import { RAD } from '../quantities/index.ts';
/**
 * The shipped star catalogue as packed tiles. The sky is cut into declination bands, each band into columns of right
 * ascension that are about as wide as the band is high. A star takes eight bytes: right ascension and declination as
 * 24-bit shares of its tile (a milliarcsecond), magnitude in thousandths above −3. Inside a tile the brightest comes
 * first, so that a wide field reads only the head of each tile.
 */
export const BAND_DEG = 5;
export const BYTES_PER_STAR = 8;
/** Raised whenever data/stars is made anew: caches hold the files for long, and index and tiles must belong together. */
export const STAR_EDITION = 1;
const BANDS = 180 / BAND_DEG;
const FULL = 2 ** 24 - 1;
/** Magnitudes are stored as they stand above this many below zero. */
const MAG_ZERO = 3;
const MARGIN_DEG = 1e-6;

export interface Star {
  raDeg: number;
  decDeg: number;
  mag: number;
}

export interface Tile {
  band: number;
  column: number;
}

/** The list of contents beside the packed files. */
export interface StarIndex {
  source: string;
  licence: string;
  stars: number;
  bandDeg: number;
  /** Whole magnitudes at which each tile may be cut off. */
  depths: number[];
  /** One file a band; each tile's count of stars up to every depth, the last one being all of them. */
  bands: { file: string; tiles: number[][] }[];
}

/** Columns of a band, so that a tile is about as wide as high. */
export const columnsOf = (band: number): number => {
  const middle = (-90 + (band + 0.5) * BAND_DEG) * RAD;
  return Math.max(1, Math.round((360 * Math.cos(middle)) / BAND_DEG));
};
export const turn = (deg: number): number => ((deg % 360) + 360) % 360;

export function tileAt(raDeg: number, decDeg: number): Tile {
  const band = Math.min(BANDS - 1, Math.max(0, Math.floor((decDeg + 90) / BAND_DEG)));
  const n = columnsOf(band);
  return { band, column: Math.min(n - 1, Math.floor((turn(raDeg) / 360) * n)) };
}

/** Half the width in right ascension of a cap [deg]; 180 when it holds a pole. */
const capHalfWidth = (decDeg: number, radiusDeg: number): number =>
  Math.abs(decDeg) + radiusDeg >= 90
    ? 180
    : Math.asin(Math.min(1, Math.sin(radiusDeg * RAD) / Math.cos(decDeg * RAD))) / RAD;

/** Every tile that may hold a star of the cap; a few more at its corners. */
export function tilesAround(raDeg: number, decDeg: number, radiusDeg: number): Tile[] {
  const half = capHalfWidth(decDeg, radiusDeg) + MARGIN_DEG;
  const low = tileAt(0, decDeg - radiusDeg - MARGIN_DEG).band;
  const high = tileAt(0, decDeg + radiusDeg + MARGIN_DEG).band;
  const tiles: Tile[] = [];
  for (let band = low; band <= high; band++) {
    const n = columnsOf(band);
    if (2 * half + 360 / n >= 360) {
      for (let column = 0; column < n; column++) tiles.push({ band, column });
      continue;
    }
    const first = Math.floor(((raDeg - half) / 360) * n);
    const last = Math.floor(((raDeg + half) / 360) * n);
    for (let c = first; c <= last; c++) tiles.push({ band, column: ((c % n) + n) % n });
  }
  return tiles;
}

/** Index of the first depth that holds every star up to `faintestMag`. */
export const depthFor = (depths: readonly number[], faintestMag: number): number => {
  const at = depths.findIndex((d) => d >= faintestMag);
  return at < 0 ? depths.length - 1 : at;
};

/** Bytes of a band's file that hold a tile, down to one of the index's depths. */
export function tileBytes(index: StarIndex, { band, column }: Tile, depth: number): { from: number; to: number } {
  const tiles = index.bands[band]!.tiles;
  let before = 0;
  for (let c = 0; c < column; c++) before += tiles[c]!.at(-1)!;
  const from = before * BYTES_PER_STAR;
  return { from, to: from + tiles[column]![depth]! * BYTES_PER_STAR };
}

/** Packs the stars of one tile, brightest first. */
export function packTile(stars: readonly Star[], { band, column }: Tile): Uint8Array {
  const bytes = new Uint8Array(stars.length * BYTES_PER_STAR);
  const view = new DataView(bytes.buffer);
  const n = columnsOf(band);
  const share = (x: number) => Math.min(FULL, Math.max(0, Math.round(x * FULL)));
  [...stars]
    .sort((a, b) => a.mag - b.mag || a.raDeg - b.raDeg)
    .forEach((s, i) => {
      const x = share((turn(s.raDeg) / 360) * n - column);
      const y = share((s.decDeg + 90) / BAND_DEG - band);
      view.setUint32(i * 8, x * 256 + (y >>> 16));
      view.setUint32(i * 8 + 4, (y & 0xffff) * 65536 + Math.min(65535, Math.round((s.mag + MAG_ZERO) * 1000)));
    });
  return bytes;
}

/** Reads packed stars, or the head of them. @throws RangeError when the bytes are cut inside a star */
export function readTile(bytes: Uint8Array, { band, column }: Tile): Stars {
  if (bytes.byteLength % BYTES_PER_STAR !== 0)
    throw new RangeError(`star tile ${band}/${column}: ${bytes.byteLength} bytes are not whole stars`);
  const length = bytes.byteLength / BYTES_PER_STAR;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const n = columnsOf(band);
  const stars = emptyStars(length);
  for (let i = 0; i < length; i++) {
    const a = view.getUint32(i * 8);
    const b = view.getUint32(i * 8 + 4);
    stars.raDeg[i] = ((column + Math.floor(a / 256) / FULL) * 360) / n;
    stars.decDeg[i] = -90 + (band + ((a & 0xff) * 65536 + (b >>> 16)) / FULL) * BAND_DEG;
    stars.mag[i] = ((b & 0xffff) - 1000 * MAG_ZERO) / 1000;
  }
  return stars;
}

export const emptyStars = (length: number): Stars => ({
  raDeg: new Float64Array(length),
  decDeg: new Float64Array(length),
  mag: new Float64Array(length),
  length,
});

export function joinStars(parts: readonly Stars[]): Stars {
  const all = emptyStars(parts.reduce((sum, p) => sum + p.length, 0));
  let at = 0;
  for (const p of parts) {
    all.raDeg.set(p.raDeg.subarray(0, p.length), at);
    all.decDeg.set(p.decDeg.subarray(0, p.length), at);
    all.mag.set(p.mag.subarray(0, p.length), at);
    at += p.length;
  }
  return all;
}

export const starsOf = (list: readonly Star[]): Stars => ({
  raDeg: Float64Array.from(list, (s) => s.raDeg),
  decDeg: Float64Array.from(list, (s) => s.decDeg),
  mag: Float64Array.from(list, (s) => s.mag),
  length: list.length,
});

/**
 * A source over whole band files, read when first needed.
 * @param readBand the bytes of one file named in the index
 */
export function bandSource(index: StarIndex, readBand: (file: string) => Uint8Array): StarSource {
  const held = new Map<string, Uint8Array>();
  const bytesOf = (file: string) => {
    let bytes = held.get(file);
    if (!bytes) held.set(file, (bytes = readBand(file)));
    return bytes;
  };
  return ({ raDeg, decDeg, radiusDeg, faintestMag }) => {
    const depth = depthFor(index.depths, faintestMag);
    return joinStars(
      tilesAround(raDeg, decDeg, radiusDeg).map((tile) => {
        const { from, to } = tileBytes(index, tile, depth);
        return readTile(bytesOf(index.bands[tile.band]!.file).subarray(from, to), tile);
      }),
    );
  };
}
