import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { calculations, jsonSchema } from '@keen/core';
import { bandSource, type StarIndex, type StarSource } from '@keen/core/sky';
import { openApiDocument } from '@keen/contract/openapi';
import type { RequestHandler, Router } from 'express';
import { rateLimit } from 'express-rate-limit';
import type { Config } from '../../config.ts';
import { Problem, sendProblem } from '../../problems.ts';

/** The shipped star catalogue, read when somebody first asks for stars; 15 MB once read whole. */
function starsIn(dataFolder: string): StarSource {
  const folder = join(dataFolder, 'stars');
  let source: StarSource | undefined;
  return (cap) => {
    source ??= bandSource(JSON.parse(readFileSync(join(folder, 'index.json'), 'utf8')) as StarIndex, (file) =>
      readFileSync(join(folder, file)),
    );
    return source(cap);
  };
}

/** The registry over HTTP: same JSON in and out, and the same complaints, as in the shell. Open to everyone. */
export function calculationRoutes(router: Router, config: Config): void {
  const surroundings = { stars: starsIn(config.dataFolder) };
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
  router.post('/api/calculations/:name', limit, (req, res) => {
    const c = calculations.get(req.params.name as string);
    if (!c) throw new Problem('not_found', `No calculation is called “${req.params.name as string}”.`);
    try {
      res.json(c.run(req.body, surroundings));
    } catch (e) {
      const issues = (e as { issues?: unknown; code?: string }).code === 'invalid_input' ? e : null;
      if (!issues) throw e;
      res.status(400).json(issues);
    }
  });
  const { version } = JSON.parse(readFileSync(join(import.meta.dirname, '../../../package.json'), 'utf8')) as {
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
