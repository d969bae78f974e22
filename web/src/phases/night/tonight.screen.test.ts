import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { flushPromises } from '@vue/test-utils';
import { button, field, pick, press, type } from '../../test/userActions.ts';
import { workWith } from '../../test/doubles/worker.ts';
import { ownWorker } from '../../test/ownWorker.ts';
import { mountScreen, me, project } from '../../test/mountScreen.ts';
import { nothingKept } from '../../test/records.ts';
import TonightView from './TonightView.vue';
import MoonView from './MoonView.vue';
import TargetView from './TargetView.vue';

const own = await ownWorker<{ tonight: (...given: unknown[]) => Promise<unknown> }>();
/** How often the catalogue was gone through. */
let scans = 0;
workWith(() => ({ ...own, tonight: (...given: unknown[]) => (scans++, own.tonight(...given)) }));

/** A catalogue of three: one that stands well from 47° N in November, one of the far south, one too small for the field. */
const sky = {
  source: '',
  licence: '',
  id: ['NGC 281', 'NGC 2070', 'NGC 7662'],
  alias: [null, null, null],
  name: [null, null, null],
  type: ['en', 'en', 'pn'],
  raDeg: [13.2, 84.7, 351.5],
  decDeg: [56.6, -69.1, 42.5],
  mag: [7.4, 8, 8.3],
  majorArcmin: [35, 40, 0.5],
  minorArcmin: [30, 25, 0.5],
};
const answers = [{ path: /deep-sky/, body: sky }, ...nothingKept];
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const NOW = Date.parse('2026-11-14T19:00:00Z');
const settle = async () => {
  for (let i = 0; i < 6; i++) await flushPromises();
};
const drawn = () => new Promise((next) => requestAnimationFrame(() => setTimeout(next)));
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
  jest.spyOn(Date, 'now').mockReturnValue(NOW);
});

