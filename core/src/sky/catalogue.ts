import { RAD } from '../quantities/index.ts';
import { SkyWindow, angleDeg, direction, unit, type Vec } from './ephemeris.ts';
import { darkSpell, nightFrame, SUN_ALTITUDE, type Darkness, type NightFrame } from './night.ts';
import { horizonAt, type Site } from './site.ts';

/** The shipped deep-sky catalogue, by columns. Magnitude and sizes are null where the source gives none. */
export interface Catalogue {
  source: string;
  licence: string;
  id: string[];
  /** Second designation, for entries known by a shorter one. */
  alias: (string | null)[];
  name: (string | null)[];
  type: string[];
  raDeg: number[];
  decDeg: number[];
  mag: (number | null)[];
  majorArcmin: (number | null)[];
  minorArcmin: (number | null)[];
  /** What few objects have, by their place in the columns: further designations and names, and the angle of the long axis. */
  more?: Record<string, { aliases?: string[]; names?: string[]; paDeg?: number }>;
}

/** Plain words for the catalogue's type codes. */
export const OBJECT_TYPES: Record<string, string> = {
  gg: 'galaxy cluster',
  g: 'galaxy',
  s: 'spiral galaxy',
  s0: 'lenticular galaxy',
  sd: 'dwarf galaxy',
  i: 'irregular galaxy',
  e: 'elliptical galaxy',
  oc: 'open cluster',
  gc: 'globular cluster',
  dn: 'dark nebula',
  bn: 'bright nebula',
  sfr: 'star-forming region',
  rn: 'reflection nebula',
  en: 'emission nebula',
  pn: 'planetary nebula',
  snr: 'supernova remnant',
  sc: 'star cloud',
  as: 'asterism',
  ds: 'double star',
};

export interface CatalogueEntry {
  index: number;
  id: string;
  alias: string | null;
  name: string | null;
  type: string;
  raDeg: number;
  decDeg: number;
  mag: number | null;
  majorArcmin: number | null;
  minorArcmin: number | null;
  /** Every other designation and every name it is known by. */
  aliases: string[];
  names: string[];
  /** Position angle of the long axis, north through east; null where round or unknown. */
  paDeg: number | null;
}

export const entryAt = (c: Catalogue, index: number): CatalogueEntry => ({
  index,
  id: c.id[index]!,
  alias: c.alias[index]!,
  name: c.name[index]!,
  type: c.type[index]!,
  raDeg: c.raDeg[index]!,
  decDeg: c.decDeg[index]!,
  mag: c.mag[index]!,
  majorArcmin: c.majorArcmin[index]!,
  minorArcmin: c.minorArcmin[index]!,
  aliases: c.more?.[index]?.aliases ?? (c.alias[index] ? [c.alias[index]] : []),
  names: c.more?.[index]?.names ?? (c.name[index] ? [c.name[index]] : []),
  paDeg: c.more?.[index]?.paDeg ?? null,
});

/** Catalogues by the names people say, as their entries are written. */
const SPOKEN: readonly (readonly [RegExp, string])[] = [
  [/^messier/, 'm'],
  [/^barnard(?=\d)/, 'b'],
  [/^sharpless(2)?(?=\d)/, 'sh2'],
  [/^sh(?=[013-9]|2\d*$)(?!2\d)/, 'sh2'],
  [/^caldwell/, 'c'],
  [/^collinder/, 'cr'],
  [/^melotte/, 'mel'],
  [/^lynds(dark)?(?=\d)/, 'ldn'],
  [/^vandenbergh/, 'vdb'],
  [/^cederblad/, 'ced'],
];

