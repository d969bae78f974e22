import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { calculations, jsonSchema } from '@keen/core';
import { openApiDocument } from '@keen/contract/openapi';
import { raw, type RequestHandler, type Router } from 'express';
import { rateLimit } from 'express-rate-limit';
import { sharedHits, sharedPlaces } from '../../access/index.ts';
import type { Config } from '../../config.ts';
import { bodies } from '../../bodies.ts';
import type { Metrics } from '../../metrics.ts';
import { Problem, sendProblem } from '../../problems.ts';
import type { Store } from '../../store.ts';
import { DEADLINE_MS, LINE, type Workers } from './pool.ts';
import { PICTURE, type Reply } from './worker.ts';

/** Largest body of a question: a stranger has no night of guide samples to bring. */
const STRANGER_BODY = '100kb';
/** Sixty-one million pixels of 16 bits, and their headers. */
const PICTURE_BODY = '160mb';
const PICTURE_TYPES = ['application/fits', 'image/fits', 'application/octet-stream'];
/** Pictures held at a time, and how long one may take to arrive [ms]. */
const MOST_PICTURES = 3;
const RECEIVE_MS = 90_000;
/** No picture keeps its member’s place for longer, whatever became of the server it was sent to [ms]. */
const PICTURE_MS = 150_000;
/** Questions of one person in the whole installation, and how long one keeps its place [ms]. */
const MOST_QUESTIONS = LINE.perPerson + 1;
const QUESTION_MS = 60_000;
const OF_PICTURES = ['frames.measure', 'frames.diagnose'];

/** The registry over HTTP: same JSON in and out, and the same complaints, as in the shell. Open to everyone. */
export function calculationRoutes(
  router: Router,
  store: Store,
  config: Config,
  { calculate }: Pick<Workers, 'calculate'>,
  metrics: Metrics,
): void {
  const places = sharedPlaces(store, config.secret);
  // a question may hold a long list: its parts are bounded by its length alone
  const bySize = bodies({ limit: STRANGER_BODY, keys: 60_000 });
  const picture = raw({ type: PICTURE_TYPES, limit: PICTURE_BODY });
  /** Pictures that are on their way here or being measured: each is held whole. */
  let receiving = 0;
  /**
   * A few pictures at a time here, one of a member in the whole installation, and from members only. Who sends too slowly is
   * let go.
   */
  const onePicture: RequestHandler = async (req, res, next) => {
    if (!req.is(PICTURE_TYPES)) return bySize(req, res, next);
    if (!OF_PICTURES.includes(String(req.params.name)))
      throw new Problem('invalid_input', `${String(req.params.name)} takes JSON, not a picture.`);
    if (!req.session.memberId) throw new Problem('not_signed_in', 'Pictures are measured for members: sign in.');
    const { memberId } = req.session;
    const busy = new Problem('busy', 'Another picture is being measured: try again in a moment.');
    if (receiving >= MOST_PICTURES) throw busy;
    receiving++;
    let giveBack: (() => Promise<void>) | null = null;
    const over = () => {
      receiving--;
      void giveBack?.();
    };
    giveBack = await places.take(`picture ${memberId}`, 1, PICTURE_MS);
    if (!giveBack || res.closed) {
      over();
      throw busy;
    }
    const late = setTimeout(() => req.destroy(), RECEIVE_MS);
    res.once('close', () => {
      clearTimeout(late);
      over();
    });
    picture(req, res, (e?: unknown) => {
      clearTimeout(late);
      next(e);
    });
  };
  const limit: RequestHandler = rateLimit({
    windowMs: 60_000,
    limit: config.calculationLimit,
    store: sharedHits(store, config.secret),
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
    const place = await places.take(`question ${question.key}`, MOST_QUESTIONS, QUESTION_MS);
    if (!place)
      throw new Problem('too_many', 'Several of your calculations are waiting already; ask again when they are done.');
    const began = performance.now();
    let got: Reply;
    try {
      got = await calculate(name, sent ? { file: PICTURE } : req.body, question, sent);
    } finally {
      // also where the line itself refused it, which it does before there is anything to wait for
      void place();
    }
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
