import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { calculations, jsonSchema } from '@keen/core';
import { openApiDocument } from '@keen/contract/openapi';
import { json, type RequestHandler, type Router } from 'express';
import { rateLimit } from 'express-rate-limit';
import type { Config } from '../../config.ts';
import { Problem, sendProblem } from '../../problems.ts';
import { DEADLINE_MS, type Calculate } from './pool.ts';

/** Largest body of a question: a stranger has no night of guide samples to bring. */
const STRANGER_BODY = '100kb';
const MEMBER_BODY = '4mb';

/** The registry over HTTP: same JSON in and out, and the same complaints, as in the shell. Open to everyone. */
export function calculationRoutes(router: Router, config: Config, calculate: Calculate): void {
  const bodies = { stranger: json({ limit: STRANGER_BODY }), member: json({ limit: MEMBER_BODY }) };
  const bySize: RequestHandler = (req, res, next) =>
    (req.session.memberId ? bodies.member : bodies.stranger)(req, res, next);
  const limit: RequestHandler = rateLimit({
    windowMs: 60_000,
    limit: config.calculationLimit,
    standardHeaders: true,
    legacyHeaders: false,
    handler: (_req, res) => sendProblem(res, new Problem('too_many', 'Too many calculations in a minute.')),
  });
  router.get('/api/calculations', (_req, res) => {
    res.json([...calculations.values()].map(({ name, summary, sources }) => ({ name, summary, sources })));
  });
  router.get('/api/calculations/:name', (req, res) => {
    const c = calculations.get(req.params.name);
    if (!c) throw new Problem('not_found', `No calculation is called “${req.params.name}”.`);
    res.json({
      name: c.name,
      summary: c.summary,
      sources: c.sources,
      input: jsonSchema(c.input, 'input'),
      output: jsonSchema(c.output, 'output'),
    });
  });
  router.post('/api/calculations/:name', limit, bySize, async (req, res) => {
    const name = req.params.name as string;
    if (!calculations.has(name)) throw new Problem('not_found', `No calculation is called “${name}”.`);
    const gone = new AbortController();
    res.once('close', () => gone.abort());
    const { memberId } = req.session;
    const got = await calculate(name, req.body, {
      key: memberId ?? req.ip ?? '',
      deadlineMs: memberId ? DEADLINE_MS.member : DEADLINE_MS.stranger,
      gone: gone.signal,
    });
    res.status(got.status).set('Cache-Control', 'no-store').type('json').send(got.json);
  });
  const { version } = JSON.parse(readFileSync(join(import.meta.dirname, '../../../../package.json'), 'utf8')) as {
    version: string;
  };
  let document: object | null = null;
  router.get('/api/openapi.json', (_req, res) => {
    document ??= openApiDocument(version);
    res.json(document);
  });
  const page = join(import.meta.dirname, '../../../pages');
  const html = readFileSync(join(page, 'api.html'), 'utf8');
  router.get('/api/docs', (_req, res) => {
    res.type('html').send(html.replaceAll('{{nonce}}', String(res.locals.nonce)));
  });
}
