import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { typicalCables } from '@keen/core/cables';
import { viewOf } from '@keen/core/rig';
import { RIGS } from '@keen/demo';
import { flushPromises } from '@vue/test-utils';
import type { Component } from 'vue';
import { ownWorker } from './test/ownWorker.ts';

await ownWorker();
jest.unstable_mockModule('vue-chartjs', () => ({ Line: {}, Scatter: {}, Bar: {}, Chart: {} }));
const { mountScreen, me, project, rig, site } = await import('./test/mountScreen.ts');
const { useUnits } = await import('./stores/units.ts');

const SCREENS: Record<string, () => Promise<{ default: unknown }>> = {
  '/bench': () => import('./phases/bench/BenchSummary.vue'),
  '/bench/rigs': () => import('./phases/bench/RigsView.vue'),
  '/bench/balance': () => import('./phases/bench/BalanceView.vue'),
  '/bench/train': () => import('./phases/bench/TrainView.vue'),
  '/bench/off-axis': () => import('./phases/bench/OffAxisView.vue'),
  '/bench/focuser': () => import('./phases/bench/FocuserView.vue'),
  '/bench/cables': () => import('./phases/bench/CablesView.vue'),
  '/bench/cards': () => import('./phases/bench/CardsView.vue'),
  '/dusk': () => import('./phases/dusk/DuskSummary.vue'),
  '/dusk/setup': () => import('./phases/dusk/SetupView.vue'),
  '/dusk/pole': () => import('./phases/dusk/PoleView.vue'),
  '/dusk/guider': () => import('./phases/dusk/GuiderView.vue'),
  '/dusk/dither': () => import('./phases/dusk/DitherView.vue'),
  '/night': () => import('./phases/night/TonightView.vue'),
  '/night/target': () => import('./phases/night/TargetView.vue'),
  '/night/plan': () => import('./phases/night/PlanView.vue'),
  '/night/moon': () => import('./phases/night/MoonView.vue'),
  '/night/run': () => import('./phases/night/RunView.vue'),
  '/morning': () => import('./phases/morning/MorningSummary.vue'),
  '/morning/night': () => import('./phases/morning/BringInView.vue'),
  '/morning/frames': () => import('./phases/morning/FramesView.vue'),
  '/morning/calibration': () => import('./phases/morning/CalibrationView.vue'),
  '/morning/report': () => import('./phases/morning/ReportView.vue'),
  '/morning/log': () => import('./phases/morning/LogbookView.vue'),
  '/morning/drills': () => import('./phases/morning/DrillsView.vue'),
  '/morning/focus': () => import('./phases/morning/FocusRunsView.vue'),
  '/morning/guiding': () => import('./phases/morning/GuideLogView.vue'),
  '/season': () => import('./phases/season/ProjectsView.vue'),
  '/club/sites': () => import('./phases/club/SitesView.vue'),
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
  { path: /\/api\//, body: [] },
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
    expect(wrapper.text().length).toBeGreaterThan(20);
    expect(wrapper.find('button, a').exists()).toBe(true);
    wrapper.unmount();
    const { wrapper: theirs } = await mountScreen(await screenAt(path), {
      rigs: [],
      sites: [],
      answers: [{ path: /members/, body: [{ ...me(), name: 'Odalys Brandt' }] }, ...lists],
      at: path,
      member: me({ role: 'member', clubKind: 'club' }),
    });
    await flushPromises();
    expect(theirs.text().length).toBeGreaterThan(20);
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
const METRIC = /[\d–] ?\u202f?(mm|kg|kg·cm|N·m|°C)(?![\w·²])/;

describe('a person who chose inches, pounds and °F reads them', () => {
  for (const build of [RIGS[0]!, RIGS.find((r) => r.key === 'newtonian')!])
    test.each(Object.keys(SCREENS).filter((p) => !/season|club|run|morning/.test(p)))(
      `on %s, ${build.key}`,
      async (path) => {
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
        const text = shown(wrapper.element.parentElement!);
        const at = METRIC.exec(text);
        expect(at ? text.slice(Math.max(0, at.index - 60), at.index + 20) : '').toBe('');
        if (path.startsWith('/bench/')) expect(text).toMatch(/\d\s?(in|lb)\b/);
        wrapper.unmount();
      },
    );
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
    for (let i = 0; i < 4; i++) await flushPromises();
    expect(club.night).toBe('2027-06-21');
    const text = wrapper.text();
    expect(text.length).toBeGreaterThan(20);
    expect(/.{0,40}(NaN|undefined|Infinity|Invalid).{0,20}/.exec(text)?.[0] ?? '').toBe('');
    if (path === '/night') expect(wrapper.find('[data-test="verdict"]').text()).toMatch(/dark/i);
    wrapper.unmount();
  });
});
