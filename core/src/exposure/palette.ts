/** Ways of making a picture from filters, with the share of the time each gets; shares are common practice, no source. */
export interface Palette {
  id: string;
  name: string;
  /** Share of the time, by the filter's plain name. */
  shares: Readonly<Record<string, number>>;
}
export const PALETTES: readonly Palette[] = [
  { id: 'lrgb', name: 'LRGB', shares: { L: 3, R: 1, G: 1, B: 1 } },
  { id: 'rgb', name: 'RGB', shares: { R: 1, G: 1, B: 1 } },
  { id: 'sho', name: 'SHO', shares: { SII: 1, Ha: 1, OIII: 1 } },
  { id: 'hoo', name: 'HOO', shares: { Ha: 1, OIII: 1 } },
];

/**
 * Hours shared out as frames. Whole frames of each filter, at least one, nearest to its share of the time.
 * @param shares by filter; those of 0 or without an exposure are left out
 * @param exposureS by filter
 */
export function goalsOf(
  hours: number,
  shares: Readonly<Record<string, number>>,
  exposureS: Readonly<Record<string, number>>,
): { filter: string; exposureS: number; quota: number }[] {
  const wanted = Object.entries(shares).filter(([f, share]) => share > 0 && (exposureS[f] ?? 0) > 0);
  const all = wanted.reduce((s, [, share]) => s + share, 0);
  return wanted.map(([filter, share]) => ({
    filter,
    exposureS: exposureS[filter]!,
    quota: Math.min(9999, Math.max(1, Math.round((3600 * hours * share) / all / exposureS[filter]!))),
  }));
}
