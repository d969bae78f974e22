/** Frames of one filter at one length that a project wants. */
export interface Goal {
  filter: string;
  exposureS: number;
  quota: number;
}
/** Accepted frames there are of one length of a filter. */
export interface Gathered {
  filter: string;
  exposureS: number;
  done: number;
}

/** Exposures this close are one: headers round them. */
export const SAME_EXPOSURE = 0.005;

type Length = Pick<Goal, 'filter' | 'exposureS'>;

/** A frame counts toward a goal of its filter and exposure. */
export const countsAs = (goal: Length, taken: Length): boolean =>
  goal.filter === taken.filter && Math.abs(goal.exposureS - taken.exposureS) <= SAME_EXPOSURE * goal.exposureS;

/** The goal that frames of this filter and length serve; undefined where none asks for them. */
export const goalFor = <G extends Length>(goals: readonly G[], taken: Length): G | undefined =>
  goals.find((g) => countsAs(g, taken));

/** How many frames there are of what a plan takes through one filter. */
export const framesThere = (gathered: readonly Gathered[], of: { name: string; exposureS: number }): number =>
  goalFor(gathered, { filter: of.name, exposureS: of.exposureS })?.done ?? 0;

/**
 * A leg takes each filter at one length; goals of further lengths go into legs of their own.
 * @returns the goals in as many layers as the filter with most lengths has, each filter once in a layer
 */
export function goalLayers<G extends Length>(goals: readonly G[]): G[][] {
  const layers: G[][] = [];
  for (const g of goals) {
    const layer = layers.find((l) => !l.some((o) => o.filter === g.filter));
    if (layer) layer.push(g);
    else layers.push([g]);
  }
  return layers;
}
