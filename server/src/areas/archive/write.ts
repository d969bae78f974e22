import { strToU8, Zip, ZipDeflate, ZipPassThrough } from 'fflate';
import { QueryTypes, type Transaction } from 'sequelize';
import { MIGRATION_NAMES } from '../../database/migrate.ts';
import type { Actor, Store } from '../../store.ts';
import { PARTS, type Part } from './parts.ts';

/** Rows read and packed at a time: other requests go on between. */
const ROWS = 500;
/** How hard files are packed. */
const LEVEL = 6;
export const FORMAT = 'keen-meridian club';
/** Of the archive’s own form: raised when files in it are laid out otherwise. */
export const VERSION = 1;
type Row = Record<string, unknown>;

/** A value as JSON keeps it: times in UTC, what is JSON already as what it is. */
function told(value: unknown, json: boolean): unknown {
  if (value instanceof Date) return value.toISOString();
  if (json && typeof value === 'string') return JSON.parse(value) as unknown;
  if (typeof value === 'bigint') return Number(value);
  return value;
}
/** One cell of a table that a spreadsheet opens. What it would take for a formula is told to be text. */
function cell(value: unknown): string {
  if (value === null || value === undefined) return '';
  const text = typeof value === 'object' ? JSON.stringify(value) : String(value as string | number);
  const safe = typeof value === 'string' && /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
  return /[",\n\r]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}

interface Column {
  name: string;
  type: string;
  nullable: boolean;
  json: boolean;
}
async function columnsOf(
  store: Store,
  { table, without = [], ownOnly = [] }: Part,
  own: boolean,
  t: Transaction,
): Promise<Column[]> {
  const rows = await store.read<{ name: string; type: string; nullable: string; checks: string | null }>(
    `SELECT c.column_name AS name, c.column_type AS type, c.is_nullable AS nullable,
       (SELECT MAX(k.check_clause) FROM information_schema.check_constraints k
        WHERE k.constraint_schema = DATABASE() AND k.table_name = c.table_name AND k.constraint_name = c.column_name) AS checks
     FROM information_schema.columns c WHERE c.table_schema = DATABASE() AND c.table_name = ? ORDER BY c.ordinal_position`,
    [table],
    t,
  );
  return rows
    .filter((c) => !without.includes(c.name) && (own || !ownOnly.includes(c.name)))
    .map((c) => ({
      name: c.name,
      type: c.type,
      nullable: c.nullable === 'YES',
      json: /json_valid/i.test(c.checks ?? ''),
    }));
}

/** Names that stand beside ids in the tables for spreadsheets. */
async function namesOf(store: Store, clubId: string, t: Transaction): Promise<Map<string, string>> {
  const rows = await store.read<{ id: string; name: string }>(
    `SELECT id, name FROM members WHERE club_id = ? UNION ALL SELECT id, name FROM rigs WHERE club_id = ?
     UNION ALL SELECT id, name FROM sites WHERE club_id = ? UNION ALL SELECT id, object AS name FROM projects WHERE club_id = ?`,
    [clubId, clubId, clubId, clubId],
    t,
  );
  return new Map(rows.map((r) => [r.id, r.name]));
}

const README = `What is in here

club.json        what this archive is: its format, the version of the tables, how many rows of each
schema.json      the columns of each table: type, whether they may be empty, and which name rows of other tables
tables/*.json    every row of every table; times are UTC (ISO 8601), angles in degrees, lengths in mm or as named
csv/*.csv        the same as tables for a spreadsheet: UTF-8, commas; beside ids of people, rigs, sites and projects their names
pictures/        small pictures of frames, named by the frame's id

Passwords, second factors and who is signed in are in no archive.
`;

/**
 * Writes a club’s records, or a member’s own, as a zip: JSON that can be read in again, CSV for people, pictures. As they stood at
 * one moment, whatever is done meanwhile.
 * @param own  only what is this person’s
 * @param send  given each piece; waited for
 */
export async function writeArchive(
  store: Store,
  who: Pick<Actor, 'id' | 'clubId'>,
  own: boolean,
  send: (bytes: Uint8Array) => Promise<void>,
): Promise<void> {
  let waiting: Promise<void> = Promise.resolve();
  const zip = new Zip((error, bytes) => {
    waiting = waiting.then(() => {
      if (error) throw error;
      return send(bytes);
    });
  });
  const whole = (name: string, text: string) => {
    const file = new ZipDeflate(name, { level: LEVEL });
    zip.add(file);
    file.push(strToU8(text), true);
  };
  await store.db.transaction(async (t) => {
    const names = await namesOf(store, who.clubId, t);
    const counts: Record<string, number> = {};
    const schema: Record<string, object> = {};
    for (const part of PARTS) {
      if (own && part.ofMember === null) continue;
      const columns = await columnsOf(store, part, own, t);
      const json = new Set(columns.filter((c) => c.json).map((c) => c.name));
      schema[part.table] = {
        columns: columns.map(({ name, type, nullable }) => ({
          name,
          type,
          nullable,
          ...(part.refs[name] ? { names: part.refs[name] } : {}),
        })),
      };
      const pictures = part.table === 'frame_pictures';
      const [asJson, asCsv] = ['json', 'csv'].map((kind) => {
        const folder = kind === 'json' ? 'tables' : 'csv';
        return pictures ? null : new ZipDeflate(`${folder}/${part.table}.${kind}`, { level: LEVEL });
      });
      if (asJson && asCsv) {
        zip.add(asJson);
        // one after the other: what is pushed to the second waits in the zip until the first is whole
        zip.add(asCsv);
      }
      const named = columns.flatMap((c) =>
        ['members', 'rigs', 'sites', 'projects'].includes(part.refs[c.name] ?? '') ? [c.name] : [],
      );
      asCsv?.push(strToU8(`${[...columns.map((c) => c.name), ...named.map((n) => `${n}_name`)].join(',')}\r\n`));
      let rows = 0;
      for (;;) {
        const list = columns.map((c) => `\`${c.name}\``).join(', ');
        const sql = `SELECT ${list} FROM \`${part.table}\` WHERE ${part.ofClub}${own ? ` AND ${part.ofMember}` : ''} ORDER BY ${part.order ?? 'id'} LIMIT ${ROWS} OFFSET ${rows}`;
        const page = (
          await store.db.query<Row>(sql, {
            replacements: { club: who.clubId, member: who.id },
            type: QueryTypes.SELECT,
            transaction: t,
          })
        ).map((r) => Object.fromEntries(columns.map((c) => [c.name, told(r[c.name], json.has(c.name))])));
        if (pictures) for (const r of page) addPicture(zip, r);
        else if (page.length) {
          asJson!.push(strToU8((rows ? ',\n' : '[\n') + page.map((r) => JSON.stringify(r)).join(',\n')));
          const line = (r: Row) =>
            [...columns.map((c) => cell(r[c.name])), ...named.map((n) => cell(names.get(String(r[n])) ?? ''))].join(
              ',',
            );
          asCsv!.push(strToU8(page.map((r) => `${line(r)}\r\n`).join('')));
        }
        rows += page.length;
        await waiting;
        if (page.length < ROWS) break;
        await new Promise((next) => setImmediate(next));
      }
      asJson?.push(strToU8(rows ? '\n]\n' : '[]\n'), true);
      asCsv?.push(new Uint8Array(0), true);
      counts[part.table] = rows;
    }
    whole(
      'club.json',
      JSON.stringify(
        { format: FORMAT, version: VERSION, whole: !own, tables: MIGRATION_NAMES.at(-1), madeAt: store.now(), counts },
        null,
        2,
      ),
    );
    whole('schema.json', JSON.stringify(schema, null, 2));
    whole('README.txt', README);
    zip.end();
    await waiting;
  });
  await waiting;
}

const DATA_URL = /^data:image\/(png|webp|jpeg);base64,(.*)$/s;
function addPicture(zip: Zip, row: Row): void {
  const m = DATA_URL.exec(String(row.picture));
  if (!m) return;
  const file = new ZipPassThrough(`pictures/${String(row.id)}.${m[1]}`);
  zip.add(file);
  file.push(new Uint8Array(Buffer.from(m[2]!, 'base64')), true);
}
