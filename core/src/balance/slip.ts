import { median } from '../statistics/index.ts';
import type { Reading } from './pullReading.ts';

/** A pull that looks ten times too strong or too weak. */
export interface Slip {
  /** Its place among the readings. */
  reading: number;
  pull: 'forceTowardN' | 'forceBackN';
  forceN: number;
  likelyN: number;
}

/** A pair of one axis whose pulls differ by this much and agree after a tenfold is a slip of the pen. */
const TENFOLD = { least: 6, most: 16, agree: 1.8 } as const;
/** Friction beyond this is no mount's that a hand turns [N·m]; common practice, no source. */
const STIFF_NM = 3;

const frictionNm = (r: Reading) => ((r.forceBackN + r.forceTowardN) * r.leverMm) / 2000;
const ratio = (a: number, b: number) => Math.max(a, b) / Math.min(a, b);

/**
 * The pull that is probably wrong by a factor of ten. A tube far out of balance also has unlike pulls; it is called a slip
 * only where the friction is beyond any mount's, or unlike that of the other readings of the axis, and is not once the
 * pull is a tenth, or ten times, of what was written.
 */
export function probableSlip(readings: readonly Reading[]): Slip | null {
  for (const [i, r] of readings.entries()) {
    const { forceTowardN: a, forceBackN: b } = r;
    if (!(a > 0 && b > 0)) continue;
    const by = ratio(a, b);
    if (by < TENFOLD.least || by > TENFOLD.most) continue;
    const others = readings.filter((o, k) => k !== i && o.axis === r.axis && frictionNm(o) > 0).map(frictionNm);
    const usual = others.length ? median(others) : null;
    const strong: Slip['pull'] = a > b ? 'forceTowardN' : 'forceBackN';
    const weak: Slip['pull'] = a > b ? 'forceBackN' : 'forceTowardN';
    for (const [pull, likelyN] of [
      [strong, r[strong] / 10],
      [weak, r[weak] * 10],
    ] as const) {
      const mended = { ...r, [pull]: likelyN };
      if (ratio(mended.forceTowardN, mended.forceBackN) > TENFOLD.agree) continue;
      const wrong = usual === null ? frictionNm(r) > STIFF_NM : ratio(frictionNm(r), usual) > 1.5;
      const right = usual === null ? frictionNm(mended) <= STIFF_NM : ratio(frictionNm(mended), usual) < 1.3;
      if (wrong && right) return { reading: i, pull, forceN: r[pull], likelyN };
    }
  }
  return null;
}
