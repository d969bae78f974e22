import type { AnyRoute, Route, SecurityKind } from '@keen/contract';
import { parseInput } from '@keen/core';
import type { Request, Response, Router } from 'express';
import type { z } from 'zod';
import { addressOf, currentMember, demandRole, securityLog } from './access/index.ts';
import { whenThere } from './database/index.ts';
import { idempotent } from './idempotency.ts';
import { Problem, type ProblemCode } from './problems.ts';
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

/** Refusals that a steward wants to know of, by the kind the log gives them. */
const LOGGED: Partial<Record<ProblemCode, SecurityKind>> = {
  wrong_password: 'wrong_password',
  wrong_code: 'wrong_code',
  bad_invitation: 'bad_invitation',
  not_allowed: 'refused',
};

/** What is answered is what the contract says; asked in development and tests, where a break shall be seen at once. */
function demandAnswer(r: AnyRoute, result: unknown): void {
  const read = r.response.safeParse(JSON.parse(JSON.stringify(result)));
  if (read.success) return;
  const where = read.error.issues.slice(0, 3).map((i) => `${i.path.join('.') || 'the whole'}: ${i.message}`);
  throw new Error(`${r.method} ${r.path} answered what its contract does not say: ${where.join('; ')}`);
}

/** Binds contract routes to a router: check rights, validate, call once, reply. */
export const serveOn = (router: Router, store: Store, checkAnswers: boolean): Serve => {
  const log = securityLog(store);
  async function note(error: unknown, who: Actor | null, r: AnyRoute, req: Request): Promise<void> {
    const kind = error instanceof Problem ? LOGGED[error.code] : undefined;
    if (!kind) return;
    const named = (req.body as { signIn?: unknown } | undefined)?.signIn;
    const concerned = who
      ? { clubId: who.clubId, memberId: who.id }
      : await log.account(typeof named === 'string' ? named.trim().toLowerCase().slice(0, 200) : '');
    await log.attempt({ kind, ...concerned, address: addressOf(req), detail: kind === 'refused' ? r.summary : '' });
  }
  return (route, work) => {
    const r = route as unknown as AnyRoute;
    router[r.method](r.path, async (req, res) => {
      const who = r.role ? await currentMember(store, req) : null;
      try {
        if (r.role) demandRole(who, r.role);
        const hasBody = r.method === 'post' || r.method === 'put';
        const request = {
          params: parseInput(route.params, req.params),
          query: parseInput(route.query, req.query),
          body: parseInput(route.body, hasBody ? (req.body ?? {}) : {}),
          // present on every route that names a role
          who: who as Actor,
          req,
          res,
        };
        const key = r.toldOnce ? undefined : req.get('idempotency-key');
        const result =
          who && r.method === 'post'
            ? await idempotent(
                store,
                who,
                { key, path: req.path, body: req.body },
                (a) => r.response.safeParse(a).success,
                () => work(request),
              )
            : await (r.method === 'get' ? whenThere(() => work(request)) : work(request));
        if (checkAnswers) demandAnswer(r, result);
        res.set('Cache-Control', 'no-store').json(result);
      } catch (error) {
        await note(error, who, r, req).catch(() => undefined);
        throw error;
      }
    });
  };
};
