import { squares, withinFilters, type Covariate } from './covariates.ts';

/** Share of a temperature spread that is truly temperature; below it the slope rests on small differences. */
const RELIABLE = 0.9;
/** Beyond that a slope says nothing; an interval needs a number. */
const MOST_FLAT = 20;

/**
 * A noisy thermometer draws the slope too flat: by the share of its noise in the spread within the filters. Null where
 * that hardly matters. Source: attenuation by errors in the regressor, textbook.
 */
export function shrinking(extra: readonly Covariate[], filters: string[], nFilters: number, noiseC: number) {
  const t = extra.find((c) => c.name === 'temperature');
  if (!t || noiseC === 0) return null;
  const within = withinFilters(t.values, filters);
  const dof = Math.max(1, within.length - nFilters);
  const variance = squares(within) / dof;
  if (noiseC ** 2 / variance <= 1 - RELIABLE) return null;
  // few runs know their spread badly: how flat the slope may have been drawn is taken at the spread’s lower end
  const lower = (variance * dof) / (dof + 1.645 * Math.sqrt(2 * dof));
  const reliable = 1 - noiseC ** 2 / lower;
  return {
    spreadC: Math.sqrt(variance),
    noiseC,
    tooFlat: reliable > 0 ? Math.min(MOST_FLAT, (1 - reliable) / reliable) : MOST_FLAT,
  };
}
