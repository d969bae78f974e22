import { notifyManager, QueryClient } from '@tanstack/vue-query';
import type { Outcome } from '../common/outcome.ts';
import type { Problem } from '@keen/contract';

/** What the server said, once for the whole page: whoever asks the same question reads the same answer. */
export const serverState = new QueryClient({
  defaultOptions: {
    queries: {
      // a failure is said at once, with a button; without a connection too
      retry: false,
      networkMode: 'always',
      refetchOnWindowFocus: false,
      refetchOnReconnect: false,
      gcTime: 10 * 60_000,
      // answers are large and never changed in place
      structuralSharing: false,
    },
  },
});
notifyManager.setScheduler(queueMicrotask);

/** A question to the server: what it hangs on, and how it is asked. */
export interface Question<T> {
  key: readonly (string | number)[];
  ask: () => Promise<Outcome<T>>;
}

/** The server answered with a problem. */
export class Refused extends Error {
  readonly problem: Problem;
  constructor(problem: Problem) {
    super(problem.title);
    this.problem = problem;
  }
}

export async function answerOrRefuse<T>(ask: () => Promise<Outcome<T>>): Promise<T> {
  const got = await ask();
  if (got.ok) return got.value;
  throw new Refused(got.problem);
}

/** What was held of a question has changed on the server: whoever shows it asks anew. */
export const outOfDate = (...keys: readonly (readonly (string | number)[])[]): Promise<unknown> =>
  Promise.all(keys.map((queryKey) => serverState.invalidateQueries({ queryKey })));
