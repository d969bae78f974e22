import { darkLeft, type NightOutput } from '@keen/core/sky';
import { clock } from './times.ts';

/** The dark hours and the Moon of a night; once the dark has begun, what is left of it. @param fromMs null for another night than this */
export function darkWords(n: NightOutput, zone: string, fromMs: number | null): string {
  if (n.darkHours === 0) return 'It does not get dark this night';
  const { hours, begun } = darkLeft(n, fromMs);
  const all = `${n.darkHours.toFixed(1)} dark hours`;
  if (begun && hours === 0) return `The ${all} of this night have passed`;
  return `${begun ? `${hours.toFixed(1)} of ${all} are left` : all}, ${moonWords(n, zone)}`;
}
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