describe('tonight', () => {
  const north = project();
  const south = project({ id: id(51), name: 'far south', object: 'NGC 2070', raDeg: 84.7, decDeg: -69.1 });
  const open = async (more: object = {}) => {
    const screen = await mountScreen(TonightView, { answers, projects: [south, north], ...more });
    await settle();
    await drawn();
    await settle();
    return screen;
  };
  test('hours that are booked for a project are what tonight is for, and nothing else is proposed in them', async () => {
    const booked = {
      id: id(80),
      rigId: id(3),
      night: '2026-11-14',
      start: '2026-11-14T17:00:00.000Z',
      end: '2026-11-15T05:00:00.000Z',
      memberId: id(1),
      member: 'Noor Vik',
      projectId: north.id,
      object: north.object,
      origin: 'member',
      state: 'held',
      note: '',
      answer: '',
      madeBy: 'Noor Vik',
      madeAt: '2026-11-01T12:00:00.000Z',
      decidedBy: '',
      outcome: null,
      outcomeBy: '',
      planId: null,
      version: 1,
      updatedAt: '2026-11-01T12:00:00.000Z',
      updatedBy: '',
    };
    const { wrapper } = await open({ answers: [{ path: /api\/bookings/, body: [booked] }, ...answers] });
    const text = wrapper.find('[data-test="verdict"]').text();
    expect(text).not.toContain('No project of this rig');
    // from when the rig can be at work, to the end of the hours
    expect(text).toMatch(/NGC 281 20:\d\d–06:00/);
    expect(wrapper.find('[data-test="hours-tonight"]').text()).toContain('NGC 281');
  });
  const figures = (w: Awaited<ReturnType<typeof open>>['wrapper']) =>
    Object.fromEntries(
      w
        .findAll('[data-test="object"] table')[0]!
        .findAll('tr')
        .map((r) => r.findAll('td').map((c) => c.text())),
    );
  test('one lane a project; what never rises says never and is not the one looked at', async () => {
    const { wrapper } = await open();
    expect(wrapper.find('[data-test="object"] h2').text()).toBe(north.name);
    expect(figures(wrapper)['Workable']).toMatch(/^\d\d:\d\d–\d\d:\d\d/);
    expect(wrapper.find('[data-test="verdict"]').text()).toContain('NGC 281');
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'j', bubbles: true }));
    await settle();
    expect(wrapper.find('[data-test="object"] h2').text()).toBe(south.name);
    expect(figures(wrapper)['Workable']).toBe('never');
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'j', bubbles: true }));
    await settle();
    expect(wrapper.find('[data-test="object"] h2').text()).toBe(south.name);
  });
  test('what the night says is drawn before the rest of the screen is, and before the catalogue is gone through', async () => {
    scans = 0;
    const frames: FrameRequestCallback[] = [];
    const held = jest.spyOn(globalThis, 'requestAnimationFrame').mockImplementation((next) => frames.push(next));
    const { wrapper } = await mountScreen(TonightView, { answers, projects: [south, north] });
    await settle();
    const rest = () => [wrapper.find('[data-test="object"]').exists(), scans];
    expect(wrapper.find('[data-test="verdict"]').text()).toContain('NGC 281');
    expect(rest()).toEqual([false, 0]);
    held.mockRestore();
    for (const next of frames) next(0);
    await drawn();
    await settle();
    expect(rest()).toEqual([true, 1]);
  });
  test('progress stands against the goal, and what is done is said done', async () => {
    const done = project({
      done: [40, 0],
      goals: [
        { filter: 'Ha', exposureS: 300, quota: 40 },
        { filter: 'OIII', exposureS: 180, quota: 10 },
      ],
    });
    const { wrapper } = await open({ projects: [done] });
    const rows = wrapper
      .findAll('[data-test="object"] table')[1]!
      .findAll('tr')
      .map((r) =>
        r
          .findAll('td')
          .slice(2)
          .map((c) => c.text()),
      );
    expect(rows).toEqual([
      ['40/40', 'done'],
      ['0/10', '10 × 180 s'],
    ]);
  });
  test('the first of the list stand as lanes with the year of one, and lead to a project', async () => {
    const { wrapper } = await open();
    await press(wrapper, 'The first six as lanes');
    await settle();
    const panel = wrapper.find('[data-test="candidates"]');
    expect(panel.find('[data-test="year"] h2').text()).toBe('NGC 281 through the year');
    expect(panel.find('a[href*="object=NGC"]').text()).toBe('Start a project with NGC 281');
    await press(wrapper, 'Without lanes');
    expect(wrapper.find('[data-test="candidates"]').exists()).toBe(false);
  });
  test('without a project the sky itself proposes, and only what fits the field and rises', async () => {
    const { wrapper } = await open({ projects: [] });
    expect(wrapper.find('[data-test="empty"]').text()).toContain('No project for this rig yet');
    expect(wrapper.find('[data-test="scan"]').text()).toMatch(/^3 objects gone through/);
    const list = wrapper.findAll('section').at(-1)!.text();
    expect(list).toContain('NGC 281');
    expect(list).not.toMatch(/NGC 2070|NGC 7662/);
    expect(wrapper.find('a[href*="object=NGC"]').attributes('href')).toMatch(/^\/season\?object=NGC.281$/);
  });
  test('a guest sees its plan and starts nothing', async () => {
    const { wrapper, router } = await open({ member: me({ role: 'guest', clubKind: 'club' }) });
    expect(wrapper.text()).not.toContain('Start a project');
    await press(wrapper, 'See its plan');
    expect(router.currentRoute.value.fullPath).toBe(`/night/plan?project=${north.id}`);
  });
});

describe('target and guide star', () => {
  const open = async (more: object = {}) => {
    const screen = await mountScreen(TargetView, { answers, projects: [project()], ...more });
    await settle();
    return screen;
  };
  const ANGLE = 'Camera angle';
  const framing = {
    raDeg: 13.2,
    decDeg: 56.6,
    angleDeg: 12.34,
    windowPaDeg: null,
    columns: 1,
    rows: 1,
    overlap: 0.1,
    star: null,
    guideExposureS: null,
    words: 'old-heron',
    aspect: 'f'.repeat(16),
    at: '2026-11-02T20:00:00.000Z',
    by: 'Noor Vik',
    byId: id(1),
  };
  test('an angle typed turns the frame and is nobody’s until it is pinned; undo and discard take it back', async () => {
    const { wrapper, sent } = await open();
    expect(wrapper.text()).toContain('Not pinned yet');
    await type(wrapper, ANGLE, '37.5');
    expect(button(wrapper, 'Discard')).toBeTruthy();
    await type(wrapper, ANGLE, '400');
    expect(wrapper.find('.quantity [role="alert"]').text()).toMatch(/At most 360/);
    await type(wrapper, ANGLE, '90');
    await press(wrapper, 'Undo');
    expect(field(wrapper, ANGLE).element.value).not.toBe('90');
    await press(wrapper, 'Discard');
    expect(field(wrapper, ANGLE).element.value).toBe('0');
    expect(sent.filter((s) => s.method !== 'GET')).toEqual([]);
  });
  test('pinned on another train it says so, and how it was pinned', async () => {
    const { wrapper } = await open({ projects: [project({ framing: framing as never })] });
    expect(wrapper.find('[data-test="pinned"]').text()).toMatch(/Pinned at 12\.3°, by Noor Vik on/);
    expect(wrapper.text()).toContain('Pinned on old-heron; the train is amber-heron now');
  });
  test('a member tries angles in another’s project without pinning; a guest only looks', async () => {
    const member = me({ id: id(7), role: 'member', clubKind: 'club', owner: false });
    const { wrapper } = await open({ member });
    expect(wrapper.text()).toContain('only the owner or a steward pins its framing');
    expect(wrapper.text()).not.toContain('Pin the framing');
    expect(field(wrapper, ANGLE).element.disabled).toBe(false);
    const guest = await open({ member: me({ ...member, role: 'guest' }) });
    expect(guest.wrapper.text()).toContain('Guests may look, not change');
    expect(field(guest.wrapper, ANGLE).element.disabled).toBe(true);
  });
});

