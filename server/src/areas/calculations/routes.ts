import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { calculations, jsonSchema } from '@keen/core';
import { openApiDocument } from '@keen/contract/openapi';
import { raw, type RequestHandler, type Router } from 'express';
import { rateLimit } from 'express-rate-limit';
import type { Config } from '../../config.ts';
import { bodies } from '../../bodies.ts';
import type { Metrics } from '../../metrics.ts';
import { Problem, sendProblem } from '../../problems.ts';
import { DEADLINE_MS, type Calculate } from './pool.ts';
import { PICTURE } from './worker.ts';

/** Largest body of a question: a stranger has no night of guide samples to bring. */
const STRANGER_BODY = '100kb';
/** Sixty-one million pixels of 16 bits, and their headers. */
const PICTURE_BODY = '160mb';
const PICTURE_TYPES = ['application/fits', 'image/fits', 'application/octet-stream'];
/** Pictures held at a time, and how long one may take to arrive [ms]. */
const MOST_PICTURES = 3;
const RECEIVE_MS = 90_000;
const OF_PICTURES = ['frames.measure', 'frames.diagnose'];

/** The registry over HTTP: same JSON in and out, and the same complaints, as in the shell. Open to everyone. */
export function calculationRoutes(router: Router, config: Config, calculate: Calculate, metrics: Metrics): void {
  // a question may hold a long list: its parts are bounded by its length alone
  const bySize = bodies({ limit: STRANGER_BODY, keys: 60_000 });
  const picture = raw({ type: PICTURE_TYPES, limit: PICTURE_BODY });
  /** Members whose picture is on its way or being measured. */
  const receiving = new Set<string>();
  /** A few pictures at a time, one of a member, and from members only: each is held whole. Who sends too slowly is let go. */
  const onePicture: RequestHandler = (req, res, next) => {
    if (!req.is(PICTURE_TYPES)) return bySize(req, res, next);
    if (!OF_PICTURES.includes(String(req.params.name)))
      throw new Problem('invalid_input', `${String(req.params.name)} takes JSON, not a picture.`);
    if (!req.session.memberId) throw new Problem('not_signed_in', 'Pictures are measured for members: sign in.');
    const { memberId } = req.session;
    if (receiving.has(memberId) || receiving.size >= MOST_PICTURES)
      throw new Problem('busy', 'Another picture is being measured: try again in a moment.');
    receiving.add(memberId);
    const late = setTimeout(() => req.destroy(), RECEIVE_MS);
    res.once('close', () => {
      clearTimeout(late);
      receiving.delete(memberId);
    });
    picture(req, res, (e?: unknown) => {
      clearTimeout(late);
      next(e);
    });
  };
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
  router.post('/api/calculations/:name', limit, onePicture, async (req, res) => {
    const name = req.params.name as string;
    if (!calculations.has(name)) throw new Problem('not_found', `No calculation is called “${name}”.`);
    const gone = new AbortController();
    res.once('close', () => gone.abort());
    const { memberId } = req.session;
    const sent = Buffer.isBuffer(req.body) ? new Uint8Array(req.body) : undefined;
    const question = {
      key: memberId ?? req.ip ?? '',
      deadlineMs: memberId ? DEADLINE_MS.member : DEADLINE_MS.stranger,
      gone: gone.signal,
    };
    const began = performance.now();
    const got = await calculate(name, sent ? { file: PICTURE } : req.body, question, sent);
    metrics.calculated(name, (performance.now() - began) / 1000);
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
