import type { z } from 'zod';

export type Method = 'get' | 'post' | 'put' | 'delete';
export type Role = 'watcher' | 'guest' | 'member' | 'steward';

/** One HTTP route: the only place its path, shapes and rights are written. */
export interface Route<P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType, R extends z.ZodType> {
  method: Method;
  /** Express style: /api/rigs/:id */
  path: string;
  summary: string;
  area: string;
  /** Least role that may call it; null: no sign-in needed. */
  role: Role | null;
  /** Its answer holds something told once: it is kept nowhere, not even to answer a repeated request. */
  toldOnce?: true;
  /** Its answer goes on: server-sent events, each with a body of this shape. */
  stream?: true;
  /** Its answer is a file of this kind. */
  file?: string;
  params: P;
  query: Q;
  body: B;
  response: R;
}
export type AnyRoute = Route<z.ZodType, z.ZodType, z.ZodType, z.ZodType>;

export const route = <P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType, R extends z.ZodType>(
  r: Route<P, Q, B, R>,
): Route<P, Q, B, R> => r;
