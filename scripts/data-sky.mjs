// Makes data/deep-sky.json from the d3-celestial package (BSD-3-Clause). Run: npm run data:sky
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { catalogueOf, corrected } from './sky-corrections.mjs';

const VERSION = '0.7.35';
const folder = mkdtempSync(join(tmpdir(), 'keen-sky-'));
execFileSync('npm', ['pack', `d3-celestial@${VERSION}`, '--silent'], { cwd: folder });
const archive = readdirSync(folder).find((f) => f.endsWith('.tgz'));
execFileSync('tar', ['xzf', archive], { cwd: folder });
const read = (f) => JSON.parse(readFileSync(join(folder, 'package/data', f), 'utf8'));

// Catalogues worth pointing at; the survey galaxies and cluster lists of the source are left out.
const KEEP = /^(M|NGC|IC|UGC|Sh|VdB|RCW|B|Cr|Ced[a-e]?|SNRG|LBN|C|PK|ESO)[\s-]?\d|^(Sh2|Sh 2)/;
// Only long-established popular names; the source also lists jokes, trade marks and names of living people.
const POPULAR = new Set(
  `Hyades; Pleiades; Southern Pleiades; Andromeda Galaxy; Triangulum Galaxy; Orion Nebula; North America Nebula; Pelican Nebula;
  Heart Nebula; Rosette Nebula; Lagoon Nebula; Trifid Nebula; Eagle Nebula; Omega Nebula; Helix Nebula; Dumbbell Nebula; Ring Nebula;
  Owl Nebula; Sombrero Galaxy; Whirlpool Galaxy; Pinwheel Galaxy; Sunflower Galaxy; Black Eye Galaxy; Cigar Galaxy; Sculptor Galaxy;
  Whale Galaxy; Needle Galaxy; Horsehead Nebula; Flame Nebula; California Nebula; Iris Nebula; Cocoon Nebula; Bubble Nebula;
  Elephant's Trunk Nebula; Jellyfish Nebula; Cat's Paw Nebula; Lobster Nebula; Tarantula Nebula; Keyhole Nebula; η Car Nebula;
  Running Chicken Nebula; Centaurus A; Fornax A; Small Magellanic Cloud; 47 Tuc; ω Cen Cluster; Jewel Box; Coathanger; Praesepe;
  Southern Pinwheel Galaxy; Saturn Nebula; Blue Snowball; Prawn Nebula; Pencil Nebula; Antennae; Leo Triplet; Little Dumbbell Nebula;
  Deer Lick Group; Coalsack Nebula; Great Barred Spiral Galaxy; Flaming Star Nebula; Butterfly Nebula; Bug Nebula; Cat's Eye Nebula;
  Great Star Cluster in Hercules; Wild Duck Cluster; Snake Nebula; h Persei; χ Persei; String of Pearls; Splinter Galaxy; Medusa Nebula`
    .split(';')
    .map((n) => n.trim()),
);
const names = read('dsonames.json');
const messier = new Map(read('messier.json').features.map((f) => [f.properties.desig, f.id.replace(/^M\s*/, 'M ')]));
const places = new Set();
const rows = [];
for (const f of read('dsos.20.json').features) {
  const id = f.id.replace(/\s+/g, ' ').trim();
  if (!KEEP.test(id)) continue;
  const [lon, dec] = f.geometry.coordinates;
  const raDeg = Math.round(((lon + 360) % 360) * 1e4) / 1e4;
  const decDeg = Math.round(dec * 1e4) / 1e4;
  if (!Number.isFinite(raDeg) || !Number.isFinite(decDeg) || Math.abs(decDeg) > 90 || places.has(id)) continue;
  places.add(id);
  const mag = Number.parseFloat(f.properties.mag);
  const size = String(f.properties.dim ?? '')
    .split(/[x×]/)
    .map(Number.parseFloat);
  const major = size[0] > 0 ? Math.max(size[0], size[1] > 0 ? size[1] : 0) : null;
  const minor = major === null ? null : size[1] > 0 ? Math.min(size[0], size[1]) : major;
  const name = POPULAR.has(names[f.id]?.name) ? names[f.id].name : null;
  rows.push({
    id: messier.get(id) ?? id,
    aliases: messier.has(id) ? [id] : [],
    names: name ? [name] : [],
    type: f.properties.type,
    raDeg,
    decDeg,
    mag: Number.isFinite(mag) && mag < 90 ? mag : null,
    major,
    minor,
    paDeg: null,
  });
}
const all = corrected(rows);
const source = `d3-celestial ${VERSION}, data/dsos.20.json and dsonames.json; data/deep-sky-corrections.csv`;
writeFileSync('data/deep-sky.json', JSON.stringify(catalogueOf(all, source)) + '\n');
rmSync(folder, { recursive: true });
console.log(`${all.length} objects written to data/deep-sky.json`);
