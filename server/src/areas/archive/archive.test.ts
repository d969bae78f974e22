import { beforeAll, describe, expect, test } from '@jest/globals';
import { api } from '@keen/contract';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { QueryTypes } from 'sequelize';
import Papa from 'papaparse';
import request from 'supertest';
import { signInAs, testServer, type Person } from '../../test/harness.ts';
import { IN_NO_ARCHIVE, PARTS } from './parts.ts';
import { ArchiveTrouble, readArchive } from './read.ts';

const { server, odalys, teun } = testServer(['odalys', 'teun']);
const other = testServer([], { demo: false });
const fetched = async (p: Person, path: string) => {
  const got = await p
    .get(path)
    .buffer(true)
    .parse((res, done) => {
      const parts: Buffer[] = [];
      res.on('data', (d: Buffer) => parts.push(d));
      res.on('end', () => done(null, Buffer.concat(parts)));
    });
  return { status: got.status, bytes: got.body as Buffer, type: got.type };
};
let bytes: Buffer;
const unpacked = new WeakMap<Uint8Array, Record<string, Uint8Array>>();
function table(zip: Uint8Array, name: string): Record<string, unknown>[] {
  const files = unpacked.get(zip) ?? unzipSync(zip, { filter: (f) => f.name.startsWith('tables/') });
  unpacked.set(zip, files);
  return JSON.parse(strFromU8(files[`tables/${name}.json`]!)) as Record<string, unknown>[];
}
beforeAll(async () => {
  await teun.put(api.keepAbsences.path, {
    absences: [{ from: '2026-12-24', until: '2026-12-26', title: 'a secret of mine' }],
  });
  bytes = (await fetched(odalys, '/api/club/archive')).bytes;
}, 60_000);

test('every table there is belongs into an archive or is kept out of it on purpose', async () => {
  const rows = await server.db.query<{ t: string }>(
    'SELECT table_name AS t FROM information_schema.tables WHERE table_schema = DATABASE()',
    { type: QueryTypes.SELECT },
  );
  expect(rows.map((r) => r.t).sort()).toEqual([...PARTS.map((p) => p.table), ...IN_NO_ARCHIVE].sort());
  // and every column that names a row of another table is known as one
  const keys = await server.db.query<{ t: string; c: string; r: string }>(
    `SELECT table_name AS t, column_name AS c, referenced_table_name AS r FROM information_schema.key_column_usage
     WHERE table_schema = DATABASE() AND referenced_table_name IS NOT NULL`,
    { type: QueryTypes.SELECT },
  );
  for (const { t, c, r } of keys) {
    const part = PARTS.find((p) => p.table === t);
    if (part) expect([t, c, part.refs[c]]).toEqual([t, c, r]);
  }
});

