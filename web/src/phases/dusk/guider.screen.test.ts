import { beforeEach, describe, expect, test } from '@jest/globals';
import { DuskSettings, type DuskSettingsRecord } from '@keen/contract';
import { RIGS } from '@keen/demo';
import type { RigBuild } from '@keen/core/rig';
import { flushPromises } from '@vue/test-utils';
import { pick, press, type } from '../../test/userActions.ts';
import { mountScreen, project, rig, site } from '../../test/mountScreen.ts';
import GuiderView from './GuiderView.vue';
import PoleView from './PoleView.vue';

const guided = rig(RIGS.find((r) => r.build.systems[0]!.offAxis ?? r.build.systems[0]!.guideScope)!.build);
const record = (settings: object = {}): DuskSettingsRecord => ({
  rigId: guided.id,
  kept: true,
  settings: DuskSettings.parse(settings),
  version: 2,
  updatedAt: '2026-11-01T12:00:00.000Z',
  updatedBy: 'Noor Vik',
});
async function open(options: Parameters<typeof mountScreen>[1] & { settings?: object } = {}, view = GuiderView) {
  const at = await mountScreen(view, {
    rigs: [guided],
    answers: [
      { path: /dusk/, body: record(options.settings) },
      { path: /\/api\//, body: [] },
    ],
    ...options,
  });
  at.club.now = Date.parse('2026-11-19T20:00:00Z');
  for (let i = 0; i < 3; i++) await flushPromises();
  const verdict = () => at.wrapper.find('[data-test="verdict"]').text().replace(/\s+/g, ' ');
  return { ...at, verdict };
}
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('the guider', () => {
  test('without a guider says so, and that some go without', async () => {
    const bare = JSON.parse(JSON.stringify(guided.setup)) as RigBuild;
    for (const s of bare.systems) {
      delete s.offAxis;
      delete s.guideScope;
    }
    const { wrapper } = await open({ rigs: [rig(bare)] });
    expect(wrapper.find('[data-test="empty"]').text()).toMatch(
      /Nothing guides on this rig.*some mounts are trusted without/,
    );
  });
  test('a fainter star wants more time, the faintest is refused, the brightest fills its well', async () => {
    const { wrapper, verdict } = await open();
    const exposure = () => Number(/Expose ([\d.]+) s/.exec(verdict())?.[1]);
    await type(wrapper, 'Magnitude', '8');
    const bright = exposure();
    await type(wrapper, 'Magnitude', '11');
    expect(exposure()).toBeGreaterThanOrEqual(bright);
    await type(wrapper, 'Magnitude', '17');
    expect(verdict()).toMatch(/reaches only \d+ in [\d.]+ s; \d+ is wanted/);
    await type(wrapper, 'Magnitude', '-1');
    expect(verdict()).toContain('fills its well');
  });
  test('a star pinned with a framing is the one that is reckoned with, until a magnitude is typed', async () => {
    const star = { raDeg: 10, decDeg: 41, mag: 7.5 };
    const pinned = project({ rigId: guided.id, system: guided.systems[0]!.key, framing: { star } as never });
    const { wrapper, verdict } = await open({ projects: [pinned] });
    expect(verdict()).toContain('at magnitude 7.5');
    await pick(wrapper, 'Star', 'typed');
    await flushPromises();
    expect(verdict()).not.toContain('at magnitude 7.5');
  });
  test('the calibration pulse follows rate and binning; a way too short for the seeing is lengthened by a button', async () => {
    const { wrapper } = await open();
    const row = (name: string) =>
      wrapper
        .find('[data-test="calibration"]')
        .findAll('tr')
        .find((r) => r.text().startsWith(name))!
        .text();
    const pulse = () => Number(/(\d+) ms/.exec(row('Pulse'))![1]);
    const before = pulse();
    await type(wrapper, 'Guide rate', '0.25');
    expect(pulse() / before).toBeCloseTo(2, 1);
    await type(wrapper, 'Angle within', '10');
    expect(wrapper.find('[data-test="calibration"]').text()).toContain('the seeing would be calibrated with it');
    await press(wrapper, /^Take \d+ px/);
    expect(wrapper.find('[data-test="calibration"]').text()).toMatch(/A way of \d+ px is set/);
    await press(wrapper, 'As the angle asks');
    expect(wrapper.find('[data-test="calibration"]').text()).not.toContain('is set');
  });
  test('each side of the meridian has its own place to calibrate', async () => {
    const { wrapper } = await open();
    const place = () => wrapper.find('[data-test="calibration"] tr').text();
    const east = place();
    await press(wrapper, 'west');
    expect(place()).not.toBe(east);
  });
  test('a spot that stays while a pulse is sent is a hot pixel; one that moves as told is a star', async () => {
    const { wrapper } = await open();
    const answers = wrapper.find('[data-test="answers"]');
    await type(wrapper, 'The spot moved', '0');
    const still = answers.text();
    await type(wrapper, 'The spot moved', '40');
    expect(still).toMatch(/hot pixel/i);
    expect(answers.find('.level-bad, .level-caution, .level-good').exists()).toBe(true);
    expect(answers.text()).not.toBe(still);
  });
  test('what is typed is one draft with the other screens of dusk, and says it is not kept yet', async () => {
    const { wrapper } = await open();
    await type(wrapper, 'Seeing', '3.4');
    expect(wrapper.find('[data-test="dusk-save"]').text()).toContain('Unsaved changes');
  });
});

describe('the pole', () => {
  test('without a site leads to one', async () => {
    const { wrapper } = await open({ sites: [], rigs: [] }, PoleView as never);
    expect(wrapper.find('[data-test="empty"]').exists()).toBe(true);
  });
  test('through a scope that inverts the star stands opposite to where the eye sees it', async () => {
    const { wrapper } = await open({}, PoleView as never);
    const at = () => {
      const c = wrapper.findAll('svg.dial circle').at(-1)!;
      return [Number(c.attributes('cx')), Number(c.attributes('cy'))];
    };
    const [x, y] = at() as [number, number];
    await press(wrapper, 'by eye');
    const [a, b] = at() as [number, number];
    expect([a, b].map((v) => Math.round(v))).toEqual([-x, -y].map((v) => Math.round(v)));
    expect(Math.hypot(x, y)).toBeCloseTo(150, 6);
  });
  test('the dial is read out in words that fit the picture', async () => {
    const { wrapper } = await open({}, PoleView as never);
    const cell = (name: string) =>
      wrapper
        .findAll('tr')
        .find((r) => r.text().startsWith(name))!
        .find('.num')
        .text();
    expect(wrapper.find('svg.dial').attributes('aria-label')).toContain(cell('On the dial, inverted'));
    await press(wrapper, 'by eye');
    expect(wrapper.find('svg.dial').attributes('aria-label')).toContain(cell('By eye'));
  });
  test('south of the equator another star is named and it turns the other way', async () => {
    const south = { ...site(), latitudeDeg: -33.9, longitudeDeg: 151.2, timeZone: 'Australia/Sydney' };
    const { wrapper } = await open({ sites: [south] }, PoleView as never);
    expect(wrapper.find('svg.dial').attributes('aria-label')).toMatch(/^σ Oct/);
  });
  test('the clock goes on; a chosen time stays until “now”', async () => {
    const { wrapper, club, verdict } = await open({}, PoleView as never);
    const first = verdict();
    club.now += 3_600_000;
    await flushPromises();
    expect(verdict()).not.toBe(first);
    expect(verdict()).toContain(', now.');
    await type(wrapper, 'At', '22:30');
    expect(verdict()).not.toContain(', now.');
    await press(wrapper, 'now');
    expect(verdict()).toContain(', now.');
  });
});
