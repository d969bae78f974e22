import type { AnyRoute, Route } from '@keen/contract';
import { parseInput } from '@keen/core';
import type { Request, Response, Router } from 'express';
import type { z } from 'zod';
import { demandRole } from './access/index.ts';
import { doneOnce } from './answered.ts';
import type { Actor, Store } from './store.ts';

interface Call<P, Q, B> {
  params: P;
  query: Q;
  body: B;
  /** The signed-in member; present on every route that names a role. */
  who: Actor;
  req: Request;
  res: Response;
}

export type Serve = <P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType, R extends z.ZodType>(
  route: Route<P, Q, B, R>,
  work: (call: Call<z.output<P>, z.output<Q>, z.output<B>>) => Promise<z.input<R>>,
) => void;

/** Binds contract routes to a router: check rights, validate, call once, reply. */
export const serveOn =
  (router: Router, store: Store): Serve =>
  (route, work) => {
    const r = route as unknown as AnyRoute;
    router[r.method](r.path, async (req, res) => {
      const who = r.role ? await demandRole(store, req, r.role) : (null as unknown as Actor);
      const hasBody = r.method === 'post' || r.method === 'put';
      const asked = {
        params: parseInput(route.params, req.params),
        query: parseInput(route.query, req.query),
        body: parseInput(route.body, hasBody ? (req.body ?? {}) : {}),
        who,
        req,
        res,
      };
      const key = req.get('idempotency-key');
      const result =
        who && r.method === 'post' ? await doneOnce(store, who, key, req.path, () => work(asked)) : await work(asked);
      res.set('Cache-Control', 'no-store').json(result);
    });
  };
