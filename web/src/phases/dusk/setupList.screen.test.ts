import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { DuskSettings, type SetupListRecord } from '@keen/contract';
import { defaultItems } from '@keen/core/setup';
import { RIGS } from '@keen/demo';
import { flushPromises } from '@vue/test-utils';
import { ownWorker } from '../../test/ownWorker.ts';
import { mountScreen, me, project, rig, sent } from '../../test/mountScreen.ts';
import { nothingKept } from '../../test/records.ts';
import SetupView from './SetupView.vue';

await ownWorker();

const items = defaultItems('backyard', RIGS[0]!.setup);
const list = (ticked: string[] = [], more: Partial<SetupListRecord> = {}): SetupListRecord => ({
  rigId: rig().id,
  items,
  own: false,
  ticks: ticked.map((key) => ({ key, by: 'Teun Achterberg', at: '2026-11-19T15:40:00.000Z' })),
  version: 0,
  updatedAt: '2026-11-01T12:00:00.000Z',
  updatedBy: 'Noor Vik',
  ...more,
});
const settings = {
  rigId: rig().id,
  settings: DuskSettings.parse({}),
  kept: false,
  version: 0,
  updatedAt: '2026-11-01T12:00:00.000Z',
  updatedBy: '',
};
/** Evening at the yard, UTC+1: civil dusk about 16:50, the cooler due at about 17:10 local time. */
async function at(
  time: string,
  options: { ticked?: string[]; answers?: object[]; member?: Parameters<typeof me>[0] } = {},
) {
  // the stores read the clock when they are made
  jest.useFakeTimers({
    now: Date.parse(time),
    doNotFake: ['nextTick', 'queueMicrotask', 'setImmediate', 'setTimeout', 'performance'],
  });
  const screen = await mountScreen(SetupView, {
    projects: [project()],
    member: me(options.member),
    answers: [
      ...((options.answers ?? []) as never[]),
      { path: /setup/, body: list(options.ticked) },
      { path: /dusk/, body: settings },
      ...nothingKept,
    ],
  });
  screen.club.now = Date.parse(time);
  await flushPromises();
  await flushPromises();
  const step = (key: string) => screen.wrapper.find(`[data-test="step-${key}"]`);
  const verdict = () => screen.wrapper.find('[data-test="verdict"]').text();
  return { ...screen, step, verdict };
}

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
  jest.useRealTimers();
});

describe('who comes late', () => {
  test('is told the first open step in the list’s own order, not the one whose time has passed', async () => {
    const { verdict } = await at('2026-11-19T16:20:00Z');
    expect(verdict()).toContain(`0 of ${items.length} done. Next: Legs fully spread`);
    expect(verdict()).not.toContain('cooler');
  });
  test('reads when each late step comes at the usual pace, in the list’s own order', async () => {
    const { verdict, wrapper } = await at('2026-11-19T18:30:00Z');
    expect(verdict()).toContain('Some times have shifted; the order stays.');
    const times = [...wrapper.text().matchAll(/At this pace at (\d\d:\d\d)/g)].map((m) => m[1]!);
    expect(times.length).toBeGreaterThan(1);
    expect(times.every((t) => t >= '19:30')).toBe(true);
    expect([...times].sort()).toEqual(times);
  });
  test('with everything before the cooler done, the cooler is what is late', async () => {
    const before = items
      .slice(
        0,
        items.findIndex((i) => i.key === 'cooling'),
      )
      .map((i) => i.key);
    const { verdict } = await at('2026-11-19T16:40:00Z', { ticked: before });
    expect(verdict()).toMatch(/Now: Start the cooler; it was due at \d\d:\d\d|Next: Start the cooler/);
  });
  test('in the early afternoon nothing is late', async () => {
    const { verdict, wrapper } = await at('2026-11-19T12:00:00Z');
    expect(verdict()).not.toContain('behind the plan');
    expect(wrapper.text()).not.toContain('At this pace');
  });
});

describe('a tick', () => {
  test('is sent with its night, and stands with who and when', async () => {
    const { step } = await at('2026-11-19T16:20:00Z', {
      answers: [{ method: 'POST', path: /setup/, body: list(['ground']) }],
    });
    await step('ground').trigger('click');
    await flushPromises();
    expect(sent.find((s) => s.method === 'POST')!.body).toEqual({ night: '2026-11-19', key: 'ground', done: true });
    expect(step('ground').attributes('aria-checked')).toBe('true');
    expect(step('ground').text()).toContain('Teun Achterberg, 16:40');
  });
  test('the server cannot take is kept on this device and said', async () => {
    const { step, wrapper } = await at('2026-11-19T16:20:00Z');
    globalThis.fetch = (() => Promise.reject(new TypeError('no connection'))) as unknown as typeof fetch;
    await step('ground').trigger('click');
    await flushPromises();
    expect(step('ground').attributes('aria-checked')).toBe('true');
    expect(wrapper.text()).toContain('1 tick waits for the connection; kept on this device');
    expect(Object.keys(localStorage).some((k) => k.includes('.ticks.'))).toBe(true);
  });
  test('is not a guest’s to make', async () => {
    const { step } = await at('2026-11-19T16:20:00Z', { member: { role: 'guest' } });
    expect(step('ground').attributes('disabled')).toBeDefined();
  });
});

test('when all is ticked it says so and names the first frame', async () => {
  const { verdict } = await at('2026-11-19T16:20:00Z', { ticked: items.map((i) => i.key) });
  expect(verdict()).toContain(`All ${items.length} steps are ticked`);
});
