import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { OffsetSetRecord, PlanRecord } from '@keen/contract';
import { RIGS } from '@keen/demo';
import { flushPromises } from '@vue/test-utils';
import { nextTick } from 'vue';
import { mountScreen, me, project, rig, site, slow } from '../test/mountScreen.ts';
import { rigView } from './club.ts';
import { useLight } from './light.ts';
import { useUnits } from './units.ts';

const Nothing = { render: () => null };
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const twoSystems = () => rig(RIGS.find((r) => r.build.systems.length > 1)!.build, 4);
const open = (options: Parameters<typeof mountScreen>[1] = {}) => mountScreen(Nothing, options);
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('the club’s records', () => {
  test('a rig is looked at through one system; the choice is kept by rig', async () => {
    const two = twoSystems();
    const { club } = await open({ rigs: [rig(), two] });
    const second = two.systems[1]!.key;
    club.selectRig(two.id, second);
    expect([club.rig!.id, club.rig!.system.key]).toEqual([two.id, second]);
    club.selectRig(rig().id);
    club.selectRig(two.id);
    expect(club.rig!.system.key).toBe(second);
  });
  test('a system that is gone gives way to the first; a rig that is gone to the first rig', async () => {
    const two = twoSystems();
    expect(rigView(two, 'taken-off').system.key).toBe(two.systems[0]!.key);
    const { club } = await open({ rigs: [rig(), two] });
    club.selectRig(two.id);
    club.records = [rig()];
    expect(club.rig!.id).toBe(rig().id);
  });
  test('what the server gave takes its old place; something new is added; rigs stand by name', async () => {
    const { club } = await open({ rigs: [{ ...rig(), name: 'b' }] });
    club.putRig({ ...twoSystems(), name: 'a' });
    expect(club.records.map((r) => r.name)).toEqual(['a', 'b']);
    club.putRig({ ...rig(), name: 'c' });
    expect(club.records.map((r) => r.name)).toEqual(['a', 'c']);
    club.putSite({ ...site(), name: 'ridge' });
    expect(club.sites.map((s) => s.name)).toEqual(['ridge']);
    club.putProject(project({ id: id(51) }));
    club.putProject(project({ id: id(51), name: 'renamed' }));
    expect(club.projects.map((p) => p.name)).toEqual(['renamed']);
  });
  test('the next person sees nothing of the one before, not even what comes late; what never came is named', async () => {
    const late = slow([site()]);
    const problem = { code: 'internal', title: 'The server failed', status: 500, type: '', detail: 'no answer' };
    const { club } = await open({
      answers: [
        { path: /sites/, body: late.body },
        { path: /projects/, status: 500, body: problem },
        { path: /./, body: [] },
      ],
    });
    const first = club.load();
    club.forget();
    expect([club.loaded, club.sites, club.records, club.projects, club.plans]).toEqual([false, [], [], [], []]);
    await late.come();
    await first;
    expect([club.loaded, club.sites]).toEqual([false, []]);
    await club.load();
    expect([club.loaded, club.sites.length, club.missing]).toEqual([true, 1, ['projects']]);
  });
  test('a plan just saved comes first and stands once', async () => {
    const plan = (n: number, version = 1) => ({ id: id(n), version, night: '2026-11-19' }) as PlanRecord;
    const { club } = await open();
    for (const p of [plan(1), plan(2), plan(1, 2)]) club.putPlan(p);
    expect(club.plans.map((p) => [p.id, p.version])).toEqual([
      [id(1), 2],
      [id(2), 1],
    ]);
  });
  test('projects of the rig are those of the system looked at, without the ones put away', async () => {
    const two = twoSystems();
    const of = (n: number, system: number, archived = false) =>
      project({ id: id(n), rigId: two.id, system: two.systems[system]!.key, archived });
    const { club } = await open({ rigs: [two], projects: [of(1, 0), of(2, 1), of(3, 0, true)] });
    expect(club.rigProjects.map((p) => p.id)).toEqual([id(1)]);
    club.selectRig(two.id, two.systems[1]!.key);
    expect(club.rigProjects.map((p) => p.id)).toEqual([id(2)]);
  });
  test('a night before and after; stepping back to tonight follows the clock again', async () => {
    const { club } = await open();
    club.now = Date.parse('2026-11-19T14:00:00Z');
    const tonight = club.tonight;
    club.stepNight(1);
    expect(club.night > tonight).toBe(true);
    club.stepNight(-1);
    expect(club.night).toBe(tonight);
    club.now += 86_400_000;
    expect(club.night > tonight).toBe(true);
  });
  test('offsets of the train that is looked at: a late answer for another train is dropped', async () => {
    const two = twoSystems();
    const { club } = await open({ rigs: [rig(), two] });
    club.selectRig(rig().id);
    await flushPromises();
    const held: { path: string; answer: () => void }[] = [];
    globalThis.fetch = jest.fn(
      (path: unknown) =>
        new Promise((done) =>
          held.push({
            path: String(path),
            answer: () =>
              done({
                ok: true,
                status: 200,
                json: async () => [{ id: String(path) } as unknown as OffsetSetRecord],
              } as never),
          }),
        ),
    ) as never;
    club.selectRig(two.id);
    await nextTick();
    club.selectRig(rig().id);
    await nextTick();
    const now = rig().systems[0]!.trainStateId;
    const [wanted, late] = [held.filter((h) => h.path.includes(now)), held.filter((h) => !h.path.includes(now))];
    expect(late.length).toBeGreaterThan(0);
    for (const h of [...wanted, ...late]) {
      h.answer();
      await flushPromises();
    }
    expect(club.offsetSets.map((o) => o.id)).toEqual([wanted[0]!.path]);
  });
  test('what could not be read is said, and read again on asking', async () => {
    const { club } = await open({
      answers: [
        {
          path: /sites/,
          status: 500,
          body: { type: 'x', title: 'x', status: 500, code: 'failed', detail: 'The database does not answer.' },
        },
      ],
    });
    await club.load();
    expect(club.trouble).not.toBe('');
    expect(club.sites.map((s) => s.id)).toEqual([site().id]);
  });
});

