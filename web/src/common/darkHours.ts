import type { SiteRecord } from '@keen/contract';
import { darkSpell, nightFrame, SUN_ALTITUDE } from '@keen/core/sky';
import { valueOrNull } from './outcome.ts';
import { coreSite } from './records.ts';

/** The dark of a night, astronomical where there is any, else nautical, else civil; null in a white night [ms]. */
export function darkHours(site: SiteRecord, night: string): { fromMs: number; toMs: number } | null {
  const frame = valueOrNull(() => nightFrame(coreSite(site), night));
  if (!frame) return null;
  for (const kind of ['astronomical', 'nautical', 'civil'] as const) {
    const spell = darkSpell(frame, SUN_ALTITUDE[kind]);
    if (spell) return { fromMs: spell[0], toMs: spell[1] };
  }
  return null;
}
