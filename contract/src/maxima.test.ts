import { expect, test } from '@jest/globals';
import { z } from 'zod';
import { api } from './index.ts';

/** JSON Schema as far as it is looked at here. */
interface Node {
  $ref?: string;
  $defs?: Record<string, Node>;
  type?: string | string[];
  format?: string;
  pattern?: string;
  enum?: unknown[];
  const?: unknown;
  maxLength?: number;
  maximum?: number;
  exclusiveMaximum?: number;
  minimum?: number;
  exclusiveMinimum?: number;
  maxItems?: number;
  maxProperties?: number;
  items?: Node;
  prefixItems?: Node[];
  properties?: Record<string, Node>;
  additionalProperties?: Node | boolean;
  propertyNames?: Node;
  anyOf?: Node[];
  oneOf?: Node[];
  allOf?: Node[];
}

/** Where something of any size may be sent. */
function unbounded(n: Node, at: string, defs: Record<string, Node>, seen: ReadonlySet<string> = new Set()): string[] {
  if (n.$ref) {
    const name = n.$ref.split('/').at(-1)!;
    return seen.has(name) || !defs[name] ? [] : unbounded(defs[name], at, defs, new Set([...seen, name]));
  }
  const found: string[] = [];
  const types = [n.type].flat();
  const closed = n.enum !== undefined || n.const !== undefined;
  if (types.includes('string') && !closed && !n.format && !n.pattern && n.maxLength === undefined)
    found.push(`${at}: text`);
  if ((types.includes('number') || types.includes('integer')) && !closed) {
    const max = n.maximum ?? n.exclusiveMaximum;
    const min = n.minimum ?? n.exclusiveMinimum;
    if (max === undefined || min === undefined || max >= Number.MAX_SAFE_INTEGER || min <= Number.MIN_SAFE_INTEGER)
      found.push(`${at}: number`);
  }
  if (types.includes('array') && !n.prefixItems && n.maxItems === undefined) found.push(`${at}: list`);
  if (n.items) found.push(...unbounded(n.items, `${at}[]`, defs, seen));
  for (const [i, p] of (n.prefixItems ?? []).entries()) found.push(...unbounded(p, `${at}[${i}]`, defs, seen));
  for (const [k, p] of Object.entries(n.properties ?? {})) found.push(...unbounded(p, `${at}.${k}`, defs, seen));
  if (typeof n.additionalProperties === 'object')
    found.push(...unbounded(n.additionalProperties, `${at}{}`, defs, seen));
  if (n.propertyNames) found.push(...unbounded({ type: 'string', ...n.propertyNames }, `${at}{key}`, defs, seen));
  for (const part of [...(n.anyOf ?? []), ...(n.oneOf ?? []), ...(n.allOf ?? [])])
    found.push(...unbounded(part, at, defs, seen));
  return found;
}

test('nothing of any size is taken: every text, list and number that is sent has its bounds', () => {
  const found = Object.entries(api).flatMap(([name, r]) =>
    (['params', 'query', 'body'] as const).flatMap((part) => {
      const schema = z.toJSONSchema(r[part], { io: 'input', unrepresentable: 'any' }) as Node;
      return unbounded(schema, `${name}.${part}`, schema.$defs ?? {});
    }),
  );
  expect([...new Set(found)]).toEqual([]);
});
