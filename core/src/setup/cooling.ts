import { z } from 'zod';
import { instant, positive, quantity, type Verdict } from '../calculation/index.ts';

/** How deep and how fast a cooled camera goes when nobody measured it; common values, no source. */
export const COOLER = { deepestBelowAmbientC: 35, ratePerMinC: 2, settleMin: 5, steadyShare: 0.85 } as const;

export const CoolingInput = z.strictObject({
  ambientC: quantity('°C', 'Air at dusk'),
  setPointC: quantity('°C', 'Wanted temperature of the sensor'),
  /** The first frame that must be at the set point. */
  neededAt: instant('First frame'),
  warmestNightC: quantity('°C', 'Air on the warmest night of the year'),
  deepestBelowAmbientC: positive('°C', 'Deepest below ambient').default(COOLER.deepestBelowAmbientC),
  ratePerMinC: positive('°C/min', 'Rate').default(COOLER.ratePerMinC),
});
export type CoolingInput = z.infer<typeof CoolingInput>;

export interface Cooling {
  reachable: boolean;
  /** Share of the cooler's reach in use at the set point. */
  share: number;
  minutes: number;
  startAt: string;
  /** Coldest whole multiple of five degrees that every night of the year can hold. */
  yearRoundC: number;
  verdict: Verdict;
}

/**
 * When to start the cooler, whether tonight's air lets it reach its set point, and the one set point that serves a whole
 * year of darks. A cooler is taken to hold steady up to 85 % of its reach (common practice, no source).
 */
export function cooling(i: CoolingInput): Cooling {
  const below = i.ambientC - i.setPointC;
  const share = below / i.deepestBelowAmbientC;
  const minutes = Math.max(0, below) / i.ratePerMinC + COOLER.settleMin;
  const startAt = new Date(Date.parse(i.neededAt) - minutes * 60_000).toISOString();
  const coldest = i.warmestNightC - COOLER.steadyShare * i.deepestBelowAmbientC;
  const yearRoundC = Math.ceil((coldest - 1e-9) / 5) * 5;
  const reachable = share <= 1;
  const c = (v: number) => `${v.toFixed(0).replace('-', '−')} °C`;
  const verdict: Verdict = !reachable
    ? {
        level: 'bad',
        text: `${c(i.setPointC)} is out of reach tonight: ${below.toFixed(0)} °C below the air, the cooler does ${i.deepestBelowAmbientC.toFixed(0)}. Take ${c(Math.ceil((i.ambientC - COOLER.steadyShare * i.deepestBelowAmbientC) / 5) * 5)}.`,
      }
    : share > COOLER.steadyShare
      ? {
          level: 'caution',
          text: `${c(i.setPointC)} takes ${(100 * share).toFixed(0)} % of the cooler’s reach; it may not hold steady. ${c(yearRoundC)} would, all year.`,
        }
      : {
          level: i.setPointC < yearRoundC ? 'caution' : 'good',
          text:
            i.setPointC < yearRoundC
              ? `${c(i.setPointC)} is reached tonight, but not on the warmest night: a second dark library. ${c(yearRoundC)} serves all year.`
              : `${c(i.setPointC)} is reached in ${Math.ceil(minutes)} min at ${(100 * Math.max(0, share)).toFixed(0)} % of the cooler’s reach, and on the warmest night too.`,
        };
  return { reachable, share, minutes, startAt, yearRoundC, verdict };
}
