import { api, MOST_A_PAGE, type AnyRoute, type Page, type Problem, type Route, type SessionInfo } from '@keen/contract';
import type { z } from 'zod';
import type { Outcome } from '../common/outcome.ts';

let token = '';
export const holdToken = (t: string): void => {
  token = t;
};

const offline: Problem = {
  type: 'about:blank',
  title: 'The server does not answer. What you typed is kept here; try again when the connection is back.',
  status: 0,
  code: 'offline',
};

interface Sent<P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType> {
  params?: z.input<P>;
  query?: z.input<Q>;
  body?: z.input<B>;
}

/** How long the same creating request keeps its key: after it was done (a second click), and after its answer was lost [ms]. */
const KEPT_MS = { done: 2_000, lost: 600_000 };
const keys = new Map<string, { key: string; until: number; done?: boolean }>();
/** One key for one intention: the same request sent again within that time is the same request. */
function keyOf(what: string): string {
  for (const [k, v] of keys) if (v.until < Date.now()) keys.delete(k);
  const known = keys.get(what) ?? { key: newKey(), until: Infinity };
  keys.set(what, known);
  return known.key;
}
const newKey = () =>
  Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) => b.toString(16).padStart(2, '0')).join('');
/** Something was done: the same request as one before it is another intention now. */
function doneSince(what: string) {
  for (const [k, v] of keys) if (v.done && k !== what) keys.delete(k);
}
function ended(what: string, how: 'done' | 'lost' | 'refused') {
  const known = keys.get(what);
  if (!known) return;
  known.done = how === 'done';
  if (how === 'refused') keys.delete(what);
  else known.until = Date.now() + KEPT_MS[how];
}

/** When this tab last changed something [ms since it was opened]. */
let wroteAt = -Infinity;
/** Whether this tab changed something just now: what comes of that it has read by itself. */
export const wroteJustNow = (): boolean => performance.now() - wroteAt < JUST_NOW_MS;
const JUST_NOW_MS = 3_000;

/** The address of a route with its parameters. */
export const pathOf = (route: Pick<AnyRoute, 'path'>, params: Readonly<Record<string, unknown>>): string =>
  route.path.replace(/:(\w+)/g, (_, k: string) => encodeURIComponent(String(params[k])));

async function once(route: AnyRoute, sent: Sent<z.ZodType, z.ZodType, z.ZodType>): Promise<Outcome<unknown>> {
  const path = pathOf(route, sent.params as Record<string, unknown>);
  const query = new URLSearchParams(
    Object.entries((sent.query ?? {}) as Record<string, unknown>).flatMap(([k, v]) =>
      v === undefined || v === null ? [] : [[k, String(v)]],
    ),
  ).toString();
  const hasBody = route.method === 'post' || route.method === 'put';
  const text = hasBody ? JSON.stringify(sent.body ?? {}) : '';
  const what = route.method === 'post' ? `${path} ${text}` : '';
  if (route.method !== 'get') wroteAt = performance.now();
  try {
    const res = await fetch(query ? `${path}?${query}` : path, {
      method: route.method.toUpperCase(),
      credentials: 'same-origin',
      headers: {
        ...(hasBody ? { 'content-type': 'application/json' } : {}),
        ...(route.method === 'get' ? {} : { 'x-keen-token': token }),
        ...(what ? { 'idempotency-key': keyOf(what) } : {}),
      },
      ...(hasBody ? { body: text } : {}),
      signal: AbortSignal.timeout(30_000),
    });
    const body: unknown = await res.json().catch(() => null);
    if (route.method !== 'get') wroteAt = performance.now();
    ended(what, res.ok ? 'done' : 'refused');
    if (res.ok && route.method !== 'get') doneSince(what);
    if (res.ok) return { ok: true, value: body };
    return { ok: false, problem: (body as Problem | null) ?? { ...offline, status: res.status } };
  } catch {
    ended(what, 'lost');
    return { ok: false, problem: offline };
  }
}

/** Asks the person for password and code; true once they were right. The page gives it. */
let askProof: (() => Promise<boolean>) | null = null;
export const onProofNeeded = (ask: (() => Promise<boolean>) | null): void => {
  askProof = ask;
};

/** Calls a route of the contract; never rejects. A token that has gone stale is fetched anew once. */
export async function call<P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType, R extends z.ZodType>(
  route: Route<P, Q, B, R>,
  sent: Sent<P, Q, B> = {},
): Promise<Outcome<z.output<R>>> {
  const plainRoute = route as unknown as AnyRoute;
  let got = await once(plainRoute, sent as Sent<z.ZodType, z.ZodType, z.ZodType>);
  if (!got.ok && got.problem.code === 'bad_token') {
    const session = await once(api.session as unknown as AnyRoute, {});
    if (session.ok) {
      holdToken((session.value as SessionInfo).csrfToken);
      got = await once(plainRoute, sent as Sent<z.ZodType, z.ZodType, z.ZodType>);
    }
  }
  if (!got.ok && got.problem.code === 'proof_needed' && askProof && (await askProof()))
    got = await once(plainRoute, sent as Sent<z.ZodType, z.ZodType, z.ZodType>);
  return got as Outcome<z.output<R>>;
}

/**
 * Every page of a list. Somebody may add or take away a record between two pages: none is given twice; one that slipped
 * through comes with the next reading.
 */
export async function callAll<
  T extends { id: string },
  P extends z.ZodType,
  Q extends typeof Page,
  B extends z.ZodType,
>(route: Route<P, Q, B, z.ZodType<T[]>>, sent: Sent<P, Q, B> = {}): Promise<Outcome<T[]>> {
  const all = new Map<string, T>();
  for (let from = 0; ; from += MOST_A_PAGE) {
    const got = await call(route, { ...sent, query: { ...sent.query, from, count: MOST_A_PAGE } } as Sent<P, Q, B>);
    if (!got.ok) return got;
    for (const r of got.value) all.set(r.id, r);
    if (got.value.length < MOST_A_PAGE) return { ok: true, value: [...all.values()] };
  }
}
