import { beforeEach, describe, expect, test } from '@jest/globals';
import { playNightRisk, TimelineInput, type NightRiskInput, type RiskOutput } from '@keen/core/sequence';
import { flushPromises } from '@vue/test-utils';
import { button, press, type } from '../../test/userActions.ts';
import { ownWorker } from '../../test/ownWorker.ts';
import { workWith } from '../../test/doubles/worker.ts';

const worker = await ownWorker<{
  risk: (input: NightRiskInput, progress: (share: number) => unknown) => Promise<unknown>;
}>();
let held: (() => void)[] = [];
let holding = false;
const asked: NightRiskInput[] = [];
workWith(() => ({
  risk: async (input: NightRiskInput, progress: (share: number) => unknown) => {
    asked.push(input);
    // as many nights as a test can wait for
    return worker.risk({ ...input, nights: 100 }, async (share: number) => {
      const going = await progress(share);
      if (holding) await new Promise<void>((go) => held.push(go));
      return going;
    });
  },
}));
import type { RiskPlan } from './useRisk.ts';
import type { JobRecord } from '@keen/contract';
import { firstSettings } from '@keen/core/sequence';
import { useLive } from '../../stores/live.ts';
import { mountScreen, project, site } from '../../test/mountScreen.ts';
import { planOf } from '../../test/plan.ts';
import { planDraftOf } from './usePlan.ts';
import RiskPanel from './RiskPanel.vue';

const filters = ['L', 'R', 'G', 'B'].map((name) => ({ name, exposureS: 180, quota: 30, done: 0 }));
const [START, END] = ['2026-11-13T19:00:00Z', '2026-11-14T03:00:00Z'];
/** A night of one leg. */
const plan = (more: object = {}): RiskPlan => {
  const input = TimelineInput.parse({
    start: START,
    end: END,
    filters,
    order: 'rolling',
    overheads: { downloadS: 5, autofocusS: 120 },
    dither: { everyFrames: 1, perRound: false },
    focus: { policy: 'offsets', atStart: true, afterFlip: true },
    flipAt: null,
    ...more,
  });
  const hours = [[Date.parse(START), Date.parse(END)]] as const;
  const leg = { id: 'a', projectId: 'a', goal: 'a', role: 'main' as const, turnMin: null };
  const prepared = [{ ...leg, hours, claims: hours, input, trouble: null, follower: null }];
  return { prepared, legIndex: 0, openedMs: Date.parse(START), focused: false, wheel: '' };
};
/** The same question without the screen and its worker. */
function played(weather: NightRiskInput['weather']): RiskOutput {
  const nights = playNightRisk({ ...plan(), weather, nights: 100, seed: 1, orders: ['rolling', 'block', 'lagging'] });
  for (;;) {
    const step = nights.next();
    if (step.done) return step.value;
  }
}
async function open(more: object = {}) {
  const { answers = [], ...props } = more as { answers?: never[] };
  const { wrapper, sent } = await mountScreen(RiskPanel as never, {
    props: { plan: plan(), saved: null, sent: () => fields, order: 'rolling', filters, off: false, ...props },
    answers,
  });
  const settle = async () => {
    for (let i = 0; i < 8; i++) await flushPromises();
  };
  const rows = () =>
    wrapper
      .find('table')
      .findAll('tbody tr')
      .map((r) => r.findAll('td').map((c) => c.text().replace(/\s+/g, ' ')));
  return { wrapper, settle, rows, sent };
}
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
  [asked.length, held, holding] = [0, [], false];
});

/** The plan as the screen around would send it. */
const fields = (() => {
  const saved = planOf(project(), firstSettings(project(), null));
  const { opening, legs, closing, watches, locked, locks } = planDraftOf(saved);
  return { rigId: saved.rigId, night: saved.night, opening, legs, closing, watches, locked, locks };
})();
const job = (more: object) => ({
  id: '00000000-0000-4000-8000-000000000700',
  kind: 'risk',
  subjectId: null,
  state: 'waiting',
  share: 0,
  stage: { code: 'job.waiting', values: {} },
  attempts: 0,
  cancelRequested: false,
  problem: null,
  byId: '00000000-0000-4000-8000-000000000001',
  madeAt: '2026-11-20T12:00:00.000Z',
  begunAt: null,
  endedAt: null,
  ...more,
});

