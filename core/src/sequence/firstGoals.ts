const LINES = /^(h|o|s|h-?alpha|h-?beta|(ha|hb|oiii|o3|sii|s2|nii|haoiii).*)$/i;
/** Kinds of objects that shine in lines. */
const IN_LINES = new Set(['en', 'bn', 'pn', 'snr', 'sfr']);
/** Exposure and frames to begin with, to be corrected; common practice, no source. */
const BEGIN = { lineS: 300, broadS: 120, framesEach: 40, framesOfOne: 120 } as const;

/** Filters that let a sliver of the light through, and the others; by their names, in the order of the wheel. */
export const splitFilters = (filters: readonly string[]) => ({
  narrow: filters.filter((f) => LINES.test(f)),
  broad: filters.filter((f) => !LINES.test(f)),
});

/** Nothing but slivers of the light: the Moon hardly matters. */
export const onlyNarrow = (filters: readonly string[]): boolean =>
  filters.length > 0 && splitFilters(filters).broad.length === 0;

/**
 * A first goal for an object: narrow filters for what shines in lines, the others for stars and galaxies; whatever
 * there is, if only one sort.
 * @param type kind of the object in the catalogue
 * @param filters names in the order of the wheel
 */
export function firstGoals(
  type: string,
  filters: readonly string[],
): { filter: string; exposureS: number; quota: number }[] {
  const { narrow, broad } = splitFilters(filters);
  const lines = IN_LINES.has(type) && narrow.length > 0;
  const chosen = lines || broad.length === 0 ? narrow : broad;
  return chosen.slice(0, 12).map((filter) => ({
    filter,
    exposureS: lines ? BEGIN.lineS : BEGIN.broadS,
    quota: chosen.length > 1 ? BEGIN.framesEach : BEGIN.framesOfOne,
  }));
}
