/** What a question through a model may hold to be put in words here; anything else goes the model’s own way. */
interface FindOptions {
  where?: Record<string, unknown>;
  attributes?: string[] | { exclude?: string[] };
  order?: (string | [string, string])[];
  limit?: number;
  offset?: number;
}
const KNOWN: ReadonlySet<string> = new Set([
  'where',
  'attributes',
  'order',
  'limit',
  'offset',
  'transaction',
  'raw',
  'plain',
  'hooks',
]);

/**
 * The SELECT of a plain question: columns that equal a value, one of several, or nothing. A model takes five times as long to
 * come to the same words, and half of what this server asks is of this kind.
 * @param fields  names of the columns by the names of the fields
 * @returns null where the question asks for more
 */
export function plainSelect(
  table: string,
  fields: ReadonlyMap<string, string>,
  options: FindOptions,
): { sql: string; values: unknown[] } | null {
  for (const k of Object.keys(options)) if (!KNOWN.has(k)) return null;
  const { where = {}, attributes, order = [], limit, offset } = options;
  const values: unknown[] = [];
  const conditions: string[] = [];
  if (Object.getOwnPropertySymbols(where).length) return null;
  for (const [key, value] of Object.entries(where)) {
    const field = fields.get(key);
    if (field === undefined || value === undefined) return null;
    if (value === null) conditions.push(`\`${field}\` IS NULL`);
    else if (Array.isArray(value)) {
      if (!value.every(isPlain)) return null;
      if (value.length === 0) conditions.push('FALSE');
      else {
        conditions.push(`\`${field}\` IN (${value.map(() => '?').join(', ')})`);
        values.push(...(value as unknown[]));
      }
    } else if (isPlain(value)) {
      conditions.push(`\`${field}\` = ?`);
      values.push(value);
    } else return null;
  }
  const wanted = Array.isArray(attributes)
    ? attributes
    : [...fields.keys()].filter((k) => !attributes?.exclude?.includes(k));
  const columns: string[] = [];
  for (const name of wanted) {
    const field = typeof name === 'string' ? fields.get(name) : undefined;
    if (field === undefined) return null;
    columns.push(field === name ? `\`${field}\`` : `\`${field}\` AS \`${name}\``);
  }
  const sorted: string[] = [];
  for (const o of Array.isArray(order) ? order : []) {
    const [name, way] = typeof o === 'string' ? [o, 'ASC'] : o;
    const field = typeof name === 'string' ? fields.get(name) : undefined;
    if (field === undefined || (way !== 'ASC' && way !== 'DESC')) return null;
    sorted.push(`\`${field}\` ${way}`);
  }
  if (!Array.isArray(order)) return null;
  let sql = `SELECT ${columns.join(', ')} FROM \`${table}\``;
  if (conditions.length) sql += ` WHERE ${conditions.join(' AND ')}`;
  if (sorted.length) sql += ` ORDER BY ${sorted.join(', ')}`;
  for (const [word, n] of [
    ['LIMIT', limit],
    ['OFFSET', offset],
  ] as const)
    if (n !== undefined && n !== null) {
      if (!Number.isSafeInteger(n) || n < 0 || (word === 'OFFSET' && limit === undefined)) return null;
      sql += ` ${word} ${n}`;
    }
  return { sql, values };
}

const isPlain = (v: unknown): boolean =>
  typeof v === 'string' || (typeof v === 'number' && Number.isFinite(v)) || v instanceof Date;
