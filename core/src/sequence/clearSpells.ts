import { z } from 'zod';
import { positive } from '../calculation/index.ts';
import type { Random } from '../statistics/index.ts';

/** A site's weather as two states that take turns, each for a time without memory. */
export const ClearSpells = z.strictObject({
  clearMeanMin: positive('min', 'Mean length of a clear spell'),
  cloudMeanMin: positive('min', 'Mean length of a cloudy spell'),
  startClearProbability: z
    .number()
    .min(0)
    .max(1)
    .meta({ description: 'Chance that the night begins clear; left out: the share of time that is clear' })
    .optional(),
});
export type ClearSpells = z.infer<typeof ClearSpells>;

/** Share of time that is clear in the long run. */
export const clearShare = (w: Pick<ClearSpells, 'clearMeanMin' | 'cloudMeanMin'>): number =>
  w.clearMeanMin / (w.clearMeanMin + w.cloudMeanMin);

/**
 * One night's cloudy spells: an alternating renewal process with exponential lengths (a two-state Markov chain in
 * continuous time; textbook).
 * @returns spells inside the span, in order, in whole milliseconds
 */
export function drawSpells(w: ClearSpells, random: Random, startMs: number, endMs: number): [number, number][] {
  const spells: [number, number][] = [];
  let clear = random.next() < (w.startClearProbability ?? clearShare(w));
  let now = startMs;
  while (now < endMs) {
    const until = now + 60_000 * random.exponential(clear ? w.clearMeanMin : w.cloudMeanMin);
    if (!clear) {
      const [a, b] = [Math.round(now), Math.round(Math.min(until, endMs))];
      const last = spells.at(-1);
      if (last && a <= last[1]) last[1] = b;
      else if (b > a) spells.push([a, b]);
    }
    now = until;
    clear = !clear;
  }
  return spells;
}
