import { describe, expect, test } from '@jest/globals';
import { seeded } from '@keen/core/statistics';
import { Op, type Model, type ModelStatic } from 'sequelize';
import { testServer } from '../test/harness.ts';
import { models } from './models.ts';
import { plainSelect } from './plainFind.ts';

const { server } = testServer();
type Any = ModelStatic<Model<Record<string, unknown>>>;

/** The library’s own way to the same rows: what ours is held against. */
const byModel = (table: Any, options: object) =>
  (Object.getPrototypeOf(table) as Any).findAll.call(table, { ...options, raw: true }) as Promise<unknown[]>;

describe('a plain question', () => {
  test('finds what the library finds, of every table: values, several, none, orders, pages, parts of rows', async () => {
    const tables = Object.values(models(server.db)) as unknown as Any[];
    const r = seeded(7);
    let [asked, found] = [0, 0];
    for (const table of tables) {
      const names = Object.keys(table.getAttributes());
      const all = (await byModel(table, { limit: 40, order: ['id'] })) as Record<string, unknown>[];
      const pick = <T>(list: readonly T[]): T => list[Math.floor(r.next() * list.length)]!;
      for (let n = 0; n < 12; n++) {
        const where: Record<string, unknown> = {};
        for (let k = 0; k < Math.floor(3 * r.next()) && all.length; k++) {
          const [name, row] = [pick(names), pick(all)];
          const value = row[name];
          if (value !== null && typeof value === 'object' && !(value instanceof Date)) continue;
          const other = pick(all)[name];
          const plain = (v: unknown) => v !== null && (typeof v !== 'object' || v instanceof Date);
          where[name] = value !== null && plain(other) && r.next() < 0.4 ? [value, other] : value;
        }
        if (r.next() < 0.05) where[pick(names)] = [];
        const options: Record<string, unknown> = { where, order: [[pick(['id']), pick(['ASC', 'DESC'])]] };
        if (r.next() < 0.5) options.order = ['id'];
        const part = r.next();
        if (part < 0.4) options.attributes = names.filter((name) => name === 'id' || r.next() < 0.4);
        else if (part < 0.65) options.attributes = { exclude: [pick(names)] };
        if (r.next() < 0.5)
          Object.assign(options, { limit: Math.floor(5 * r.next()), offset: Math.floor(4 * r.next()) });
        const [ours, theirs] = [await table.findAll(options), await byModel(table, options)];
        expect(ours).toEqual(theirs);
        asked++;
        found += theirs.length;
      }
    }
    expect(asked).toBeGreaterThan(200);
    expect(found).toBeGreaterThan(300);
  }, 120_000);
  test('one, by what it is or by its id, or none', async () => {
    const [rig] = await server.store.read<{ id: string; name: string }>('SELECT id, name FROM rigs LIMIT 1', []);
    expect(await server.store.rigs.findByPk(rig!.id)).toMatchObject({ id: rig!.id, name: rig!.name });
    expect(await server.store.rigs.findOne({ where: { name: rig!.name } })).toMatchObject({ id: rig!.id });
    expect(await server.store.rigs.findByPk('00000000-0000-4000-8000-000000000000')).toBeNull();
    expect(await server.store.rigs.findOne({ where: { name: "'; DROP TABLE rigs; --" } })).toBeNull();
  });
  test('in a transaction sees what that wrote, and nobody else does', async () => {
    const { rigs, db } = server.store;
    const names = async (t?: object) => (await rigs.findAll({ where: { name: 'seen' }, ...t })).length;
    await expect(
      db.transaction(async (transaction) => {
        await db.query("UPDATE rigs SET name = 'seen' LIMIT 1", { transaction });
        expect([await names({ transaction }), await names()]).toEqual([1, 0]);
        throw new Error('undone');
      }),
    ).rejects.toThrow('undone');
    expect(await names()).toBe(0);
  });
});

const fields = new Map([
  ['id', 'id'],
  ['rigId', 'rig_id'],
]);
test.each<[string, object]>([
  ['more than equals', { where: { rigId: { [Op.ne]: 'a' } } }],
  ['one or the other', { where: { [Op.or]: [{ id: 'a' }] } }],
  ['a column there is none of', { where: { nowhere: 1 } }],
  ['a place in JSON', { where: { 'data.system': 'a' } }],
  ['nothing said of a column', { where: { rigId: undefined } }],
  ['no number', { where: { rigId: Number.NaN } }],
  ['an object in a list', { where: { rigId: ['a', { b: 1 }] } }],
  ['a lock', { lock: true }],
  ['groups', { group: 'id' }],
  ['an order of another kind', { order: [['id', 'ASC; DROP TABLE x']] }],
  ['an order by a column there is none of', { order: ['nowhere'] }],
  ['half a row', { limit: 1.5 }],
])('%s goes the library’s way', (_, options) => {
  expect(plainSelect('rigs', fields, options)).toBeNull();
});
