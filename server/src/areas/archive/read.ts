import { strFromU8, unzipSync } from 'fflate';
import { randomBytes } from 'node:crypto';
import type { Transaction } from 'sequelize';
import { z } from 'zod';
import { hashPassword } from '../../access/index.ts';
import { MIGRATION_NAMES } from '../../database/migrate.ts';
import type { Store } from '../../store.ts';
import { PARTS, type Part } from './parts.ts';
import { FORMAT, VERSION } from './write.ts';

/** Bytes a whole archive may come to when it is unpacked. */
const MOST_BYTES = 2_000_000_000;
/** Rows written by one statement. */
const ROWS = 200;
type Row = Record<string, unknown>;
const Manifest = z.object({
  format: z.literal(FORMAT, { error: 'is no archive of a club' }),
  version: z.literal(VERSION),
  whole: z.literal(true, { error: 'holds one person’s own records: only a whole club is read in' }),
  tables: z.string(),
  counts: z.record(z.string(), z.int().min(0)),
});

/** What is wrong with an archive, in words. */
export class ArchiveTrouble extends Error {}
const refuse = (why: string): never => {
  throw new ArchiveTrouble(`${why}. Nothing was read in.`);
};

interface Read {
  rows: Map<string, Row[]>;
  clubId: string;
  name: string;
}

/** Unpacks an archive and looks through it: its tables are all there, whole, and name nothing outside of it. */
export function examineArchive(bytes: Uint8Array): Read {
  let size = 0;
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes, {
      filter: (f) => {
        size += f.originalSize;
        if (size > MOST_BYTES) refuse(`it unpacks to more than ${MOST_BYTES / 1e9} GB`);
        return /^(club\.json|tables\/\w+\.json|pictures\/[0-9a-f-]{36}\.(png|webp|jpeg))$/.test(f.name);
      },
    });
  } catch (e) {
    if (e instanceof ArchiveTrouble) throw e;
    return refuse('it is no zip, or cut off');
  }
  const json = (name: string): unknown => {
    const file = files[name];
    if (!file) return refuse(`${name} is missing`);
    try {
      return JSON.parse(strFromU8(file)) as unknown;
    } catch {
      return refuse(`${name} is no JSON`);
    }
  };
  const manifest = Manifest.safeParse(json('club.json'));
  if (!manifest.success) return refuse(`club.json: ${manifest.error.issues.map((i) => i.message).join('; ')}`);
  const { tables, counts } = manifest.data;
  if (tables !== MIGRATION_NAMES.at(-1))
    refuse(
      MIGRATION_NAMES.includes(tables)
        ? `it was written by an earlier version (${tables}); bring that installation up to date and write it again`
        : `it was written by a newer version (${tables}); update this installation first`,
    );
  const rows = new Map<string, Row[]>();
  for (const part of PARTS) {
    const list =
      part.table === 'frame_pictures'
        ? picturesOf(files)
        : z.array(z.record(z.string(), z.unknown())).safeParse(json(`tables/${part.table}.json`)).data;
    if (!list) return refuse(`tables/${part.table}.json is no list of rows`);
    if (list.length !== counts[part.table])
      refuse(`tables/${part.table}.json has ${list.length} rows; ${counts[part.table] ?? 0} were written`);
    rows.set(part.table, list);
  }
  const clubs = rows.get('clubs')!;
  if (clubs.length !== 1) return refuse('it holds no club, or several');
  demandClosed(rows);
  return { rows, clubId: String(clubs[0]!.id), name: String(clubs[0]!.name) };
}

const picturesOf = (files: Record<string, Uint8Array>): Row[] =>
  Object.entries(files).flatMap(([name, bytes]) => {
    const m = /^pictures\/([0-9a-f-]{36})\.(\w+)$/.exec(name);
    return m ? [{ id: m[1], picture: `data:image/${m[2]};base64,${Buffer.from(bytes).toString('base64')}` }] : [];
  });

/** Ids are ids, and whatever a row names is in the archive too: it reaches no other club. */
function demandClosed(rows: Map<string, Row[]>): void {
  const ids = new Map(PARTS.map(({ table }) => [table, new Set(rows.get(table)!.map((r) => r.id))]));
  for (const { table, refs } of PARTS)
    for (const [i, row] of rows.get(table)!.entries()) {
      if ('id' in row && (typeof row.id !== 'string' || !/^[0-9a-f-]{36}$/.test(row.id)))
        refuse(`tables/${table}.json, row ${i + 1}: its id is none`);
      for (const [column, names] of Object.entries(refs)) {
        const value = row[column];
        if (value !== null && value !== undefined && !ids.get(names)!.has(value))
          refuse(`tables/${table}.json, row ${i + 1}: its ${column} names nothing in the archive’s ${names}`);
      }
    }
}

export interface ReadIn {
  club: string;
  rows: number;
  /** Stewards with the passwords they sign in with first; told once. */
  stewards: { name: string; signIn: string; password: string }[];
  /** Sign-in names somebody else here has, and what they are now. */
  renamed: [from: string, to: string][];
}

/**
 * Reads a club in beside those that are here, all or nothing. Everybody keeps their name; passwords are in no archive: stewards get
 * one that is told, and give the others theirs.
 * @throws ArchiveTrouble with what is wrong
 */