describe('if cloud comes', () => {
  test('many more nights are played on the server, told how far, and shown as the page’s own are', async () => {
    const over = job({ state: 'done', share: 1, stage: null, endedAt: '2026-11-20T12:00:09.000Z' });
    const risk = played({ clearMeanMin: 90, cloudMeanMin: 45 });
    const { wrapper, settle, rows, sent } = await open({
      saved: '00000000-0000-4000-8000-000000000060',
      answers: [
        { method: 'POST', path: /jobs\/risk/, body: job({}) },
        { path: /jobs\/./, body: { ...over, result: { kind: 'risk', risk } } },
      ],
    });
    await press(wrapper, '20000 on the server');
    const body = sent.find((s) => s.method === 'POST')!.body as Record<string, unknown>;
    expect(body).toMatchObject({ nights: 20_000, legIndex: 0, planId: '00000000-0000-4000-8000-000000000060' });
    expect(wrapper.find('[data-test="job"]').text()).toContain('waiting for its turn');
    useLive().heard({ kind: 'job', seq: 1, at: '2026-11-20T12:00:09.000Z', job: over as JobRecord });
    await settle();
    expect([wrapper.find('[data-test="job"]').exists(), asked.length]).toEqual([false, 0]);
    expect(rows().map((r) => r[0])).toEqual(['rolling', 'block', 'lagging']);
    // another plan takes what was found with it
    await wrapper.setProps({ plan: plan({ end: '2026-11-14T02:00:00Z' }) });
    expect(wrapper.find('table').exists()).toBe(false);
  });
  test('nothing is played unasked; asked, every order stands with its figures and the best first in words', async () => {
    const { wrapper, settle, rows } = await open();
    expect([asked.length, wrapper.find('table').exists()]).toEqual([0, false]);
    await press(wrapper, 'Play 2000 nights');
    await settle();
    const truth = played({ clearMeanMin: 90, cloudMeanMin: 45 });
    expect(rows().map((r) => r[0])).toEqual(['rolling', 'block', 'lagging']);
    for (const [i, order] of (['rolling', 'block', 'lagging'] as const).entries()) {
      const of = truth.perOrder[order]!;
      expect(rows()[i]![1]).toContain(`L ${of.expectedFrames.L!.toFixed(1)}`);
      expect(rows()[i]![2]).toMatch(new RegExp(`^${(100 * of.expectedBalanced).toFixed(0)} ±`));
      expect(rows()[i]![5]).toBe(`${of.minutes.focus.toFixed(0)} min`);
    }
    expect(wrapper.text()).toContain(truth.verdict.text);
  });
  test('the site’s own spells are kept for the site and no longer called a guess', async () => {
    const first = await open();
    expect(first.wrapper.text()).toContain('A guess to begin with, no source');
    await type(first.wrapper, 'Clear spells, on average', '240');
    expect(first.wrapper.text()).not.toContain('A guess to begin with');
    const again = await open();
    await press(again.wrapper, /^Play/);
    await again.settle();
    expect(asked.at(-1)!.weather).toEqual({ clearMeanMin: 240, cloudMeanMin: 45 });
    expect(Object.keys(JSON.parse(localStorage.getItem('keen.clear-spells')!) as object)).toEqual([site().id]);
  });
  test('cancelled, the nights stop being played and nothing is shown', async () => {
    holding = true;
    const { wrapper, settle } = await open();
    await press(wrapper, /^Play/);
    await settle();
    expect(wrapper.find('.ant-progress').exists()).toBe(true);
    await press(wrapper, 'Cancel');
    holding = false;
    held.forEach((go) => go());
    await settle();
    expect([wrapper.find('table').exists(), wrapper.find('[role="alert"]').exists()]).toEqual([false, false]);
    expect(button(wrapper, 'Play 2000 nights').element.disabled).toBe(false);
  });
  test('a plan that is changed meanwhile takes its answer with it', async () => {
    const { wrapper, settle } = await open();
    await press(wrapper, /^Play/);
    await settle();
    expect(wrapper.find('table').exists()).toBe(true);
    await wrapper.setProps({ plan: plan({ end: '2026-11-14T02:00:00Z' }) });
    expect(wrapper.find('table').exists()).toBe(false);
  });
  test('another order is taken by a button; who may not change the plan only reads', async () => {
    const { wrapper, settle } = await open();
    await press(wrapper, /^Play/);
    await settle();
    expect(
      wrapper
        .find('table')
        .findAll('button')
        .map((b) => b.text()),
    ).toEqual(['Take it', 'Take it']);
    await wrapper.find('table').findAll('button')[1]!.trigger('click');
    expect(wrapper.emitted('take')).toEqual([['lagging']]);
    // taken, it is the order of the leg: what was found stands
    await wrapper.setProps({ plan: plan({ order: 'lagging' }), order: 'lagging' });
    expect(wrapper.find('table').exists()).toBe(true);
    await wrapper.setProps({ off: true });
    expect(wrapper.find('table').findAll('button')).toEqual([]);
  });
  test('what cannot be played says why', async () => {
    const { wrapper, settle } = await open({ plan: { ...plan(), legIndex: 1 } });
    await press(wrapper, /^Play/);
    await settle();
    expect(wrapper.find('[role="alert"]').text()).toContain('has no hours in this night');
    await wrapper.setProps({ plan: null });
    expect(button(wrapper, /^Play/).element.disabled).toBe(true);
  });
});