describe('who is signed in', () => {
  const problem = (code: string, detail: string) => ({ type: 'x', title: code, status: 401, code, detail });
  test('the code asked for after the password is a next step, not a fault', async () => {
    const { session } = await open({
      member: null,
      answers: [
        { method: 'POST', path: /session|sign-in/, status: 401, body: problem('code_needed', 'Type the code.') },
      ],
    });
    expect(await session.signIn({ signIn: 'noor', password: 'x'.repeat(12) })).toBe(false);
    expect([session.refusal, session.trouble]).toEqual(['code_needed', '']);
  });
  test('a wrong password is said, and forgotten once the right one was typed', async () => {
    const answers = [
      {
        method: 'POST',
        path: /session|sign-in/,
        status: 401,
        body: problem('wrong_password', 'Name or password is wrong.'),
      },
    ] as { method: string; path: RegExp; status?: number; body: unknown }[];
    const { session } = await open({ member: null, answers });
    await session.signIn({ signIn: 'noor', password: 'x'.repeat(12) });
    expect([session.refusal, session.trouble]).toEqual(['wrong_password', 'Name or password is wrong.']);
    answers[0] = {
      method: 'POST',
      path: /session|sign-in/,
      body: {
        member: me(),
        csrfToken: 'u',
        mayBegin: true,
        local: true,
        mayRestoreDemo: false,
        settings: null,
        demo: null,
      },
    };
    expect(await session.signIn({ signIn: 'noor', password: 'y'.repeat(12) })).toBe(true);
    expect([session.refusal, session.trouble, session.member!.name]).toEqual(['', '', 'Noor Vik']);
  });
  test.each([
    ['steward', true, true],
    ['member', true, false],
    ['guest', false, false],
  ] as const)('a %s may change: %s, keeps everything: %s', async (role, mayEdit, isSteward) => {
    const { session } = await open({ member: me({ role, clubKind: 'club' }) });
    expect([session.mayEdit, session.isSteward, session.alone]).toEqual([mayEdit, isSteward, false]);
  });
  test('signed out, what was typed and not saved is gone from this browser', async () => {
    const { session } = await open();
    localStorage.setItem(`keen.of.${me().id}.draft.rig`, '{}');
    localStorage.setItem('keen.units', 'imperial');
    await session.signOut();
    expect(Object.keys(localStorage).filter((k) => k.includes('draft'))).toEqual([]);
    expect(localStorage.getItem('keen.units')).toBe('imperial');
  });
});

describe('light and units', () => {
  test('light follows the Sun at the site until a person chooses', async () => {
    const { club } = await open();
    const light = useLight();
    club.now = Date.parse('2026-11-19T11:00:00Z');
    expect([light.light, light.sunAltitudeDeg! > 10, light.afternoon]).toEqual(['day', true, expect.any(Boolean)]);
    club.now = Date.parse('2026-11-19T22:00:00Z');
    expect(light.light).toBe('night');
    await nextTick();
    expect(document.documentElement.dataset.light).toBe('night');
    light.choose('dark-adapted');
    await nextTick();
    expect([light.light, document.documentElement.dataset.light]).toEqual(['dark-adapted', 'dark-adapted']);
    light.choose('automatic');
    expect(light.light).toBe('night');
  });
  test('without a site it is day', async () => {
    await open({ sites: [], rigs: [] });
    expect(useLight().light).toBe('day');
  });
  test.each([
    ['as chosen', 'imperial', 'night', '{}', ['imperial', 'night']],
    ['as usual where it is nothing of ours', 'furlongs', 'candle', '[7, null]', ['metric', 'day']],
  ])('what this browser keeps is shown %s', async (_, units, light, systems, shown) => {
    localStorage.setItem('keen.units', units);
    localStorage.setItem('keen.light', light);
    localStorage.setItem('keen.systems', systems);
    const { club } = await open({ sites: [] });
    expect([useUnits().system, useLight().light]).toEqual(shown);
    expect(club.rig!.system.key).toBe(rig().systems[0]!.key);
  });
  test('units change what is shown, there and back, never what is stored', async () => {
    await open();
    const units = useUnits();
    expect(units.length(25.4, 1)).toMatch(/^25\.4\smm$/);
    units.change();
    expect([units.system, units.length(25.4)]).toEqual(['imperial', expect.stringMatching(/^1\.00\sin$/)]);
    expect(units.temperature(-10)).toMatch(/^14\.0\s°F$/);
    expect(units.degrees(10)).toMatch(/^18\.0\s°F$/);
    units.change();
    expect(units.system).toBe('metric');
  });
});
