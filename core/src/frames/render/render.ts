import { FWHM_PER_SIGMA } from '../../quantities/index.ts';
import { seeded } from '../../statistics/index.ts';
import { addRing, addStar, broadened, comaSpots, type WidthForm } from './starImage.ts';

export interface DrawnStar {
  x: number;
  y: number;
  electrons: number;
}
export type Edge = 'left' | 'right' | 'bottom' | 'top';

/** Everything a drawn picture consists of; what is left out is not there. Lengths in pixels, light in electrons. */
export interface Scene {
  widthPx: number;
  heightPx: number;
  stars: readonly DrawnStar[];
  /** Of a star in focus, full width at half maximum. */
  seeingFwhmPx: number;
  /** Scatter of guiding along a direction and across it, root mean square. */
  guiding?: { alongPx: number; acrossPx: number; angleDeg: number };
  /** A star moved so far during the frame. */
  drift?: { lengthPx: number; angleDeg: number };
  /** Diameter of the blur disk of a star in the middle; far out a ring. */
  defocusPx?: number;
  /** By how much the width² grows towards the right and the top edge, as a share; a tilted sensor. */
  tilt?: { right: number; top: number };
  /** Extra width of a star in the corners along the radius; negative: across it. The corrector stands wrongly. */
  spacingPx?: number;
  /** Coma: distance from a star’s core to the centre of its light, in the corner outwards and everywhere alike. */
  coma?: { cornerPx?: number; everywherePx?: { x: number; y: number } };
  /** A prism in the light: how much darker the middle of an edge is. */
  prism?: { edge: Edge; depth: number };
  /** Only a part of the picture is lit: from an edge, so many of its widths or heights; beyond lies shadow. */
  lit?: { edge: Edge; share: number };
  /** Shadows of dust: disks with a hole, soft at the rim. */
  dust?: readonly { x: number; y: number; radiusPx: number; depth: number; hole?: number }[];
  /** Light of the stars that cloud lets through, and how much brighter it makes the sky. */
  cloud?: { passes: number; brighter: number };
  satellite?: { from: [number, number]; to: [number, number]; electronsPerPx: number };
  /** Loss of light from the middle to a corner, as a share. */
  vignetting?: number;
  nebula?: readonly { x: number; y: number; sigmaPx: number; peakElectrons: number }[];
  amplifierGlow?: { corner: [0 | 1, 0 | 1]; peakElectrons: number };
  hotPixels?: number;
  hotColumns?: number;
  skyElectrons: number;
  readNoiseElectrons: number;
  electronsPerCount: number;
  biasCounts: number;
  /** Largest count. */
  fullCounts: number;
  seed: number;
}

/** Blur wider than the seeing by this is drawn as a ring. */
const RING = 2.5;
/** The wings of a star end where they are so small a share of the noise. */
const LEFT_OUT = 0.02;

/** The light that falls onto each pixel, without noise [electrons]. */
export function lightOf(s: Scene): Float32Array {
  const { widthPx: w, heightPx: h, seeingFwhmPx: seeing } = s;
  const light = new Float32Array(w * h);
  const passes = s.cloud?.passes ?? 1;
  const faintest = LEFT_OUT * Math.sqrt(s.skyElectrons + s.readNoiseElectrons ** 2 + 1);
  for (const star of s.stars) {
    const seen = { ...star, electrons: star.electrons * passes };
    const [rx, ry] = [(2 * star.x) / (w - 1) - 1, (2 * star.y) / (h - 1) - 1];
    if ((s.defocusPx ?? 0) > RING * seeing) addRing(light, w, h, seen, s.defocusPx!, seeing);
    else
      for (const spot of comaSpots(comaAt(s, rx, ry)))
        addStar(
          light,
          w,
          h,
          { x: seen.x + spot.dx, y: seen.y + spot.dy, electrons: seen.electrons * spot.share },
          widthAt(s, rx, ry),
          faintest,
        );
  }
  for (const n of s.nebula ?? []) addNebula(light, w, h, n);
  if (s.satellite) addStreak(light, w, h, s.satellite, seeing);
  const brighter = s.cloud?.brighter ?? 1;
  for (let y = 0, k = 0; y < h; y++)
    for (let x = 0; x < w; x++, k++) {
      const [rx, ry] = [(2 * x) / (w - 1) - 1, (2 * y) / (h - 1) - 1];
      const fall = 1 - ((s.vignetting ?? 0) * (rx * rx + ry * ry)) / 2;
      light[k] = (light[k]! + s.skyElectrons * brighter) * fall * throughPrism(s, rx, ry) * lightOn(s, rx, ry);
    }
  for (const d of s.dust ?? []) shade(light, w, h, d);
  if (s.amplifierGlow) addGlow(light, w, h, s.amplifierGlow);
  return light;
}

/** Where coma draws the light at a place of the field, from the core to the centre of all of it [px]. */
function comaAt({ coma, widthPx: w, heightPx: h }: Scene, rx: number, ry: number): { x: number; y: number } {
  const [corner, all] = [(coma?.cornerPx ?? 0) / Math.hypot(w, h), coma?.everywherePx];
  return { x: corner * rx * w + (all?.x ?? 0), y: corner * ry * h + (all?.y ?? 0) };
}

