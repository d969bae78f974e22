/** Spellings people and programs use for a filter, folded to letters and digits; common practice, no source. */
const SPELLINGS: Readonly<Record<string, readonly string[]>> = {
  L: ['l', 'lum', 'luminance', 'lumen'],
  R: ['r', 'red'],
  G: ['g', 'green'],
  B: ['b', 'blue'],
  Ha: ['ha', 'halpha', 'hydrogen', 'hydrogenalpha', 'halfa'],
  Hb: ['hb', 'hbeta', 'hydrogenbeta'],
  OIII: ['oiii', 'o3', 'oxygen', 'oxygeniii', 'oxygen3'],
  SII: ['sii', 's2', 'sulphur', 'sulfur', 'sulphurii', 'sulfurii', 'sulfur2', 'sulphur2'],
  NII: ['nii', 'n2', 'nitrogen'],
  colour: ['colour', 'color', 'osc', 'rgb', 'rggb', 'none', 'nofilter', 'empty', 'open'],
  clear: ['clear', 'clr', 'c', 'none', 'nofilter', 'empty', 'open'],
};

const GREEK: Readonly<Record<string, string>> = { α: 'alpha', β: 'beta' };

/** A filter's name without case, signs, and the bandwidth some write behind it: "H-alpha 3nm" is "halpha". */
export const foldedFilter = (name: string): string =>
  name
    .toLowerCase()
    .replace(/[αβ]/g, (c) => GREEK[c]!)
    .replace(/\d+(\.\d+)?\s*nm\b/g, '')
    .replace(/[^a-z0-9]+/g, '');

/** Whether a name is one of the spellings everybody knows. */
export const isKnownFilter = (name: string): boolean =>
  Object.values(SPELLINGS).some((list) => list.includes(foldedFilter(name)));

const meanings = (name: string): string[] => {
  const f = foldedFilter(name);
  const known = Object.entries(SPELLINGS).flatMap(([key, list]) => (list.includes(f) ? [key] : []));
  return known.length ? known : f ? [f] : ['colour', 'clear'];
};

/**
 * Which of a rig's filters a frame's header means; null when none, or more than one, could be meant.
 * @param spelled  as the header has it; empty where it names none
 * @param held     filters the rig holds
 * @param aliases  spellings somebody assigned by hand: folded spelling to filter
 */
export function matchFilter(
  spelled: string,
  held: readonly string[],
  aliases: Readonly<Record<string, string>> = {},
): string | null {
  const assigned = aliases[foldedFilter(spelled)];
  if (assigned && held.includes(assigned)) return assigned;
  if (held.includes(spelled)) return spelled;
  const wanted = meanings(spelled);
  const found = held.filter((h) => meanings(h).some((m) => wanted.includes(m)));
  if (found.length === 1) return found[0]!;
  // with one filter, or none, nothing else can have been in the beam
  return held.length === 1 && spelled.trim() === '' ? held[0]! : null;
}
