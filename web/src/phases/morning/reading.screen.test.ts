import { beforeEach, describe, expect, test } from '@jest/globals';
import { readGuideCsv, type GuideMapping } from '@keen/core/exchange';
import { curve } from '@keen/core/focus';
import { spectrumOf, type LogSample } from '@keen/core/guiding';
import { simulateGuiding } from '@keen/core/observatory';
import { filtersOf, viewOf } from '@keen/core/rig';
import { flushPromises } from '@vue/test-utils';
import { outcomeOf } from '../../common/outcome.ts';
import { button, pick, press, type } from '../../test/userActions.ts';
import type { Answer } from '../../test/mountScreen.ts';
import { workWith } from '../../test/doubles/worker.ts';
import { mountScreen, me, rig, slow } from '../../test/mountScreen.ts';
import { offsetSetRecord } from '../../test/records.ts';
import GuideLogView from './GuideLogView.vue';
import FocusImport from './FocusImport.vue';
import FocusRunsView from './FocusRunsView.vue';
import { guideToCsv } from '@keen/core/exchange';

workWith(() => ({
  readGuideCsv: async (text: string, mapping?: GuideMapping, scale = 1) => readGuideCsv(text, mapping, scale),
  guideSpectrum: async (samples: LogSample[]) => spectrumOf(samples),
  curves: async (runs: { position: number; hfd: number }[][]) =>
    runs.map((points) => outcomeOf(() => curve({ points }))),
}));

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});
const refusal = (status: number, code: string, detail: string) => ({ type: 'x', title: code, status, code, detail });
const settled = async () => {
  for (let i = 0; i < 6; i++) await flushPromises();
};
const verdict = (w: { find: (s: string) => { text: () => string } }) => w.find('[data-test="verdict"]').text();

describe('a guide log', () => {
  const csv = guideToCsv(simulateGuiding({ seed: 14, seconds: 3600, fault: 'over-correction' }));
  async function dropped(answers: Answer[] = []) {
    const screen = await mountScreen(GuideLogView, { answers: [{ path: /guide-logs/, body: [] }, ...answers] });
    const input = screen.wrapper.find<HTMLInputElement>('input[type="file"]');
    Object.defineProperty(input.element, 'files', {
      value: [Object.assign(new File([csv], 'night.csv'), { text: async () => csv })],
    });
    await input.trigger('change');
    await settled();
    return screen;
  }
  test('is read where it lies: what stands out is said with its advice, and nothing is sent', async () => {
    const { wrapper, sent } = await dropped();
    expect(wrapper.find('[data-test="findings"]').text()).toContain('over-correction in right ascension');
    expect(sent.some((s) => s.method === 'POST')).toBe(false);
  });
  test('is kept under its name with what was different; a refusal leaves what was typed', async () => {
    const answers = [
      {
        method: 'POST',
        path: /guide-logs/,
        status: 413,
        body: refusal(413, 'too_large', 'That is too large') as object,
      },
    ];
    const { wrapper, sent } = await dropped(answers);
    await type(wrapper, 'What was different that night', 'cable tied up');
    await press(wrapper, /^Keep with the night/);
    await settled();
    const body = sent.find((s) => s.method === 'POST')!.body as { note: string; csv: string };
    expect(body.note).toBe('cable tied up');
    expect(readGuideCsv(body.csv).samples).toHaveLength(readGuideCsv(csv).samples.length);
    expect(document.body.textContent).toContain('too large');
  });
  test('is kept with when it began: as its dates tell, or as somebody says', async () => {
    const keptAs = async (text: string, say?: string) => {
      const screen = await mountScreen(GuideLogView, {
        answers: [
          { path: /guide-logs/, body: [] },
          { method: 'POST', path: /guide-logs/, status: 413, body: refusal(413, 'too_large', 'no') },
        ],
      });
      const input = screen.wrapper.find<HTMLInputElement>('input[type="file"]');
      Object.defineProperty(input.element, 'files', {
        value: [Object.assign(new File([text], 'night.csv'), { text: async () => text })],
      });
      await input.trigger('change');
      await settled();
      if (say) {
        await press(screen.wrapper, 'Say when it began');
        const time = screen.wrapper.findAll('label').find((l) => l.text().startsWith('Began'))!;
        await screen.wrapper.find(`#${time.attributes('for')}`).setValue(say);
        await screen.wrapper.find(`#${time.attributes('for')}`).trigger('change');
        await settled();
      }
      await press(screen.wrapper, /^Keep with the night/);
      await settled();
      const { beganAt, night } = screen.sent.find((s) => s.method === 'POST')!.body as {
        beganAt: string | null;
        night: string;
      };
      // with the evening it began on, whatever night is looked at
      if (beganAt && !say) expect(night).toBe('2026-11-18');
      screen.wrapper.unmount();
      return beganAt;
    };
    expect(await keptAs(csv)).toBeNull();
    // the site's clock: an hour before UTC's in winter
    expect(await keptAs(csv, '21:30')).toMatch(/T20:30:00\.000Z$/);
    const dated = csv
      .split('\n')
      .map((l, i) =>
        i === 0 || !l
          ? l
          : l.replace(/^[\d.]+/, (s) => new Date(Date.parse('2026-11-18T19:05:00Z') + 1000 * Number(s)).toISOString()),
      )
      .join('\n');
    expect(await keptAs(dated)).toBe('2026-11-18T19:05:00.000Z');
  });
  test('without any log the page says what one tells, and offers nights to learn by', async () => {
    const { wrapper } = await mountScreen(GuideLogView, { answers: [{ path: /guide-logs/, body: [] }] });
    expect(wrapper.find('[data-test="empty"]').text()).toContain('No guide log yet');
    await press(wrapper, 'hot pixel');
    await settled();
    expect(wrapper.find('[data-test="findings"]').text()).toContain('lock on a hot pixel');
  });
});

