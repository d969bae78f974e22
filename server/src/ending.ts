import type { RequestHandler } from 'express';
import { Problem } from './problems.ts';

/**
 * How a server comes to its end: it says that it takes nobody new, so that a balancer sends them elsewhere, and answers all the
 * same; then it refuses, and what was begun is answered.
 */
export interface Ending {
  /** Still at work, but to be passed over. */
  drain: () => void;
  begin: () => void;
  isReady: () => boolean;
  /** What is ended as soon as nobody new is taken. */
  onDrain: (what: () => void) => void;
  middleware: RequestHandler;
}

export function makeEnding(): Ending {
  let at: 'work' | 'draining' | 'ending' = 'work';
  const drained: (() => void)[] = [];
  return {
    drain: () => {
      at = 'draining';
      for (const what of drained.splice(0)) what();
    },
    begin: () => {
      at = 'ending';
      for (const what of drained.splice(0)) what();
    },
    onDrain: (what) => void drained.push(what),
    isReady: () => at === 'work',
    middleware: (_req, res, next) => {
      if (at === 'work') return next();
      res.setHeader('Connection', 'close');
      if (at === 'draining') return next();
      throw new Problem('stopping');
    },
  };
}
