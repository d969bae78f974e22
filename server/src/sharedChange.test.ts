import { expect, test } from '@jest/globals';
import { QueryTypes } from 'sequelize';
import { api, type RigRecord } from '@keen/contract';
import type { Actor } from './store.ts';
import { testServer } from './test/harness.ts';

const { server, odalys } = testServer(['odalys']);
const rig = async () => ((await odalys.get(api.rigs.path)).body as RigRecord[])[0]!;
const member = async (signIn: string): Promise<Actor> =>
  (
    await server.db.query<Actor>('SELECT id, club_id AS clubId, name, role FROM members WHERE sign_in = :signIn', {
      replacements: { signIn },
      type: QueryTypes.SELECT,
    })
  )[0]!;
const said = async () =>
  Number(
    (await server.db.query<{ n: number }>('SELECT COUNT(*) AS n FROM changes', { type: QueryTypes.SELECT }))[0]!.n,
  );
const tell = (who: Actor) => (t: Parameters<Parameters<typeof server.store.change>[2]>[0]) =>
  server.store.audit(who, 'a test', 'told', t);

test('a rig of another club is none', async () => {
  const who = { ...(await member('teun')), clubId: '00000000-0000-4000-8000-00000000000c' };
  await expect(server.store.change(who, ['rig', (await rig()).id], tell(who))).rejects.toMatchObject({
    code: 'not_found',
  });
});
test('whoever was made less, or left, since they asked changes nothing', async () => {
  const who = await member('mirela');
  const { id } = await rig();
  const set = (sql: string) => server.db.query(`UPDATE members SET ${sql} WHERE id = '${who.id}'`);
  const before = await said();
  await set("role = 'guest'");
  await expect(server.store.change(who, ['rig', id], tell(who))).rejects.toMatchObject({ code: 'not_allowed' });
  await set("role = 'member', archived_at = NOW(3)");
  await expect(server.store.change(who, ['rig', id], tell(who))).rejects.toMatchObject({ code: 'not_signed_in' });
  await set('archived_at = NULL');
  expect(await said()).toBe(before);
  await server.store.change(who, ['rig', id], tell(who));
  expect(await said()).toBe(before + 1);
});
test('a change that is told to nobody, without having said so, is none', async () => {
  const who = await member('teun');
  const { id } = await rig();
  const archive = () => Promise.resolve();
  await expect(server.store.change(who, ['rig', id], archive)).rejects.toThrow('tells nobody');
  await server.store.change(who, ['rig', id], archive, { quiet: true });
});
test('guards are taken in one order, whatever order they are named in, before anything is read', async () => {
  const who = await member('odalys');
  const { id } = await rig();
  const [a, b] = [
    ['rig', id],
    ['club', who.clubId],
  ] as const;
  const none = async () => undefined;
  const both = Array.from({ length: 12 }, (_, i) =>
    server.store.change(who, i % 2 ? [a, b] : [b, a], none, { quiet: true }),
  );
  await Promise.all(both);
});
