import { sameExposure } from './exposure.ts';

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
type Length = Pick<Goal, 'filter' | 'exposureS'>;

/** What the frames of a leg count for: its project, or one panel of it. */
export const goalKey = (leg: { projectId: string; panel: number | null }): string =>
  leg.panel === null ? leg.projectId : `${leg.projectId}/${leg.panel}`;

/** A frame counts toward a goal of its filter and exposure. */
export const countsAs = (goal: Length, taken: Length): boolean =>
  goal.filter === taken.filter && sameExposure(goal.exposureS, taken.exposureS);

/** The goal that frames of this filter and length serve; undefined where none asks for them. */
export const goalFor = <G extends Length>(goals: readonly G[], taken: Length): G | undefined =>
  goals.find((g) => countsAs(g, taken));

/** How many frames there are of what a plan takes through one filter. */
export const framesThere = (gathered: readonly Gathered[], of: { name: string; exposureS: number }): number =>
  goalFor(gathered, { filter: of.name, exposureS: of.exposureS })?.done ?? 0;
