/** A focus run as a night is held against offsets by. */
export interface NightRun {
  filter: string;
  position: number;
  /** One standard deviation [steps]; null where the curve gave none. */
  error: number | null;
  temperatureC: number | null;
}
export interface HeldAgainst {
  /** By filter, steps from the reference. */
  offsets: Readonly<Record<string, { steps: number }>>;
  temperatureStepsPerC: number | null;
}
/** How a night’s own focus runs agree with offsets that were adopted before. */
export interface NightAgreement {
  runs: number;
  /** Root of the mean square of what is left after the night’s own starting point [steps]. */
  leftSteps: number;
  /** The filter whose runs lie farthest off, and by how much [steps]. */
  worst: { filter: string; steps: number };
  /** Chance that runs as good as these would lie so far off if the offsets held. */
  chance: number;
  agrees: boolean;
}

/** Below this chance a night is said to disagree; common practice, no source. One night in a hundred is accused wrongly. */
const ALARM = 0.01;

/**
 * Holds one night against offsets and slope. Where the focuser began is the night’s own: only what filters and temperature do
 * against each other is judged. The uncertainty of the adopted offsets themselves is not in it.
 * @param scatterSteps how far good runs of this train scatter beyond their own error
 * @returns null with fewer than three runs through filters that have an offset
 */
export function nightAgainst(
  adopted: HeldAgainst,
  runs: readonly NightRun[],
  scatterSteps: number,
): NightAgreement | null {
  const slope = adopted.temperatureStepsPerC ?? 0;
  const known = runs.filter((r) => r.filter in adopted.offsets && (slope === 0 || r.temperatureC !== null));
  if (known.length < 3) return null;
  const left = known.map((r) => r.position - adopted.offsets[r.filter]!.steps - slope * (r.temperatureC ?? 0));
  const weights = known.map((r) => 1 / Math.max(1e-9, (r.error ?? 0) ** 2 + scatterSteps ** 2));
  const start = left.reduce((s, x, i) => s + x * weights[i]!, 0) / weights.reduce((s, w) => s + w, 0);
  const off = left.map((x) => x - start);
  const chi2 = off.reduce((s, x, i) => s + x ** 2 * weights[i]!, 0);
  const chance = beyondChi2(chi2, known.length - 1);
  const filters = [...new Set(known.map((r) => r.filter))];
  const meanOf = (f: string) => {
    const own = off.filter((_, i) => known[i]!.filter === f);
    return own.reduce((s, x) => s + x, 0) / own.length;
  };
  const worst = filters
    .map((filter) => ({ filter, steps: meanOf(filter) }))
    .reduce((a, b) => (Math.abs(b.steps) > Math.abs(a.steps) ? b : a));
  return {
    runs: known.length,
    leftSteps: Math.sqrt(off.reduce((s, x) => s + x ** 2, 0) / known.length),
    worst,
    chance,
    agrees: chance >= ALARM,
  };
}

/** Spread of temperature over a night below which its runs tell no slope [°C]; common practice, no source. */
const SPREAD_C = 1;
/**
 * How far focus moved for a degree over one night, filters apart: each filter’s own middle is taken off first [steps/°C].
 * Null with fewer than four runs that know their temperature, or where it hardly changed.
 */
export function nightSlope(runs: readonly NightRun[]): number | null {
  const known = runs.flatMap((r) => (r.temperatureC === null ? [] : [{ ...r, temperatureC: r.temperatureC }]));
  const air = known.map((r) => r.temperatureC);
  if (known.length < 4 || Math.max(...air) - Math.min(...air) < SPREAD_C) return null;
  let [tp, tt] = [0, 0];
  for (const filter of new Set(known.map((r) => r.filter))) {
    const own = known.filter((r) => r.filter === filter);
    const [mt, mp] = [
      own.reduce((s, r) => s + r.temperatureC, 0) / own.length,
      own.reduce((s, r) => s + r.position, 0) / own.length,
    ];
    for (const r of own) [tp, tt] = [tp + (r.temperatureC - mt) * (r.position - mp), tt + (r.temperatureC - mt) ** 2];
  }
  return tt > 0 ? tp / tt : null;
}

/** Chance that a sum of so many squares is larger (Wilson & Hilferty 1931, good to a few thousandths). */
function beyondChi2(chi2: number, dof: number): number {
  const k = 2 / (9 * dof);
  const z = (Math.cbrt(chi2 / dof) - (1 - k)) / Math.sqrt(k);
  return 1 - normalBelow(z);
}
/** Abramowitz & Stegun 1964, 26.2.17, good to 7.5e-8. */
function normalBelow(z: number): number {
  const t = 1 / (1 + 0.2316419 * Math.abs(z));
  const poly = t * (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
  const tail = (Math.exp(-(z ** 2) / 2) / Math.sqrt(2 * Math.PI)) * poly;
  return z >= 0 ? 1 - tail : tail;
}

/** What refocusing the main camera does to an off-axis guide camera, which no filter stands before. */
export interface GuideShift {
  filter: string;
  /** How far the guide camera lies from its focus [µm of travel]. */
  offUm: number;
  /** The blur that makes of a star [px of the guide camera]. */
  blurPx: number;
}
/** Blur that a guide star of ordinary width does not show [px]; common practice, no source. */
export const HARMLESS_BLUR_PX = 3;

/**
 * The focuser moves the prism along: focused through one filter, the guide camera is off by the other’s offset. Blur is the
 * cone’s width at that distance (geometry; the seeing’s own width is not in it).
 * @param from the filter the guide camera was focused with
 */
export function guideShifts(
  offsets: Readonly<Record<string, { steps: number }>>,
  of: { stepUm: number; focalRatio: number; guidePixelUm: number; from: string },
): GuideShift[] {
  const home = offsets[of.from]?.steps ?? 0;
  return Object.entries(offsets).map(([filter, { steps }]) => {
    const offUm = (steps - home) * of.stepUm;
    return { filter, offUm, blurPx: Math.abs(offUm) / of.focalRatio / of.guidePixelUm };
  });
}
/** The filter to focus the guide camera with, so that the worst of the others is least off. */
export function bestHome(offsets: Readonly<Record<string, { steps: number }>>): string | null {
  const all = Object.entries(offsets).sort((a, b) => a[1].steps - b[1].steps);
  if (all.length === 0) return null;
  const middle = (all[0]![1].steps + all.at(-1)![1].steps) / 2;
  return all.reduce((best, o) => (Math.abs(o[1].steps - middle) < Math.abs(best[1].steps - middle) ? o : best))[0];
}
