import { z } from 'zod';
import { instant, positive, quantity, type Verdict } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

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

/** The same at a moment: begun late it is cold later. */
export function coolingFrom(
  c: Pick<Cooling, 'startAt' | 'minutes'>,
  neededAt: string,
  nowMs: number,
): { late: boolean; beginMs: number; coldMs: number } {
  const [startMs, neededMs] = [Date.parse(c.startAt), Date.parse(neededAt)];
  const late = startMs < nowMs;
  return { late, beginMs: late ? nowMs : startMs, coldMs: late ? nowMs + c.minutes * 60_000 : neededMs };
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
  const values = { setPointC: i.setPointC, yearC: yearRoundC, sharePercent: 100 * Math.max(0, share) };
  const otherC = Math.ceil((i.ambientC - COOLER.steadyShare * i.deepestBelowAmbientC) / 5) * 5;
  const verdict = !reachable
    ? makeVerdict(
        'bad',
        phrase('cooling.out-of-reach', {
          setPointC: i.setPointC,
          belowDeltaC: below,
          reachDeltaC: i.deepestBelowAmbientC,
          otherC,
        }),
      )
    : share > COOLER.steadyShare
      ? makeVerdict('caution', phrase('cooling.strained', values))
      : i.setPointC < yearRoundC
        ? makeVerdict('caution', phrase('cooling.tonight-only', values))
        : makeVerdict('good', phrase('cooling.good', { ...values, waitMin: Math.ceil(minutes) }));
  return { reachable, share, minutes, startAt, yearRoundC, verdict };
}