const squeeze = (s: string) =>
  s
    .toLowerCase()
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replace(/[’']s\b/g, '')
    .replace(/[\s\-_’']+/g, '')
    .replace(/([a-z])0+(\d)/g, '$1$2');

function asked(typed: string): string {
  const q = squeeze(typed);
  for (const [spoken, written] of SPOKEN) if (spoken.test(q)) return q.replace(spoken, written);
  return q;
}

interface Searchable {
  designations: string[];
  names: string[];
}
/** Squeezed once a catalogue: a search then is a walk over short texts. */
const squeezedOf = new WeakMap<Catalogue, Searchable[]>();
function searchable(c: Catalogue): Searchable[] {
  let list = squeezedOf.get(c);
  if (!list) {
    list = c.id.map((id, i) => {
      const e = entryAt(c, i);
      return { designations: [id, ...e.aliases].map(squeeze), names: e.names.map(squeeze) };
    });
    squeezedOf.set(c, list);
  }
  return list;
}

/** Objects one of whose designations or names is, begins with, or holds what was typed; the closest match first. */
export function findObjects(c: Catalogue, typed: string, limit = 12): CatalogueEntry[] {
  const plain = squeeze(typed);
  const q = asked(typed);
  if (q === '') return [];
  const found: { index: number; score: number }[] = [];
  searchable(c).forEach(({ designations, names }, index) => {
    const begins = designations.find((d) => d.startsWith(q));
    const score =
      designations.includes(q) || names.includes(plain)
        ? 0
        : names.some((n) => n.startsWith(plain))
          ? 0.9
          : begins
            ? 1 + begins.length / 100
            : names.some((n) => n.includes(plain))
              ? 2
              : -1;
    if (score >= 0) found.push({ index, score: score + (c.mag[index] ?? 20) / 1000 });
  });
  return found
    .sort((a, b) => a.score - b.score)
    .slice(0, limit)
    .map((f) => entryAt(c, f.index));
}

export interface ScanRequest {
  site: Site;
  date: string;
  minimumAltitudeDeg: number;
  darkness: Darkness;
  stepMin: number;
  /** Lit part of the Moon, 0…1: how far it must be kept off. */
  moonlit?: number;
  /** What is dark before it has passed [ms]; left out: the whole night counts. */
  fromMs?: number;
}

/** How far a bright Moon should be kept off, by what light is taken: common practice, no source. */
export const MOON_DISTANCE_DEG = { broadband: 60, narrowband: 30 } as const;
/** From half lit on the whole distance is kept; less below [deg]. Common practice, no source. */
export const moonDistanceDeg = (light: keyof typeof MOON_DISTANCE_DEG, moonlit: number): number =>
  MOON_DISTANCE_DEG[light] * Math.min(1, 2 * moonlit);

/** What one night offers, for every catalogue entry by index. */
export interface NightScan {
  /** Minutes workable: dark, above the limit and the horizon. */
  minutes: Float32Array;
  /** Of these, minutes with the Moon down or far enough for broadband, and for narrow lines. */
  broadMinutes: Float32Array;
  lineMinutes: Float32Array;
  /** Greatest altitude reached while workable [deg], NaN when never. */
  bestAltitudeDeg: Float32Array;
  /** Distance from the Moon at that moment [deg], 180 when the Moon is down. */
  moonSeparationDeg: Float32Array;
  /** Minute of the best altitude after the start of darkness. */
  bestMinute: Float32Array;
  steps: number;
}

/** Heights of the horizon for whole degrees of azimuth, as sines, so that the scan needs no interpolation. */
function horizonSines(site: Site, minimum: number): Float64Array {
  const sines = new Float64Array(361);
  for (let a = 0; a <= 360; a++) sines[a] = Math.sin(Math.max(minimum, horizonAt(site.horizon, a % 360)) * RAD);
  return sines;
}

/**
 * Works the whole catalogue through one night: the zenith is turned into the J2000 frame once a step, so that an
 * altitude costs one dot product. Leaves out aberration (below 0.006°) and rounds the horizon to whole degrees.
 */
export function scanNight(c: Catalogue, request: ScanRequest, frame?: NightFrame): NightScan {
  const night = frame ?? nightFrame(request.site, request.date);
  const n = c.id.length;
  const result: NightScan = {
    minutes: new Float32Array(n),
    broadMinutes: new Float32Array(n),
    lineMinutes: new Float32Array(n),
    bestAltitudeDeg: new Float32Array(n).fill(Number.NaN),
    moonSeparationDeg: new Float32Array(n).fill(180),
    bestMinute: new Float32Array(n),
    steps: 0,
  };
  const spell = darkSpell(night, SUN_ALTITUDE[request.darkness]);
  const dark = spell && ([Math.max(spell[0], request.fromMs ?? -Infinity), spell[1]] as const);
  if (!dark || dark[1] <= dark[0]) return result;
  const stepMs = request.stepMin * 60_000;
  const steps = Math.max(1, Math.floor((dark[1] - dark[0]) / stepMs));
  const width = (dark[1] - dark[0]) / steps / 60_000;
  const bestSine = new Float64Array(n).fill(-2);
  const bestStep = new Int32Array(n).fill(-1);
  const [ux, uy, uz] = directions(c);
  const floor = horizonSines(request.site, request.minimumAltitudeDeg);
  const lowest = floor.reduce((a, b) => Math.min(a, b), 2);
  // above the horizon's highest place the direction does not matter
  const highest = floor.reduce((a, b) => Math.max(a, b), -2);
  const moons = moonPlaces(night.sky, dark[0], width, steps);
  const moonlit = request.moonlit ?? 1;
  const nearBroad = Math.cos(moonDistanceDeg('broadband', moonlit) * RAD);
  const nearLine = Math.cos(moonDistanceDeg('narrowband', moonlit) * RAD);
  for (let k = 0; k < steps; k++) {
    const moon = moons[k];
    const ms = dark[0] + (k + 0.5) * width * 60_000;
    const { zenith, north, east } = night.sky.zenithJ2000(ms);
    const [zx, zy, zz] = zenith;
    for (let i = 0; i < n; i++) {
      const sine = ux[i]! * zx + uy[i]! * zy + uz[i]! * zz;
      if (sine < lowest) continue;
      if (sine < highest && sine < 0.9999) {
        const e = ux[i]! * east[0] + uy[i]! * east[1] + uz[i]! * east[2];
        const no = ux[i]! * north[0] + uy[i]! * north[1] + uz[i]! * north[2];
        const azimuth = Math.atan2(e, no) / RAD;
        if (sine < floor[Math.round(azimuth < 0 ? azimuth + 360 : azimuth)]!) continue;
      }
      result.minutes[i]! += width;
      const toMoon = moon ? ux[i]! * moon[0] + uy[i]! * moon[1] + uz[i]! * moon[2] : -1;
      if (toMoon <= nearLine) result.lineMinutes[i]! += width;
      if (toMoon <= nearBroad) result.broadMinutes[i]! += width;
      if (sine > bestSine[i]!) {
        bestSine[i] = sine;
        bestStep[i] = k;
      }
    }
  }
  for (let i = 0; i < n; i++) {
    const k = bestStep[i]!;
    if (k < 0) continue;
    result.bestAltitudeDeg[i] = Math.asin(Math.min(1, bestSine[i]!)) / RAD;
    result.bestMinute[i] = (k + 0.5) * width;
    const moon = moons[k];
    if (moon) result.moonSeparationDeg[i] = angleDeg([ux[i]!, uy[i]!, uz[i]!], moon);
  }
  result.steps = steps;
  return result;
}

function directions(c: Catalogue): [Float64Array, Float64Array, Float64Array] {
  const n = c.id.length;
  const out: [Float64Array, Float64Array, Float64Array] = [
    new Float64Array(n),
    new Float64Array(n),
    new Float64Array(n),
  ];
  for (let i = 0; i < n; i++) {
    const d = direction(c.raDeg[i]!, c.decDeg[i]!);
    [out[0][i], out[1][i], out[2][i]] = d;
  }
  return out;
}

/** Direction of the Moon in the J2000 frame at each step, null while it is down. */
function moonPlaces(sky: SkyWindow, from: number, widthMin: number, steps: number): (Vec | null)[] {
  return Array.from({ length: steps }, (_, k) => {
    const ms = from + (k + 0.5) * widthMin * 60_000;
    if (sky.moonUpDeg(ms) < 0) return null;
    const p = sky.altAz(sky.moonVector(ms), ms);
    const { zenith, north, east } = sky.zenithJ2000(ms);
    const [sa, ca] = [Math.sin(p.altitudeDeg * RAD), Math.cos(p.altitudeDeg * RAD)];
    const [sz, cz] = [Math.sin(p.azimuthDeg * RAD), Math.cos(p.azimuthDeg * RAD)];
    return unit([0, 1, 2].map((j) => sa * zenith[j]! + ca * (cz * north[j]! + sz * east[j]!)) as unknown as Vec);
  });
}
