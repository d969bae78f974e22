import {
  extendZodWithOpenApi,
  OpenApiGeneratorV31,
  OpenAPIRegistry,
  type RouteConfig,
} from '@asteasolutions/zod-to-openapi';
import { calculations, jsonSchema } from '@keen/core';
import { z } from 'zod';
import { Problem } from '../common.ts';
import { api } from '../api.ts';

extendZodWithOpenApi(z);

const json = (schema: z.ZodType) => ({ content: { 'application/json': { schema } } });

/** The whole HTTP interface as an OpenAPI 3.1 document: every route of the contract and every calculation. */
export function openApiDocument(version: string): object {
  const registry = new OpenAPIRegistry();
  for (const r of Object.values(api)) {
    const config: RouteConfig = {
      method: r.method,
      path: r.path.replace(/:(\w+)/g, '{$1}'),
      summary: r.summary,
      tags: [r.area],
      description: r.role ? `Needs at least the role “${r.role}”.` : 'Needs no sign-in.',
      request: {
        ...(r.path.includes(':') ? { params: r.params as z.ZodObject } : {}),
        ...(Object.keys((r.query as z.ZodObject).shape).length ? { query: r.query as z.ZodObject } : {}),
        ...(r.method === 'post' || r.method === 'put' ? { body: json(r.body) } : {}),
      },
      responses: {
        200: {
          description: 'Done',
          ...(r.file ? { content: { [r.file]: { schema: r.response } } } : json(r.response)),
        },
        default: { description: 'Problem document (RFC 9457)', ...json(Problem) },
      },
    };
    registry.registerPath(config);
  }
  const document = new OpenApiGeneratorV31(registry.definitions).generateDocument({
    openapi: '3.1.0',
    info: {
      title: 'Keen Meridian',
      version,
      description: 'Balance, focus, sky and sequence calculations, and the records of a club’s equipment and nights.',
    },
  }) as { paths: Record<string, object> };
  for (const c of calculations.values()) {
    const { $schema: _in, ...input } = jsonSchema(c.input, 'input') as Record<string, unknown>;
    const { $schema: _out, ...output } = jsonSchema(c.output, 'output') as Record<string, unknown>;
    document.paths[`/api/calculations/${c.name}`] = {
      post: {
        summary: c.summary,
        description: `Sources: ${c.sources.join('; ')}. Needs no sign-in.`,
        tags: ['Calculations'],
        requestBody: { required: true, content: { 'application/json': { schema: input } } },
        responses: {
          200: { description: 'The result', content: { 'application/json': { schema: output } } },
          400: { description: 'invalid_input: what, where, and what would be right' },
        },
      },
    };
  }
  return document;
}
