import type { RequestHandler } from 'express';
import { Problem } from './problems.ts';

/** Whether the server is about to end, and what it then says to whoever still asks. */
export interface Ending {
  begin: () => void;
  middleware: RequestHandler;
}

export function makeEnding(): Ending {
  let ending = false;
  return {
    begin: () => (ending = true),
    middleware: (_req, res, next) => {
      if (!ending) return next();
      res.setHeader('Connection', 'close');
      throw new Problem('stopping');
    },
  };
}
