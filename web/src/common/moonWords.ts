import type { NightOutput } from '@keen/core/sky';
import { clock } from './times.ts';

/** "until 02:10", "from 19:05", "all night" for the dark part of the night. */
export function moonWords(n: NightOutput, zone: string): string {
  const lit = `${Math.round(100 * n.moon.illumination)} %`;
  if (n.moon.darkMoonlessHours < 0.05) return `Moon (${lit}) up throughout`;
  if (n.moon.darkMoonlessHours > n.darkHours - 0.05) return 'no Moon';
  const [dusk, dawn] = [n.astronomicalDusk!, n.astronomicalDawn!];
  const { rise, set } = n.moon;
  if (rise && rise > dusk && rise < dawn) return `Moon (${lit}) from ${clock(rise, zone)}`;
  if (set && set > dusk && set < dawn) return `Moon (${lit}) until ${clock(set, zone)}`;
  return `Moon (${lit}) for part of it`;
}