describe('what is looked for', () => {
  const objects = (w: Awaited<ReturnType<typeof mountScreen>>['wrapper']) =>
    w
      .findAll('.ant-table-tbody tr')
      .map((r) => r.text())
      .filter((t) => t.includes('NGC'));
  const open = async () => {
    const screen = await mountScreen(TonightView, { answers, projects: [] });
    await settle();
    await drawn();
    await settle();
    return screen;
  };
  test('by kind, size and hours; what nothing answers says so, and can be let go at once', async () => {
    const { wrapper } = await open();
    expect(objects(wrapper)).toEqual([expect.stringContaining('NGC 281')]);
    await press(wrapper, 'planetary nebulae');
    await settle();
    expect(objects(wrapper)).toEqual([]);
    expect(wrapper.text()).toContain('Nothing in the catalogue is all of that tonight');
    await pick(wrapper, 'Size', 'small');
    await settle();
    expect(objects(wrapper)).toEqual([expect.stringContaining('NGC 7662')]);
    await type(wrapper, 'At least', '20');
    await settle();
    expect(objects(wrapper)).toEqual([]);
    await press(wrapper, 'Ask for anything');
    await settle();
    expect(objects(wrapper)).toEqual([expect.stringContaining('NGC 281')]);
    expect(localStorage.getItem('keen.tonight')).not.toContain('planetary');
  });
  test('a bright Moon: each school says what it would do, and shows it', async () => {
    const { wrapper, club } = await open();
    club.chosenNight = '2026-11-24';
    await settle();
    const advice = wrapper.find('[data-test="moon-advice"]');
    expect(advice.text()).toMatch(/The Moon is (9\d|100) % lit/);
    expect(advice.text()).toMatch(/At 60° from it the sky is [\d.]+ mag brighter/);
    await press(wrapper, 'Show what stays far enough');
    expect(JSON.parse(localStorage.getItem('keen.tonight')!)).toMatchObject({ light: 'broad' });
    club.chosenNight = '2026-11-10';
    await settle();
    expect(wrapper.find('[data-test="moon-advice"]').exists()).toBe(false);
  });
});

describe('a series of the Moon', () => {
  const open = async (night: string) => {
    const screen = await mountScreen(MoonView, { answers });
    screen.club.chosenNight = night;
    await settle();
    return screen;
  };
  test('says exposure, frames and file, and how many fields a small crop needs', async () => {
    const { wrapper } = await open('2026-11-22');
    expect(wrapper.find('[data-test="verdict"]').text()).toMatch(/Frames of [\d.]+.ms: \d+ in the series/);
    expect(wrapper.find('[data-test="series"]').text()).toContain('cable and disk hold it back');
    await type(wrapper, 'Read out, of each side', '10');
    expect(wrapper.find('[data-test="verdict"]').text()).toMatch(/The whole Moon takes \d+ fields/);
    await type(wrapper, 'Cable and disk keep up with', '20000');
    expect(wrapper.find('[data-test="series"]').text()).toContain('the exposure itself sets it');
  });
  test('says when there is no Moon', async () => {
    const { wrapper } = await open('2026-11-09');
    expect(wrapper.text()).toContain('No Moon tonight');
  });
});
