import { entryAt, type Catalogue, type CatalogueEntry, type NightScan } from './catalogue.ts';

/** Kinds as people ask for them, with the catalogue's codes. */
export const KINDS = {
  galaxies: ['g', 's', 's0', 'sd', 'i', 'e', 'gg'],
  nebulae: ['en', 'bn', 'sfr', 'snr'],
  reflection: ['rn'],
  planetary: ['pn'],
  dark: ['dn'],
  globular: ['gc'],
  open: ['oc', 'as', 'sc'],
} as const satisfies Record<string, readonly string[]>;
export type Kind = keyof typeof KINDS;

/** How large an object is against the field’s short side. */
export type SizeCriteria = 'any' | 'small' | 'fits' | 'mosaic';
/** Shares of the short side at which one becomes the next: common practice, no source. */
const SMALL_BELOW = 0.15;
const MOSAIC_ABOVE = 1;
export const sizeOf = (share: number): Exclude<SizeCriteria, 'any'> =>
  share < SMALL_BELOW ? 'small' : share <= MOSAIC_ABOVE ? 'fits' : 'mosaic';

/** What a person looks for tonight. Nothing asked for: what suits the field and is often photographed. */
export interface TonightCriteria {
  /** Empty: all. */
  kinds: readonly Kind[];
  size: SizeCriteria;
  leastHours: number;
  leastAltitudeDeg: number;
  leastMoonDeg: number;
  /** How far the object’s mean surface brightness may lie below the sky’s [mag/arcsec²]; null: any, also where it is not known. */
  belowSkyMag: number | null;
  /** Which hours count: all, or those the Moon leaves for broadband or for narrow lines. */
  light: 'any' | 'broad' | 'line';
}
export const ANYTHING: TonightCriteria = {
  kinds: [],
  size: 'any',
  leastHours: 1,
  leastAltitudeDeg: 0,
  leastMoonDeg: 0,
  belowSkyMag: null,
  light: 'any',
};

export interface Suggestion extends CatalogueEntry {
  minutes: number;
  broadMinutes: number;
  lineMinutes: number;
  bestAltitudeDeg: number;
  moonSeparationDeg: number;
  /** Mean over the ellipse of the catalogue’s size [mag/arcsec²]; null without magnitude or size. */
  surfaceMag: number | null;
  score: number;
}

/** Kinds nobody is sent to unasked. */
const LEFT_OUT = new Set(['dn', 'ds', 'sc']);
/** For a known nebula without a magnitude. */
const UNKNOWN_MAG = 9;
/** Fainter than this nobody is sent to unasked. */
const FAINTEST = 13;

/** All light spread evenly over an ellipse [mag/arcsec²]. */
export function surfaceMagOf(
  mag: number | null,
  majorArcmin: number | null,
  minorArcmin: number | null,
): number | null {
  if (mag === null || !majorArcmin) return null;
  const area = (Math.PI / 4) * majorArcmin * (minorArcmin ?? majorArcmin) * 3600;
  return mag + 2.5 * Math.log10(area);
}

/**
 * The objects that suit a field tonight: long workable, high, away from the Moon, and neither lost in the field nor
 * beyond it; of those asked for, where something is. The weighting is ours; it orders a list and decides nothing else.
 * @returns the best, and how many there were
 */
export function pickTonight(
  c: Catalogue,
  scan: NightScan,
  of: { shortSideArcmin: number; moonlit: number; skyMag: number; criteria: TonightCriteria },
  limit = 40,
): { objects: Suggestion[]; matched: number } {
  const { criteria } = of;
  const kinds: ReadonlySet<string> = new Set(criteria.kinds.flatMap((k) => KINDS[k]));
  const minutesOf =
    criteria.light === 'any' ? scan.minutes : criteria.light === 'broad' ? scan.broadMinutes : scan.lineMinutes;
  const found: Suggestion[] = [];
  for (let i = 0; i < c.id.length; i++) {
    const minutes = scan.minutes[i]!;
    const size = c.majorArcmin[i];
    const counted = minutesOf[i]!;
    if (counted <= 0 || counted < 60 * criteria.leastHours || !size) continue;
    if (scan.bestAltitudeDeg[i]! < criteria.leastAltitudeDeg || scan.moonSeparationDeg[i]! < criteria.leastMoonDeg)
      continue;
    const type = c.type[i]!;
    if (kinds.size ? !kinds.has(type) : LEFT_OUT.has(type)) continue;
    const share = size / of.shortSideArcmin;
    if (criteria.size !== 'any' && sizeOf(share) !== criteria.size) continue;
    const known = c.name[i] !== null || c.id[i]!.startsWith('M ');
    // large nebulae have no magnitude worth the name: the known ones are taken as what is often photographed
    const mag = c.mag[i] ?? (known || kinds.size ? UNKNOWN_MAG : null);
    if (mag === null || (mag > FAINTEST && kinds.size === 0)) continue;
    const surfaceMag = surfaceMagOf(c.mag[i]!, size, c.minorArcmin[i]!);
    if (criteria.belowSkyMag !== null && (surfaceMag === null || surfaceMag - of.skyMag > criteria.belowSkyMag))
      continue;
    const score = scoreOf(c, i, {
      share,
      mag,
      known,
      counted,
      moon: scan.moonSeparationDeg[i]!,
      altitudeDeg: scan.bestAltitudeDeg[i]!,
      moonlit: of.moonlit,
      sized: criteria.size !== 'any',
    });
    if (score > (kinds.size || criteria.size !== 'any' ? 0 : 0.02))
      found.push({
        ...entryAt(c, i),
        minutes,
        broadMinutes: scan.broadMinutes[i]!,
        lineMinutes: scan.lineMinutes[i]!,
        bestAltitudeDeg: scan.bestAltitudeDeg[i]!,
        moonSeparationDeg: scan.moonSeparationDeg[i]!,
        surfaceMag,
        score,
      });
  }
  return { objects: found.sort((a, b) => b.score - a.score).slice(0, limit), matched: found.length };
}

function scoreOf(
  c: Catalogue,
  i: number,
  of: {
    share: number;
    mag: number;
    known: boolean;
    counted: number;
    moon: number;
    altitudeDeg: number;
    moonlit: number;
    sized: boolean;
  },
): number {
  const off = of.share < 0.08 || of.share > 1.1;
  const fits = of.sized ? 1 : off ? 0 : Math.exp(-((Math.log(of.share / 0.45) / 0.9) ** 2));
  const moonCost = of.moon >= 180 ? 1 : 1 - of.moonlit * Math.exp(-of.moon / 60);
  const height = Math.sin((of.altitudeDeg * Math.PI) / 180);
  const bright = Math.max(0.05, Math.min(1, (14 - of.mag) / 7));
  const liked = (of.known ? 1 : 0.45) * (c.type[i] === 'oc' || c.type[i] === 'as' ? 0.4 : 1);
  return liked * fits * moonCost * height * bright * Math.min(1, of.counted / 300);
}