describe('a whole club', () => {
  test('is written for its stewards alone, and read by a stranger', async () => {
    expect((await teun.get('/api/club/archive')).status).toBe(403);
    expect((await request(server.app).get('/api/club/archive')).status).toBe(401);
    const files = unzipSync(bytes);
    const manifest = JSON.parse(strFromU8(files['club.json']!)) as { counts: Record<string, number> };
    expect(manifest.counts.projects).toBe(table(bytes, 'projects').length);
    const text = Object.entries(files).map(([n, b]) => (n.endsWith('.json') || n.endsWith('.csv') ? strFromU8(b) : ''));
    expect(text.join('')).not.toMatch(/argon2|password_hash|factor_key|a secret of mine/);
    expect(table(bytes, 'absences')).toHaveLength(1);
    // by another reader of such tables: ids have their names beside them
    const csv = Papa.parse<Record<string, string>>(strFromU8(files['csv/projects.csv']!), {
      header: true,
      skipEmptyLines: true,
    });
    expect(csv.errors).toEqual([]);
    expect(csv.data).toHaveLength(manifest.counts.projects!);
    expect(csv.data.map((r) => r.owner_id_name)).toContain('Teun Achterberg');
  });
  test('read in on another machine it is the same club: every row, and what pages show of it', async () => {
    const done = await readArchive(other.server.store, bytes);
    expect(done.renamed).toEqual([]);
    expect(done.stewards.map((s) => s.signIn)).toEqual(['odalys']);
    const steward = await signInAs(other.server.app, 'odalys', done.stewards[0]!.password);
    for (const route of [api.rigs, api.sites, api.projects, api.plans, api.runs, api.parts, api.sharing]) {
      const [here, there] = [await odalys.get(route.path), await steward.get(route.path)];
      expect([route.path, there.body]).toEqual([route.path, here.body]);
    }
    // written again it says the same, but for what is the installation’s own
    const again = (await fetched(steward, '/api/club/archive')).bytes;
    for (const { table: name } of PARTS.filter((p) => p.table !== 'frame_pictures'))
      expect([name, table(again, name)]).toEqual([name, table(bytes, name)]);
    await expect(readArchive(other.server.store, bytes)).rejects.toThrow(/is here already\. Nothing was read in/);
  }, 60_000);
  test('into an installation that has others it comes beside them, under names that are free', async () => {
    const club = table(bytes, 'clubs')[0]!;
    // the same club under other ids, as another one would be
    const files = unzipSync(bytes);
    const changed = Object.fromEntries(
      Object.entries(files).map(([name, b]) => [
        name.replace(/([0-9a-f]{8})-([0-9a-f-]{27})/, 'ffff0000-$2'),
        name.endsWith('.json')
          ? strToU8(
              strFromU8(b).replace(
                /"([0-9a-f]{8})-([0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12})"/g,
                '"ffff0000-$2"',
              ),
            )
          : b,
      ]),
    );
    // a file counts once for its owner: the same files are another club’s here
    const frames = JSON.parse(strFromU8(changed['tables/frames.json']!)) as { counted_hash: string | null }[];
    for (const f of frames) if (f.counted_hash) f.counted_hash = `ffff0000${f.counted_hash.slice(8)}`;
    changed['tables/frames.json'] = strToU8(JSON.stringify(frames));
    const done = await readArchive(server.store, zipSync(changed, { level: 0 }));
    expect(done.renamed).toContainEqual(['odalys', 'odalys-2']);
    const steward = await signInAs(server.app, 'odalys-2', done.stewards[0]!.password);
    expect(((await steward.get(api.rigs.path)).body as unknown[]).length).toBeGreaterThan(0);
    expect((await steward.get(api.members.path)).body[0].club).toBe(club.name);
    // the first one has what it had
    expect(((await odalys.get(api.members.path)).body as { signIn: string }[]).map((m) => m.signIn)).toContain(
      'odalys',
    );
  }, 60_000);
});

test('a document in a row names nothing of another club that is here', async () => {
  const here = await signInAs(other.server.app, 'odalys', 'x').catch(() => null);
  expect(here).toBeNull();
  const [theirs] = await other.server.store.read<{ id: string }>('SELECT id FROM projects LIMIT 1', []);
  // the club under other ids, one leg of it for a project of the club that is there
  const swapped = (text: string) =>
    text.replace(/"([0-9a-f]{8})-([0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12})"/g, '"eeee0000-$2"');
  const changed = Object.fromEntries(
    Object.entries(unzipSync(bytes)).map(([name, b]) => [
      name.replace(/([0-9a-f]{8})-([0-9a-f-]{27})/, 'eeee0000-$2'),
      name.endsWith('.json') ? strToU8(swapped(strFromU8(b))) : b,
    ]),
  );
  const plans = JSON.parse(strFromU8(changed['tables/plans.json']!)) as { legs: { projectId: string }[] }[];
  plans[0]!.legs[0]!.projectId = theirs!.id;
  changed['tables/plans.json'] = strToU8(JSON.stringify(plans));
  await expect(readArchive(other.server.store, zipSync(changed, { level: 0 }))).rejects.toThrow(
    /tables\/plans\.json: legs names one of the projects of another club\. Nothing was read in/,
  );
}, 60_000);