export async function readArchive(store: Store, bytes: Uint8Array): Promise<ReadIn> {
  const { rows, clubId, name } = examineArchive(bytes);
  const stewards: ReadIn['stewards'] = [];
  const renamed: ReadIn['renamed'] = [];
  const locked = await hashPassword(randomBytes(24).toString('base64url'));
  let written = 0;
  await store.db.transaction(async (t) => {
    await demandColumns(store, rows, t);
    const there = await store.read('SELECT id FROM clubs WHERE id = ?', [clubId], t);
    if (there.length) refuse(`${name} is here already`);
    await demandNoStranger(store, rows, t);
    const taken = new Set((await store.read<{ s: string }>('SELECT sign_in AS s FROM members', [], t)).map((r) => r.s));
    for (const part of PARTS) {
      const list = rows.get(part.table)!;
      if (part.table === 'members')
        for (const m of list) {
          const wanted = String(m.sign_in);
          let signIn = wanted;
          for (let n = 2; taken.has(signIn); n++) signIn = `${wanted.slice(0, 55)}-${n}`;
          taken.add(signIn);
          if (signIn !== wanted) renamed.push([wanted, signIn]);
          Object.assign(m, { sign_in: signIn, password_hash: locked, owner: 0 });
          if (m.role !== 'steward' || m.archived_at !== null) continue;
          const password = randomBytes(9).toString('base64url');
          m.password_hash = await hashPassword(password);
          stewards.push({ name: String(m.name), signIn, password });
        }
      if (part.table === 'clubs') for (const c of list) c.demo = 0;
      await insert(store, part, list, t);
      written += list.length;
    }
  });
  return { club: name, rows: written, stewards, renamed };
}

/** What rows may be named by within documents, as a leg names its project. */
const NAMED_WITHIN = ['projects', 'members', 'rigs', 'train_states', 'runs', 'plans', 'offset_sets', 'parts', 'sites'];
const UUID = /[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}/g;
/** Documents in rows name no row of another club that is here, either. */
async function demandNoStranger(store: Store, rows: Map<string, Row[]>, t: Transaction): Promise<void> {
  const own = new Set([...rows.values()].flat().map((r) => r.id));
  const named = new Map<string, string>();
  for (const { table } of PARTS) {
    if (table === 'frame_pictures') continue;
    for (const row of rows.get(table)!)
      for (const [column, value] of Object.entries(row))
        if (value !== null && typeof value === 'object')
          for (const [id] of JSON.stringify(value).matchAll(UUID))
            if (!own.has(id)) named.set(id, `tables/${table}.json: ${column}`);
  }
  const ids = [...named.keys()];
  for (let from = 0; from < ids.length; from += ROWS)
    for (const table of NAMED_WITHIN) {
      const page = ids.slice(from, from + ROWS);
      const [found] = await store.read<{ id: string }>(
        `SELECT id FROM \`${table}\` WHERE id IN (?) LIMIT 1`,
        [page],
        t,
      );
      if (found) refuse(`${named.get(found.id)!} names one of the ${table} of another club`);
    }
}

/** Every row has the same columns, and this installation has them. */
async function demandColumns(store: Store, rows: Map<string, Row[]>, t: Transaction): Promise<void> {
  for (const { table } of PARTS) {
    const list = rows.get(table)!;
    if (!list.length) continue;
    const there = await store.read<{ name: string }>(
      'SELECT column_name AS name FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = ?',
      [table],
      t,
    );
    const known = new Set(there.map((c) => c.name));
    const columns = Object.keys(list[0]!);
    const stranger = columns.find((c) => !known.has(c));
    if (stranger !== undefined) refuse(`${table} has no column “${stranger.slice(0, 60)}” here`);
    const uneven = list.findIndex((r) => Object.keys(r).join() !== columns.join());
    if (uneven >= 0) refuse(`tables/${table}.json, row ${uneven + 1}: it has other columns than the first`);
  }
}

/** Rows as they stand, under columns that are known. */
async function insert(store: Store, part: Part, list: readonly Row[], t: Transaction): Promise<void> {
  const { self } = part;
  for (let from = 0; from < list.length; from += ROWS) {
    const page = list.slice(from, from + ROWS);
    const columns = Object.keys(page[0]!);
    const values = page.map((row) => columns.map((c) => (c === self ? null : written(row[c]))));
    const names = columns.map((c) => `\`${c}\``).join(', ');
    const marks = page.map(() => `(${columns.map(() => '?').join(', ')})`).join(', ');
    await store.db.query(`INSERT INTO \`${part.table}\` (${names}) VALUES ${marks}`, {
      replacements: values.flat(),
      transaction: t,
    });
  }
  if (self)
    for (const row of list)
      if (row[self] !== null && row[self] !== undefined)
        await store.db.query(`UPDATE \`${part.table}\` SET \`${self}\` = ? WHERE id = ?`, {
          replacements: [row[self], row.id],
          transaction: t,
        });
}
const INSTANT = /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{3}Z$/;
function written(value: unknown): unknown {
  if (value === undefined) return null;
  if (typeof value === 'string' && INSTANT.test(value)) return new Date(value);
  return value !== null && typeof value === 'object' ? JSON.stringify(value) : value;
}