describe('focus offsets', () => {
  const filters = filtersOf(viewOf(rig().setup)).slice(0, 2);
  const state = rig().systems[0]!.trainStateId;
  const run = (n: number, filter: string, position: number, more: object = {}) => ({
    id: `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`,
    trainStateId: state,
    filter,
    position,
    hfd: 2,
    error: 1,
    temperatureC: 5 - n / 4,
    time: `2026-11-18T2${Math.floor(n / 6) % 4}:${String((n * 7) % 60).padStart(2, '0')}:00.000Z`,
    points: [],
    usable: true,
    reason: '',
    source: 'typed',
    excluded: false,
    by: 'Noor Vik',
    ...more,
  });
  const runs = Array.from({ length: 16 }, (_, n) => run(n, filters[n % 2]!, 5000 + 7 * n + 40 * (n % 2) + (n % 3)));
  const answers = (more: Answer[] = [], list: object[] = runs): Answer[] => [
    { path: /focus-runs/, body: list },
    { path: /offset-sets/, body: [] },
    ...more,
  ];
  test('are worked out from the runs on record and adopted as shown', async () => {
    const adopted = { method: 'POST', path: /offset-sets/, body: offsetSetRecord() };
    const { wrapper, sent } = await mountScreen(FocusRunsView, { answers: answers([adopted]) });
    await settled();
    expect(verdict(wrapper)).toMatch(/offset.* against/);
    await press(wrapper, /^Adopt for/);
    const body = sent.find((s) => s.method === 'POST')!.body as {
      offsets: Record<string, { steps: number }>;
      runCount: number;
    };
    expect(body.runCount).toBe(16);
    expect(Math.abs(body.offsets[filters[1]!]!.steps - body.offsets[filters[0]!]!.steps)).toBeGreaterThan(30);
  });
  test('when other runs are on record by now, those are fetched and shown, and nothing is adopted', async () => {
    const stale = {
      method: 'POST',
      path: /offset-sets/,
      status: 409,
      body: refusal(409, 'stale', 'Other focus runs are on record than those'),
    };
    const list = answers([stale]);
    const { wrapper, sent } = await mountScreen(FocusRunsView, { answers: list });
    await settled();
    list[0]!.body = [...runs, run(50, filters[0]!, 4711)];
    const before = sent.filter((s) => s.path.includes('/focus-runs')).length;
    await press(wrapper, /^Adopt for/);
    await settled();
    expect(sent.filter((s) => s.path.includes('/focus-runs'))).toHaveLength(before + 1);
    expect(wrapper.text()).toContain('4711');
  });
  test('what is about to change stays in sight and cannot be adopted until the newer runs are there', async () => {
    const list = answers();
    const { wrapper } = await mountScreen(FocusRunsView, { answers: list });
    await settled();
    expect(button(wrapper, /^Adopt for/).attributes('disabled')).toBeUndefined();
    const newer = slow([...runs, run(50, filters[0]!, 4711)]);
    list[0]!.body = newer.body;
    wrapper.findComponent(FocusImport).vm.$emit('stored');
    await flushPromises();
    expect(button(wrapper, /^Adopt for/).attributes('disabled')).toBeDefined();
    await newer.come();
    await settled();
    expect(wrapper.text()).toContain('4711');
    expect(button(wrapper, /^Adopt for/).attributes('disabled')).toBeUndefined();
  });
  test('a run left out changes them at once; without temperature they are worked out by none', async () => {
    const put = { method: 'PUT', path: /focus-runs/, body: { ok: true } };
    const wild = run(99, filters[0]!, 9000);
    const { wrapper, sent } = await mountScreen(FocusRunsView, { answers: answers([put], [...runs, wild]) });
    await settled();
    const row = wrapper.findAll('tr').find((r) => r.text().includes('9000'))!;
    await row.find('button[role="switch"]').trigger('click');
    await settled();
    expect(sent.find((s) => s.method === 'PUT')).toMatchObject({
      path: `/api/focus-runs/${wild.id}`,
      body: { excluded: true },
    });
    expect(row.text()).toContain('left out');
    await pick(wrapper, 'Drift model', 'none');
    await settled();
    // the tube's drift is scatter now, and the sentence says what that does
    expect(verdict(wrapper)).toMatch(/not yet known well enough/);
  });
  test('a guest reads and adopts nothing; no run says so', async () => {
    const guest = await mountScreen(FocusRunsView, { answers: answers(), member: me({ role: 'guest' }) });
    await settled();
    expect(guest.wrapper.findAll('button').some((b) => b.text().startsWith('Adopt'))).toBe(false);
    const empty = await mountScreen(FocusRunsView, { answers: answers([], []) });
    await settled();
    expect(empty.wrapper.text()).toMatch(/No focus run/);
  });
});