/** How wide a star is at a place of the field, −1 to 1 each way. */
function widthAt(s: Scene, rx: number, ry: number): WidthForm {
  const blur = Math.hypot(s.seeingFwhmPx, 0.8 * (s.defocusPx ?? 0));
  const grows = 1 + (s.tilt?.right ?? 0) * rx + (s.tilt?.top ?? 0) * ry;
  const base = blur * blur * Math.max(0.2, grows);
  let width: WidthForm = { xx: base, xy: 0, yy: base };
  if (s.guiding) {
    width = broadened(width, FWHM_PER_SIGMA * s.guiding.alongPx, s.guiding.angleDeg);
    width = broadened(width, FWHM_PER_SIGMA * s.guiding.acrossPx, s.guiding.angleDeg + 90);
  }
  // a straight drift spreads light evenly: standard deviation length/√12
  if (s.drift) width = broadened(width, (FWHM_PER_SIGMA * s.drift.lengthPx) / Math.sqrt(12), s.drift.angleDeg);
  if (s.spacingPx) {
    // grows with the square of the distance from the middle; the corner is at 1
    const far = (rx * rx + ry * ry) / 2;
    const radial = (Math.atan2(ry * s.heightPx, rx * s.widthPx) * 180) / Math.PI;
    width = broadened(width, Math.abs(s.spacingPx) * far, s.spacingPx > 0 ? radial : radial + 90);
  }
  return width;
}

/** Softness of the rim of a speck’s shadow [px]. */
const RIM = 2;
function shade(light: Float32Array, w: number, h: number, d: NonNullable<Scene['dust']>[number]): void {
  const within = (r: number, radius: number) => 1 / (1 + Math.exp((r - radius) / RIM));
  const reach = Math.ceil(d.radiusPx + 6 * RIM);
  for (let y = Math.max(0, Math.floor(d.y) - reach); y <= Math.min(h - 1, Math.ceil(d.y) + reach); y++)
    for (let x = Math.max(0, Math.floor(d.x) - reach); x <= Math.min(w - 1, Math.ceil(d.x) + reach); x++) {
      const r = Math.hypot(x - d.x, y - d.y);
      light[y * w + x]! *= 1 - d.depth * (within(r, d.radiusPx) - (d.hole ? within(r, d.hole * d.radiusPx) : 0));
    }
}

/** Softness of the edge of a shadow, in half widths of the picture. */
const PENUMBRA = 0.08;
function lightOn({ lit }: Scene, rx: number, ry: number): number {
  if (!lit) return 1;
  const from = { left: 1 + rx, right: 1 - rx, bottom: 1 + ry, top: 1 - ry }[lit.edge];
  return 1 / (1 + Math.exp((from - 2 * lit.share) / PENUMBRA));
}

/** Share of the light that passes beside the prism: a soft shadow around the middle of an edge. */
function throughPrism({ prism }: Scene, rx: number, ry: number): number {
  if (!prism) return 1;
  const [out, along] = { left: [-rx, ry], right: [rx, ry], bottom: [-ry, rx], top: [ry, rx] }[prism.edge] as [
    number,
    number,
  ];
  return 1 - prism.depth * Math.exp(-(((1 - out) / 0.25) ** 2) - (along / 0.3) ** 2);
}

function addNebula(light: Float32Array, w: number, h: number, n: NonNullable<Scene['nebula']>[number]): void {
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      light[y * w + x]! += n.peakElectrons * Math.exp(-((x - n.x) ** 2 + (y - n.y) ** 2) / (2 * n.sigmaPx ** 2));
}
function addStreak(
  light: Float32Array,
  w: number,
  h: number,
  s: NonNullable<Scene['satellite']>,
  fwhmPx: number,
): void {
  const [dx, dy] = [s.to[0] - s.from[0], s.to[1] - s.from[1]];
  const length = Math.hypot(dx, dy);
  const sigma = fwhmPx / FWHM_PER_SIGMA;
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const along = ((x - s.from[0]) * dx + (y - s.from[1]) * dy) / length;
      if (along < 0 || along > length) continue;
      const across = ((x - s.from[0]) * dy - (y - s.from[1]) * dx) / length;
      if (Math.abs(across) < 5 * sigma)
        light[y * w + x]! += s.electronsPerPx * Math.exp(-(across ** 2) / (2 * sigma ** 2));
    }
}
function addGlow(light: Float32Array, w: number, h: number, g: NonNullable<Scene['amplifierGlow']>): void {
  const reach = 0.15 * Math.hypot(w, h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      light[y * w + x]! += g.peakElectrons * Math.exp(-Math.hypot(x - g.corner[0] * w, y - g.corner[1] * h) / reach);
}

/** The picture as the camera counts it: light with its own noise, read noise, bias, hot pixels, full where it is full. */
export function renderCounts(s: Scene): Uint16Array {
  const { widthPx: w, heightPx: h } = s;
  const light = lightOf(s);
  const noise = seeded(s.seed).fork('noise');
  const faults = seeded(s.seed).fork('faults');
  const counts = new Uint16Array(w * h);
  for (let k = 0; k < counts.length; k++) {
    const e = light[k]! + Math.sqrt(light[k]! + s.readNoiseElectrons ** 2) * noise.normal();
    counts[k] = Math.min(s.fullCounts, Math.max(0, Math.round(e / s.electronsPerCount + s.biasCounts)));
  }
  for (let i = 0; i < (s.hotPixels ?? 0); i++) {
    const k = Math.floor(faults.next() * counts.length);
    counts[k] = Math.min(s.fullCounts, counts[k]! + Math.round(faults.exponential(0.1) * s.fullCounts));
  }
  for (let i = 0; i < (s.hotColumns ?? 0); i++) {
    const x = Math.floor(faults.next() * w);
    const more = Math.round((10 * Math.sqrt(s.skyElectrons + s.readNoiseElectrons ** 2)) / s.electronsPerCount);
    for (let y = 0; y < h; y++) counts[y * w + x] = Math.min(s.fullCounts, counts[y * w + x]! + more);
  }
  return counts;
}
