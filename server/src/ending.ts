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
      if (!ending) {
        // a request begun before the end is answered, and its connection not kept
        const { writeHead } = res;
        res.writeHead = function (this: typeof res, ...args: unknown[]) {
          if (ending && !res.headersSent) res.setHeader('Connection', 'close');
          return (writeHead as (...a: unknown[]) => typeof res).apply(this, args);
        } as typeof res.writeHead;
        next();
        return;
      }
      res.setHeader('Connection', 'close');
      throw new Problem('stopping');
    },
  };
}
