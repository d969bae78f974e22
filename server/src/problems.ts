import type { Problem as ProblemDocument } from '@keen/contract';
import { InvalidInput } from '@keen/core';
import { isGone, numberOf, UNDONE } from './database/gone.ts';
import type { ErrorRequestHandler, Response } from 'express';
import { ForeignKeyConstraintError, UniqueConstraintError } from 'sequelize';

/** The one catalogue of what can go wrong, with the status each becomes. */
export const PROBLEMS = {
  invalid_input: [400, 'The request is not as it should be'],
  not_signed_in: [401, 'Sign in first'],
  wrong_password: [401, 'Name or password is wrong'],
  code_needed: [401, 'This account also asks for a code from its device'],
  proof_needed: [403, 'Give your password again for this'],
  wrong_code: [401, 'The code is wrong or was used before'],
  bad_invitation: [404, 'The invitation was used, withdrawn, or is over'],
  bad_token: [403, 'The page is out of date; reload it'],
  not_allowed: [403, 'Your role does not allow this'],
  not_found: [404, 'There is no such record'],
  precondition: [412, 'The file changed since it was asked for'],
  unsupported: [415, 'That kind of content is not read here'],
  bad_range: [416, 'There is no such part of the file'],
  unknown_name: [421, 'The server is not called that'],
  stale: [409, 'Somebody saved a newer version'],
  night_overlap: [409, 'The rig is already taken for part of that time'],
  already_exists: [409, 'That is already there'],
  out_of_order: [409, 'It is out of order'],
  in_use: [409, 'It is still in use'],
  cancelled: [409, 'It was cancelled'],
  already_done: [409, 'That was done before'],
  key_reused: [422, 'The header Idempotency-Key was used for another request'],
  too_large: [413, 'That is too large'],
  too_much_work: [422, 'That is more work than one question may take'],
  too_many: [429, 'Too many tries; wait a little'],
  busy: [503, 'The machine is busy with other calculations; ask again in a moment'],
  stopping: [503, 'The server is being stopped; ask again in a moment'],
  database_down: [503, 'The database does not answer; nothing was saved'],
  gave_up: [500, 'The server ended each time this was tried; ask for less, or tell whoever runs it'],
  unsure: [
    503,
    'The database went away while this was being saved: look whether it is there, or send it again with the same key',
  ],
  internal: [500, 'Something went wrong on our side'],
} as const satisfies Record<string, readonly [number, string]>;
export type ProblemCode = keyof typeof PROBLEMS;

export class Problem extends Error {
  readonly code: ProblemCode;
  readonly more: Partial<ProblemDocument>;
  constructor(code: ProblemCode, detail?: string, more: Partial<ProblemDocument> = {}) {
    super(detail ?? PROBLEMS[code][1]);
    this.code = code;
    this.more = { ...(detail ? { detail } : {}), ...more };
  }
}

/** A problem as it is told. */
export function documentOf(p: Problem): ProblemDocument {
  const [status, title] = PROBLEMS[p.code];
  return { type: `/docs/problems#${p.code}`, title, status, code: p.code, ...p.more };
}

export function sendProblem(res: Response, p: Problem): void {
  const document = documentOf(p);
  res
    .status(document.status)
    .set('Cache-Control', 'no-store')
    .type('application/problem+json')
    .send(JSON.stringify(document));
}

/** Codes of what gzip and brotli cannot read. */
const UNPACKING = /^(Z_|ERR__ERROR|ERR_BROTLI)/;

/** Any error as one of the catalogue. */
export function known(error: unknown): Problem {
  if (error instanceof Problem) return error;
  if (error instanceof InvalidInput) return new Problem('invalid_input', error.message, { issues: [...error.issues] });
  if (error instanceof UniqueConstraintError) return new Problem('already_exists');
  if (error instanceof ForeignKeyConstraintError) return new Problem('in_use');
  if (isGone(error)) return new Problem('database_down');
  if (UNDONE.has(numberOf(error))) return new Problem('busy');
  const http = error as { type?: string; status?: number; code?: string };
  if (http.type === 'entity.too.large') return new Problem('too_large');
  if (http.type === 'entity.parse.failed')
    return new Problem('invalid_input', 'the body is not JSON', { issues: [{ path: '', message: 'is not JSON' }] });
  if (UNPACKING.test(http.code ?? '')) return new Problem('invalid_input', 'the body cannot be unpacked');
  if (http.status === 412) return new Problem('precondition');
  if (http.status === 415)
    return new Problem('unsupported', 'send JSON in UTF-8, uncompressed or by gzip, deflate or brotli');
  if (http.status === 416) return new Problem('bad_range');
  if (http.status === 413) return new Problem('too_large');
  if (http.status === 404) return new Problem('not_found', 'There is no such file.');
  if (http.status === 403) return new Problem('not_found', 'There is no such file.');
  if (http.status === 400) return new Problem('invalid_input', 'the address cannot be read');
  return new Problem('internal');
}

/** The single exit of every error. */
export const problemHandler: ErrorRequestHandler = (error, req, res, next) => {
  if (res.headersSent) {
    next(error);
    return;
  }
  const problem = known(error);
  res.locals.problem = problem.code;
  if (problem.code === 'internal')
    (req as { log?: { error: (o: object, m: string) => void } }).log?.error({ err: error as Error }, 'unexpected');
  sendProblem(res, problem);
};