describe('what is no archive of a club is refused whole', () => {
  let whole: Record<string, Uint8Array> | null = null;
  const spoilt = (change: (files: Record<string, Uint8Array>) => void) => {
    const files = { ...(whole ??= unzipSync(bytes)) };
    change(files);
    return zipSync(files, { level: 0 });
  };
  const json = (files: Record<string, Uint8Array>, name: string, change: (v: never) => void) => {
    const value = JSON.parse(strFromU8(files[name]!)) as never;
    change(value);
    files[name] = strToU8(JSON.stringify(value));
  };
  test.each<[string, () => Uint8Array, RegExp]>([
    ['text', () => strToU8('not a zip'), /no zip, or cut off/],
    ['cut', () => bytes.subarray(0, Math.floor(bytes.length / 2)), /no zip, or cut off/],
    ['without a table', () => spoilt((f) => delete f['tables/plans.json']), /plans\.json is missing/],
    [
      'a row less',
      () => spoilt((f) => json(f, 'tables/plans.json', (v: unknown[]) => void v.pop())),
      /rows; \d+ were written/,
    ],
    [
      'newer',
      () => spoilt((f) => json(f, 'club.json', (v: { tables: string }) => (v.tables = '999-tomorrow'))),
      /newer version/,
    ],
    [
      'older',
      () => spoilt((f) => json(f, 'club.json', (v: { tables: string }) => (v.tables = '001-foundation'))),
      /earlier version/,
    ],
    [
      'something else',
      () => spoilt((f) => json(f, 'club.json', (v: { format: string }) => (v.format = 'x'))),
      /no archive of a club/,
    ],
    [
      'a rig of another club',
      () =>
        spoilt((f) =>
          json(
            f,
            'tables/projects.json',
            (v: { rig_id: string }[]) => (v[0]!.rig_id = '00000000-0000-4000-8000-000000000009'),
          ),
        ),
      /row 1: its rig_id names nothing in the archive’s rigs/,
    ],
    [
      'a column less in one row',
      () => spoilt((f) => json(f, 'tables/sites.json', (v: Record<string, unknown>[]) => void delete v.at(-1)!.name)),
      /other columns than the first/,
    ],
    [
      'a column that is none',
      () =>
        spoilt((f) =>
          json(f, 'tables/sites.json', (v: Record<string, unknown>[]) => v.forEach((r) => (r['id`, `x'] = 1))),
        ),
      /has no column/,
    ],
  ])('%s', async (_, make, says) => {
    const fresh = other.server.store;
    const before = await fresh.read<{ n: number }>('SELECT COUNT(*) AS n FROM members', []);
    await fresh.db.query('UPDATE clubs SET id = id');
    const got = await readArchive(fresh, make()).catch((e: unknown) => e);
    expect(got).toBeInstanceOf(ArchiveTrouble);
    expect((got as Error).message).toMatch(says);
    expect(await fresh.read('SELECT COUNT(*) AS n FROM members', [])).toEqual(before);
  });
});

test('everybody has their own records as a file, and nobody else’s', async () => {
  const own = (await fetched(teun, '/api/session/archive')).bytes;
  const me = table(own, 'members');
  expect(me.map((m) => m.name)).toEqual(['Teun Achterberg']);
  for (const name of ['projects', 'plans']) for (const row of table(own, name)) expect(row.owner_id).toBe(me[0]!.id);
  expect(table(own, 'projects').length).toBeGreaterThan(0);
  expect(unzipSync(own)['tables/clubs.json']).toBeUndefined();
  expect(table(own, 'absences').map((a) => a.title)).toEqual(['a secret of mine']);
  await expect(readArchive(other.server.store, own)).rejects.toThrow(/one person’s own records/);
});
