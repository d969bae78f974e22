import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { typicalCables } from '@keen/core/cables';
import { viewOf } from '@keen/core/rig';
import { RIGS } from '@keen/demo';
import { flushPromises } from '@vue/test-utils';
import type { Component } from 'vue';
import { rounds } from '../../core/src/test/rounds.ts';
import { ownWorker } from './test/ownWorker.ts';
import { mountScreen, me, project, rig, site } from './test/mountScreen.ts';
import { nothingKept } from './test/records.ts';
import { useUnits } from './stores/units.ts';
import { router } from './router.ts';
import { PHASES } from './phases/phases.ts';

await ownWorker();

/** Every screen there is, as the router loads it. */
const SCREENS = Object.fromEntries(
  router
    .getRoutes()
    .map((r) => [r.path, r.components?.default as () => Promise<{ default: unknown }>] as const)
    // before anybody is in, on the way in, and what is none
    .filter(([p]) => !['/', '/sign-in', '/begin', '/join', '/first-evening'].includes(p) && !p.includes(':')),
);
test('every task of the day has a screen, and every screen its task', () => {
  const tasks = PHASES.flatMap((p) => p.tasks.map((t) => t.path));
  expect([...tasks].sort()).toEqual(Object.keys(SCREENS).sort());
  expect(new Set(tasks).size).toBe(tasks.length);
});
/** A screen says something: its verdict, a heading, what it lacks or what may be done. */
const says = (screen: { find: (what: string) => { exists: () => boolean; text: () => string } }) => {
  const found = screen.find('[data-test="verdict"], [data-test="empty"], h1, h2, h3, .panel .muted');
  return found.exists() ? found.text() : '';
};
/** A catalogue of one object, so that the worker has something to go through. */
const sky = {
  source: '',
  licence: '',
  id: ['NGC 281'],
  alias: [null],
  name: [null],
  type: ['en'],
  raDeg: [13.2],
  decDeg: [56.6],
  mag: [7.4],
  majorArcmin: [35],
  minorArcmin: [30],
};
const lists = [
  {
    path: /\/cables$/,
    body: {
      rigId: rig().id,
      sheet: typicalCables(viewOf(rig().setup)),
      kept: false,
      version: 0,
      updatedAt: '2026-11-01T12:00:00.000Z',
      updatedBy: '',
    },
  },
  { path: /deep-sky/, body: sky },
  ...nothingKept,
];
const screenAt = async (path: string) => (await SCREENS[path]!()).default as Component;
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('no screen is a dead end', () => {
  test.each(Object.keys(SCREENS))('%s, on an empty start', async (path) => {
    const { wrapper } = await mountScreen(await screenAt(path), { rigs: [], sites: [], answers: lists, at: path });
    await flushPromises();
    expect(says(wrapper)).not.toBe('');
    // what happened is only told
    if (path !== '/club/security') expect(wrapper.find('button, a').exists()).toBe(true);
    wrapper.unmount();
    const { wrapper: theirs } = await mountScreen(await screenAt(path), {
      rigs: [],
      sites: [],
      answers: [{ path: /members/, body: [{ ...me(), name: 'Odalys Brandt' }] }, ...lists],
      at: path,
      member: me({ role: 'member', clubKind: 'club' }),
    });
    await flushPromises();
    expect(says(theirs)).not.toBe('');
    expect(theirs.text()).not.toMatch(/Add a (rig|site)/);
    theirs.unmount();
  });
});

/** What is shown, typed values too; formulas stay metric and say so, names are people's own. */
function shown(root: Element): string {
  const copy = root.cloneNode(true) as Element;
  copy.querySelectorAll('.working, style, select option').forEach((e) => e.remove());
  const inputs = [...root.querySelectorAll('input')].map((i) => i.value);
  return [copy.textContent, ...inputs].join(' | ').replace(/[\w×.]* ?spacer [\d.]+ mm|\d+ mm (lens|f.\S+ \w+)/g, '');
}
const METRIC = /[\d–] ?\u202f?(mm|kg|kg·cm|N·m|°C|m\/s)(?![\w·²])/;

describe('a person who chose inches, pounds and °F reads them', () => {
  for (const build of [RIGS[0]!, RIGS.find((r) => r.key === 'newtonian')!].slice(0, rounds(1, 2)))
    test.each(Object.keys(SCREENS))(`on %s, ${build.key}`, async (path) => {
      localStorage.setItem('keen.units', 'imperial');
      const { wrapper } = await mountScreen(await screenAt(path), {
        rigs: [rig(build.build)],
        projects: [project({ system: build.build.systems[0]!.key })],
        answers: lists,
        at: path,
      });
      expect(useUnits().system).toBe('imperial');
      await flushPromises();
      await flushPromises();
      // a name is whoever gave it
      const names = build.build.systems.map((s) => s.name);
      const text = names.reduce((t, n) => t.replaceAll(n, ''), shown(wrapper.element.parentElement!));
      const at = METRIC.exec(text);
      expect(at ? text.slice(Math.max(0, at.index - 60), at.index + 20) : '').toBe('');
      if (path.startsWith('/bench/')) expect(text).toMatch(/\d\s?(in|lb)\b/);
      wrapper.unmount();
    });
});

describe('at 58° N about midsummer, when it never gets dark', () => {
  afterEach(() => void jest.restoreAllMocks());
  test.each(Object.keys(SCREENS))('%s says what it can and computes nothing out of nothing', async (path) => {
    jest.spyOn(Date, 'now').mockReturnValue(Date.parse('2027-06-21T20:00:00Z'));
    const north = { ...site(), latitudeDeg: 58.4, longitudeDeg: 15.6, timeZone: 'Europe/Stockholm' };
    const { wrapper, club } = await mountScreen(await screenAt(path), {
      sites: [north],
      projects: [project()],
      answers: lists,
      at: path,
    });
    for (let i = 0; i < 4 || (i < 40 && says(wrapper) === ''); i++) await flushPromises();
    expect(club.night).toBe('2027-06-21');
    const text = wrapper.text();
    expect(says(wrapper)).not.toBe('');
    expect(/.{0,40}(NaN|undefined|Infinity|Invalid).{0,20}/.exec(text)?.[0] ?? '').toBe('');
    if (path === '/night') expect(wrapper.find('[data-test="verdict"]').text()).toMatch(/dark/i);
    wrapper.unmount();
  });
});
