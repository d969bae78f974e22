import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { flushPromises } from '@vue/test-utils';
import { nextTick, shallowRef } from 'vue';
import { pick, pressOutside } from '../test/userActions.ts';
import { workWith } from '../test/doubles/worker.ts';
import { mountScreen, me, project, rig } from '../test/mountScreen.ts';
import ConflictDialog from './ConflictDialog.vue';
import ColumnMapper from './ColumnMapper.vue';
import QuickFind from './QuickFind.vue';

const star = (id: string, more: object = {}) => ({
  index: 0,
  id,
  aliases: [],
  names: [],
  name: null,
  type: 'gc',
  raDeg: 250,
  decDeg: 36,
  mag: 5.8,
  ...more,
});
const finds: { text: string; answer: (objects: object[]) => void }[] = [];
workWith(() => ({ find: (text: string) => new Promise((answer) => finds.push({ text, answer })) }));

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
  finds.length = 0;
});

describe('two people saved the same record', () => {
  const mounted = async (mine: unknown, theirs: unknown) => {
    const saving = {
      conflict: shallowRef<{ detail: string } | null>({ detail: 'Teun saved it at 21:40.' }),
      keepMine: jest.fn(),
      takeTheirs: jest.fn(),
    };
    await mountScreen(ConflictDialog, { props: { saving, mine, theirs } });
    await flushPromises();
    const rows = [...document.querySelectorAll('[data-test="conflict"] tbody tr')].map((r) =>
      [...r.querySelectorAll('td')].map((c) => c.textContent),
    );
    return { saving, rows };
  };
  test('both sides stand there, only where they differ, lists counted from one', async () => {
    const { rows } = await mounted(
      { name: 'ridge', horizon: [{ altitudeDeg: 20 }, { altitudeDeg: 25 }], note: null },
      { name: 'ridge', horizon: [{ altitudeDeg: 20 }, { altitudeDeg: 30 }], note: 'trees cut' },
    );
    expect(rows).toEqual([
      ['horizon point 2, altitude', '25°', '30°'],
      ['note', 'not there', 'trees cut'],
    ]);
    expect(document.body.textContent).toContain('Teun saved it at 21:40. Nothing of yours is lost.');
  });
  test('what one side has and the other has not is said, whichever side it is', async () => {
    const { rows } = await mounted({ goals: [{ quota: 4 }, { quota: 8 }] }, { goals: [{ quota: 4 }], stamp: 9 });
    expect(rows).toEqual([
      ['goal 2, quota', '8', 'not there'],
      ['stamp', 'not there', '9'],
    ]);
  });
  test('alike after all says so', async () => {
    const { rows } = await mounted({ a: 1, b: 2 }, { a: 1, b: 2 });
    expect(rows).toEqual([['Both hold the same; taking theirs changes nothing.']]);
  });
  test('each choice does its own thing; going on keeps the draft and asks again at the next save', async () => {
    const { saving } = await mounted({ a: 1 }, { a: 2 });
    await pressOutside('Take theirs');
    await pressOutside('Keep mine and save over it');
    expect([saving.takeTheirs.mock.calls.length, saving.keepMine.mock.calls.length]).toEqual([1, 1]);
    expect(saving.conflict.value).not.toBeNull();
    await pressOutside('Go on editing');
    expect(saving.conflict.value).toBeNull();
  });
});

test('columns are named one by one, and given back', async () => {
  const props = {
    fields: ['ra', 'dec'],
    words: { ra: 'Right ascension', dec: 'Declination' },
    columns: ['RA', 'DE', 'note'],
    mapping: { ra: 'RA' },
  };
  const { wrapper } = await mountScreen(ColumnMapper as never, { props });
  await pick(wrapper, 'Declination', 'DE');
  await pick(wrapper, 'Right ascension', '');
  expect(wrapper.emitted('map')).toEqual([[{ ra: 'RA', dec: 'DE' }], [{}]]);
  expect(props.mapping).toEqual({ ra: 'RA' });
});

describe('finding', () => {
  const begin = async (more: object = {}) => {
    const screen = await mountScreen(QuickFind, {
      props: { open: true },
      rigs: [rig()],
      projects: [project()],
      ...more,
    });
    await flushPromises();
    const field = document.querySelector<HTMLInputElement>('.field')!;
    const type = async (text: string) => {
      field.value = text;
      field.dispatchEvent(new Event('input'));
      await flushPromises();
    };
    const key = async (name: string) => {
      field.dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true }));
      await nextTick();
      await flushPromises();
    };
    const hits = () =>
      [...document.querySelectorAll('.hits li')].map((l) => l.textContent!.replace(/\s+/g, ' ').trim());
    return { ...screen, type, key, hits };
  };
  test('gives projects before rigs before the sky before screens', async () => {
    const { type, hits } = await begin();
    await type('28');
    finds[0]!.answer([star('NGC 280', { aliases: ['IC 1'], mag: null })]);
    await flushPromises();
    expect(hits()[0]).toContain('Project NGC 281 in lines');
    expect(hits()[1]).toMatch(/^Object NGC 280 = IC 1 .*start a project$/);
    await type('amber');
    expect(hits().some((h) => h.startsWith('Rig rig 3'))).toBe(true);
    await type('balance');
    expect(hits()[0]).toMatch(/^Screen Balance/);
  });
  test('a late answer to what was typed before is dropped', async () => {
    const { type, hits } = await begin({ projects: [] });
    await type('m 3');
    await type('m 13');
    finds[1]!.answer([star('M 13')]);
    finds[0]!.answer([star('M 3')]);
    await flushPromises();
    expect(hits().join()).toContain('M 13');
    expect(hits().join()).not.toContain('M 3,');
  });
  test('one letter does not go through the catalogue, and nothing found says how objects are named', async () => {
    const { type, hits } = await begin();
    await type('q');
    expect(finds).toHaveLength(0);
    await type('qqq');
    finds[0]!.answer([]);
    await flushPromises();
    expect(hits()[0]).toContain('Objects are found by designation');
  });
  test('arrows walk the list, stop at its ends, and Enter goes there', async () => {
    const { type, key, router, wrapper } = await begin();
    await type('281');
    finds[0]!.answer([star('NGC 281')]);
    await flushPromises();
    for (const k of ['ArrowUp', 'ArrowDown', 'ArrowDown', 'ArrowDown', 'ArrowDown']) await key(k);
    const at = document.querySelector('.hits [aria-selected="true"]')!.textContent!;
    expect(at).toContain('Object');
    await key('Enter');
    expect(router.currentRoute.value.fullPath).toBe('/season?object=NGC+281');
    expect(wrapper.emitted('update:open')).toEqual([[false]]);
  });
  test('a project leads to its rig, and a person alone finds no club', async () => {
    const two = rig(undefined, 9);
    const { type, key, club } = await begin({ rigs: [rig(), two], projects: [project({ rigId: two.id })] });
    await type('281');
    await key('Enter');
    expect(club.rigId).toBe(two.id);
    document.body.innerHTML = '';
    const alone = await begin();
    await alone.type('club');
    expect(alone.hits().filter((h) => /\bClub\b/.test(h))).toEqual([]);
    document.body.innerHTML = '';
    const many = await begin({ member: me({ clubKind: 'club' }) });
    await many.type('club');
    expect(many.hits().filter((h) => /\bClub\b/.test(h)).length).toBeGreaterThan(2);
  });
});
