import type { Goal } from '../record/index.ts';
import type { Overheads } from './schemas.ts';

type Length = Pick<Goal, 'filter' | 'exposureS'>;

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

/** A focus run comes about so often while a project is worked for [min]; our own judgement, no source. */
const FOCUS_EVERY_MIN = 60;
/** Frames between two dithers, where no plan says otherwise; our own judgement, no source. */
const DITHER_EVERY = 3;

/**
 * Time a rig needs for what is still wanted, before any plan is made: frames with their reading out, a dither every third,
 * a focus run an hour [min].
 */
export function neededMinutes(
  wanted: readonly { left: number; exposureS: number }[],
  overheads: Pick<Overheads, 'downloadS' | 'ditherS' | 'autofocusS'>,
): number {
  const frameS = (exposureS: number) => exposureS + overheads.downloadS + overheads.ditherS / DITHER_EVERY;
  const minutes = wanted.reduce((s, g) => s + g.left * frameS(g.exposureS), 0) / 60;
  return minutes * (1 + overheads.autofocusS / 60 / FOCUS_EVERY_MIN);
}
