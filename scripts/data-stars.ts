// Makes data/stars from Debian's package of the Tycho-2 catalogue and the bright stars of d3-celestial.
// Run: npm run data:stars  (needs apt and the registry; the result is committed)
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { angleDeg, BAND_DEG, columnsOf, direction, packTile, tileAt, type Star, type StarIndex } from '@keen/core/sky';

const PACKAGE = 'astrometry-data-tycho2-07-littleendian';
const BRIGHT_VERSION = '0.7.35';
const DEPTHS = [7, 8, 9, 10, 11, 12, 99];
/** A listed bright star is the same as a catalogue star within this distance and difference of brightness. */
const SAME = { deg: 40 / 3600, mag: 1.5 };
const TABLES = { directions: 11, magnitudes: 13 };
const folder = mkdtempSync(join(tmpdir(), 'keen-stars-'));

/** Offset and size of every header-and-data unit of a FITS file. */
function unitsOf(file: Buffer): { at: number; bytes: number; header: Map<string, string> }[] {
  const units = [];
  for (let p = 0; p < file.length;) {
    const header = new Map<string, string>();
    let ended = false;
    while (!ended) {
      for (let c = 0; c < 2880; c += 80) {
        const card = file.toString('latin1', p + c, p + c + 80);
        if (card.trim() === 'END') ended = true;
        if (card[8] === '=') header.set(card.slice(0, 8).trim(), card.slice(10).split('/')[0]!.trim());
      }
      p += 2880;
    }
    const axes = Number(header.get('NAXIS') ?? 0);
    let bytes = axes === 0 ? 0 : Math.abs(Number(header.get('BITPIX'))) / 8;
    for (let a = 1; a <= axes; a++) bytes *= Number(header.get(`NAXIS${a}`));
    units.push({ at: p, bytes, header });
    p += Math.ceil(bytes / 2880) * 2880;
  }
  return units;
}

function tychoStars(): Star[] {
  execFileSync('apt-get', ['download', PACKAGE], { cwd: folder });
  execFileSync('dpkg-deb', ['-x', readdirSync(folder).find((f) => f.endsWith('.deb'))!, '.'], { cwd: folder });
  const shelf = join(folder, 'usr/share/astrometry');
  const file = readFileSync(join(shelf, readdirSync(shelf)[0]!));
  const units = unitsOf(file);
  const [places, mags] = [units[TABLES.directions]!, units[TABLES.magnitudes]!];
  if (mags.header.get('TTYPE1')?.includes('MAG_VT') !== true) throw new Error('the magnitudes are not where they were');
  const n = places.bytes / 12;
  const value = (raw: number) => -1 + raw / 2147483647.5;
  const stars: Star[] = [];
  // the directions are little-endian by the package's name; the magnitudes are tried both ways once
  const sane = (m: number) => m > -2 && m < 16;
  const little = sane(file.readFloatLE(mags.at)) && sane(file.readFloatLE(mags.at + 4 * (n - 1)));
  for (let i = 0; i < n; i++) {
    const at = places.at + 12 * i;
    const [x, y, z] = [0, 4, 8].map((k) => value(file.readUInt32LE(at + k))) as [number, number, number];
    const mag = little ? file.readFloatLE(mags.at + 4 * i) : file.readFloatBE(mags.at + 4 * i);
    if (!sane(mag)) continue;
    const raDeg = ((Math.atan2(y, x) * 180) / Math.PI + 360) % 360;
    stars.push({ raDeg, decDeg: (Math.atan2(z, Math.hypot(x, y)) * 180) / Math.PI, mag });
  }
  return stars;
}

function brightStars(): Star[] {
  execFileSync('npm', ['pack', `d3-celestial@${BRIGHT_VERSION}`, '--silent'], { cwd: folder });
  execFileSync('tar', ['xzf', readdirSync(folder).find((f) => f.endsWith('.tgz'))!], { cwd: folder });
  const list = JSON.parse(readFileSync(join(folder, 'package/data/stars.6.json'), 'utf8')) as {
    features: { properties: { mag: number }; geometry: { coordinates: [number, number] } }[];
  };
  return list.features.map((f) => ({
    raDeg: (f.geometry.coordinates[0] + 360) % 360,
    decDeg: f.geometry.coordinates[1],
    mag: Number(f.properties.mag),
  }));
}

const stars = tychoStars();
const brightOnes = stars.filter((s) => s.mag < 8);
const added = brightStars().filter((b) => {
  const d = direction(b.raDeg, b.decDeg);
  return !brightOnes.some(
    (s) =>
      Math.abs(s.decDeg - b.decDeg) < SAME.deg &&
      Math.abs(s.mag - b.mag) < SAME.mag &&
      angleDeg(direction(s.raDeg, s.decDeg), d) < SAME.deg,
  );
});
stars.push(...added);

const bands = 180 / BAND_DEG;
const sorted = Array.from({ length: bands }, (_, b) => Array.from({ length: columnsOf(b) }, () => [] as Star[]));
for (const s of stars) {
  const { band, column } = tileAt(s.raDeg, s.decDeg);
  sorted[band]![column]!.push(s);
}
const out = join('data', 'stars');
mkdirSync(out, { recursive: true });
const index: StarIndex = {
  source: `Tycho-2 (Høg et al. 2000) from Debian’s ${PACKAGE}; ${added.length} bright stars from d3-celestial ${BRIGHT_VERSION}`,
  licence: 'BSD-2-Clause and BSD-3-Clause, see data/README.md',
  stars: stars.length,
  bandDeg: BAND_DEG,
  depths: DEPTHS,
  bands: sorted.map((columns, band) => {
    // named for the southern edge of the band: dec-m85.bin reaches from −85° to −80°
    const southDeg = -90 + BAND_DEG * band;
    const file = `dec-${southDeg < 0 ? 'm' : 'p'}${String(Math.abs(southDeg)).padStart(2, '0')}.bin`;
    const tiles = columns.map((list, column) => packTile(list, { band, column }));
    writeFileSync(join(out, file), Buffer.concat(tiles));
    return {
      file,
      tiles: columns.map((list) => {
        // counted as packed: magnitudes rounded to thousandths
        const packed = list.map((s) => Math.round((s.mag + 3) * 1000) / 1000 - 3);
        return DEPTHS.map((d) => packed.filter((m) => m <= d + 1e-9).length);
      }),
    };
  }),
};
writeFileSync(join(out, 'index.json'), `${JSON.stringify(index)}\n`);
rmSync(folder, { recursive: true });
console.log(
  `${stars.length} stars (${added.length} added bright ones: ${added
    .map((s) => s.mag)
    .sort((a, b) => a - b)
    .slice(0, 12)
    .join(', ')} …)`,
);
