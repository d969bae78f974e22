import { api, type AnyRoute, type Problem, type Route, type SessionInfo } from '@keen/contract';
import type { z } from 'zod';

/** What came back: the value, or a problem that says what is wrong. Calls never reject. */
export type Answer<T> = { ok: true; value: T } | { ok: false; problem: Problem };

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

async function once(route: AnyRoute, sent: Sent<z.ZodType, z.ZodType, z.ZodType>): Promise<Answer<unknown>> {
  const path = route.path.replace(/:(\w+)/g, (_, k: string) =>
    encodeURIComponent(String((sent.params as Record<string, unknown>)[k])),
  );
  const query = new URLSearchParams(
    Object.entries((sent.query ?? {}) as Record<string, unknown>).flatMap(([k, v]) =>
      v === undefined || v === null ? [] : [[k, String(v)]],
    ),
  ).toString();
  const hasBody = route.method === 'post' || route.method === 'put';
  try {
    const res = await fetch(query ? `${path}?${query}` : path, {
      method: route.method.toUpperCase(),
      credentials: 'same-origin',
      headers: {
        ...(hasBody ? { 'content-type': 'application/json' } : {}),
        ...(route.method === 'get' ? {} : { 'x-keen-token': token }),
      },
      ...(hasBody ? { body: JSON.stringify(sent.body ?? {}) } : {}),
      signal: AbortSignal.timeout(30_000),
    });
    const body: unknown = await res.json().catch(() => null);
    if (res.ok) return { ok: true, value: body };
    return { ok: false, problem: (body as Problem | null) ?? { ...offline, status: res.status } };
  } catch {
    return { ok: false, problem: offline };
  }
}

/** Calls a route of the contract. A token that has gone stale is fetched anew once. */
export async function call<P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType, R extends z.ZodType>(
  route: Route<P, Q, B, R>,
  sent: Sent<P, Q, B> = {},
): Promise<Answer<z.output<R>>> {
  const plainRoute = route as unknown as AnyRoute;
  let got = await once(plainRoute, sent as Sent<z.ZodType, z.ZodType, z.ZodType>);
  if (!got.ok && got.problem.code === 'bad_token') {
    const session = await once(api.session as unknown as AnyRoute, {});
    if (session.ok) {
      holdToken((session.value as SessionInfo).csrfToken);
      got = await once(plainRoute, sent as Sent<z.ZodType, z.ZodType, z.ZodType>);
    }
  }
  return got as Answer<z.output<R>>;
}

/** One line for a person. */
export const said = (p: Problem): string => p.detail ?? p.title;
