import { CancelledError, notifyManager, QueryClient } from '@tanstack/vue-query';
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

const GIVEN_UP: Problem = { type: 'about:blank', title: 'Not asked to its end.', status: 0, code: 'cancelled' };
/** The server answered with a problem. */
export class Refused extends Error {
  readonly problem: Problem;
  constructor(problem: Problem) {
    super(problem.title);
    this.problem = problem;
  }
}

/** The answer to a question, from what is held or asked for anew, for a screen that needs several at once. */
export async function answerTo<T>({ key, ask }: Question<T>): Promise<Outcome<T>> {
  try {
    return { ok: true, value: await serverState.fetchQuery({ queryKey: key, queryFn: () => answerOrRefuse(ask) }) };
  } catch (e) {
    if (e instanceof Refused) return { ok: false, problem: e.problem };
    // somebody else signed in, or signed out: nobody waits for it any more
    if (e instanceof CancelledError) return { ok: false, problem: GIVEN_UP };
    throw e;
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
