import type { LogSample } from './logSample.ts';
import { stillSpot } from './stillSpot.ts';

export interface Masks {
  /** Locked on something that does not move. */
  locked: boolean[];
  /** Hardly moving, and nothing in the log to tell a hot pixel from a superb mount by. */
  suspected: boolean[];
  /** Guided (or measured) and not locked: what the tests look at. */
  clean: boolean[];
  /** The same with settling samples, for backlash. */
  withSettling: boolean[];
}

/** Samples that may be judged, and what hangs on a still spot. A spot that is only suspected takes part in everything. */
export function marked(samples: readonly LogSample[]): Masks {
  const { still, stillness } = stillSpot(samples);
  const locked = stillness === 'lock' ? still : samples.map(() => false);
  const guided = samples.some((s) => s.state === 'guiding');
  const judged = (s: LogSample) => s.state === (guided ? 'guiding' : 'off');
  return {
    locked,
    suspected: stillness === 'suspect' ? still : samples.map(() => false),
    clean: samples.map((s, i) => judged(s) && !locked[i]),
    withSettling: samples.map((s, i) => (judged(s) || s.state === 'settling') && !locked[i]),
  };
}
