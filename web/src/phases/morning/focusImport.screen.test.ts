import { beforeEach, describe, expect, test } from '@jest/globals';
import { FocusRunFields } from '@keen/contract';
import { readFocusCsv, type FocusMapping, type TableAnswers } from '@keen/core/exchange';
import { curve } from '@keen/core/focus';
import { flushPromises, type VueWrapper } from '@vue/test-utils';
import { outcomeOf } from '../../common/outcome.ts';
import { pick, press, type } from '../../test/userActions.ts';
import { workWith } from '../../test/doubles/worker.ts';
import { mountScreen } from '../../test/mountScreen.ts';
import TableQuestions from '../../common/TableQuestions.vue';
import FocusImport from './FocusImport.vue';
import { useHandOver } from '../../stores/handOver.ts';

workWith(() => ({
  readFocusCsv: async (text: string, mapping?: FocusMapping, fahrenheit = false, answers?: TableAnswers) =>
    readFocusCsv(text, mapping, fahrenheit, answers),
  curves: async (runs: { position: number; hfd: number }[][]) =>
    runs.map((points) => outcomeOf(() => curve({ points }))),
}));

const state = '00000000-0000-4000-8000-000000000300';
async function open(answers: object[] = [{ method: 'POST', path: /focus-runs/, body: { added: 2, known: 0 } }]) {
  const props = { trainStateId: state, words: 'amber-heron', filters: ['Ha', 'OIII'] };
  const at = await mountScreen(FocusImport as never, { props, answers: answers as never });
  const posts = () =>
    at.sent.filter((s) => s.method === 'POST').map((s) => s.body as { source: string; runs: object[] });
  return { ...at, posts };
}
const drop = async (w: VueWrapper, text: string, name = 'focus.csv', size?: number) => {
  const input = w.find('input[type="file"]');
  const file = new File([text], name);
  Object.defineProperty(file, 'text', { value: async () => text });
  if (size) Object.defineProperty(file, 'size', { value: size });
  Object.defineProperty(input.element, 'files', { value: [file], configurable: true });
  await input.trigger('change');
  for (let i = 0; i < 5; i++) await flushPromises();
};
const LOG = 'filter,position,temperature,time\nHa,5120,8.5,2026-11-18T20:00:00Z\nOIII,5164,8.1,2026-11-18T20:20:00Z\n';
/** A run in points: the widths of a hyperbola about 5000. */
const points = (filter: string, run: number, c = 5000) =>
  [-200, -120, -60, 0, 60, 120, 200].map((d) => `${run},${filter},${c + d},${Math.hypot(2, 0.03 * d).toFixed(3)}`);
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('a focus log', () => {
  test('is shown before it is stored, and stored for the state it was taken in', async () => {
    const { wrapper, posts } = await open();
    await drop(wrapper, LOG);
    expect(wrapper.text()).toMatch(/focus\.csv: 2 rows, 2 runs\s+to store/);
    expect(posts()).toEqual([]);
    await press(wrapper, 'Store 2 runs for amber-heron');
    expect(posts()[0]).toMatchObject({ trainStateId: state, source: 'file' });
    expect(posts()[0]!.runs).toEqual([
      expect.objectContaining({ filter: 'Ha', position: 5120, temperatureC: 8.5, usable: true }),
      expect.objectContaining({ filter: 'OIII', position: 5164, temperatureC: 8.1 }),
    ]);
    expect(wrapper.emitted('stored')).toHaveLength(1);
    expect(wrapper.text()).not.toContain('to store');
  });
  test('bare temperatures are what they are said to be', async () => {
    const { wrapper, posts } = await open();
    await drop(wrapper, LOG);
    await pick(wrapper, 'Bare temperatures', 'F');
    await flushPromises();
    await press(wrapper, /^Store 2 runs/);
    expect((posts()[0]!.runs[0] as { temperatureC: number }).temperatureC).toBeCloseTo((8.5 - 32) / 1.8, 2);
  });
  test('its headings are remembered for the next file', async () => {
    const first = await open();
    await drop(first.wrapper, 'which,where\nHa,5120\nOIII,5164\n');
    expect(first.wrapper.text()).toContain('0 runs');
    await pick(first.wrapper, 'Filter', 'which');
    await flushPromises();
    await pick(first.wrapper, 'Position', 'where');
    await flushPromises();
    expect(first.wrapper.text()).toContain('Store 2 runs');
    const second = await open();
    await drop(second.wrapper, 'which,where\nHa,5230\n');
    expect(second.wrapper.text()).toContain('Store 1 runs');
  });
  test('what could be read two ways is asked with the first rows, and nothing is stored before it is said', async () => {
    const { wrapper, posts } = await open();
    await drop(wrapper, 'filter,position\nHa,12.358\nHa,12362\n');
    const asked = wrapper.find('[data-test="table-questions"]');
    expect(asked.text()).toMatch(/12\.358.*12362/s);
    expect(asked.text()).toContain('The decimal sign of “position”?');
    expect(
      wrapper
        .findAll('button')
        .find((b) => b.text().startsWith('Store 0 runs'))!
        .attributes('disabled'),
    ).toBeDefined();
    wrapper.findComponent(TableQuestions).vm.$emit('answer', {}, { decimal: ',' });
    for (let i = 0; i < 5; i++) await flushPromises();
    await press(wrapper, /^Store 2 runs/);
    expect(posts()[0]!.runs.map((r) => (r as { position: number }).position)).toEqual([12358, 12362]);
  });
  test('bad rows are listed by line and left out; unknown filters are told and kept', async () => {
    const { wrapper, posts } = await open();
    await drop(wrapper, 'filter,position\nHa,5120\nHa,nowhere\nLum,5100\n');
    expect(wrapper.find('[data-test="bad-rows"] tbody').text()).toMatch(/^3.*nowhere/);
    expect(wrapper.find('[data-test="meant"]').text()).toContain('“Lum” is');
    await press(wrapper, /^Store 2 runs/);
    expect(posts()[0]!.runs.map((r) => (r as { filter: string }).filter)).toEqual(['Ha', 'Lum']);
  });
  test('points are fitted before they are stored; a run that gives no curve is kept, unusable, with its reason', async () => {
    const flat = [1, 2, 3].map((i) => `2,OIII,${5000 + i},4.0`);
    const { wrapper, posts } = await open();
    await drop(wrapper, ['run,filter,position,hfd', ...points('Ha', 1), ...flat].join('\n'));
    await press(wrapper, /^Store 2 runs/);
    const [fit, none] = posts()[0]!.runs.map((r) => FocusRunFields.parse(r));
    expect(fit!.position).toBeCloseTo(5000, 0);
    expect([fit!.usable, fit!.hfd! > 1.9 && fit!.hfd! < 2.1, fit!.points.length]).toEqual([true, true, 7]);
    expect([none!.usable, none!.reason.length > 5]).toEqual([false, true]);
  });
  test('too large a file is not read; what stood there stays', async () => {
    const { wrapper } = await open();
    await drop(wrapper, LOG);
    await drop(wrapper, '', 'season.csv', 9_000_000);
    expect(wrapper.find('[role="alert"]').text()).toMatch(/season\.csv is 9 MB; .*Split it by night/);
    expect(wrapper.text()).toContain('2 rows');
  });
  test('the server’s refusal keeps the file on the screen', async () => {
    const no = { type: 'x', title: 'x', status: 403, code: 'forbidden', detail: 'Guests may look, not change.' };
    const { wrapper } = await open([{ method: 'POST', path: /focus-runs/, status: 403, body: no }]);
    await drop(wrapper, LOG);
    await press(wrapper, /^Store 2 runs/);
    expect(wrapper.find('[role="alert"]').text()).toBe('Guests may look, not change.');
    expect([wrapper.text().includes('2 rows'), wrapper.emitted('stored')]).toEqual([true, undefined]);
  });
  test('one that another screen recognised is read here at once, and once only', async () => {
    await open();
    const file = new File([LOG], 'from-the-folder.csv');
    Object.defineProperty(file, 'text', { value: async () => LOG });
    const hand = useHandOver();
    hand.give('focus-log', file);
    expect(hand.take('guide-log')).toBeNull();
    expect(hand.take('focus-log')).toBe(file);
    expect(hand.take('focus-log')).toBeNull();
  });
});

describe('a run typed by hand', () => {
  const typing = async () => {
    const at = await open([{ method: 'POST', path: /focus-runs/, body: { added: 1, known: 0 } }]);
    await at.wrapper
      .findAll('[role="tab"]')
      .find((t) => t.text() === 'Typed')!
      .trigger('click');
    await flushPromises();
    return at;
  };
  test('says what is missing, one thing at a time, and sends nothing until it is whole', async () => {
    const { wrapper, posts } = await typing();
    const alert = () => wrapper.find('[role="alert"]').text();
    await press(wrapper, 'Add');
    expect(alert()).toBe('Choose the filter.');
    await pick(wrapper, 'Filter', 'Ha');
    await press(wrapper, 'Add');
    expect(alert()).toBe('Type the focuser position.');
    await type(wrapper, 'Best position', '5120');
    await type(wrapper, 'Time, UTC', 'yesterday');
    await press(wrapper, 'Add');
    expect(alert()).toContain('“yesterday” is not a time');
    expect(posts()).toEqual([]);
  });
  test.each([
    ['2026-11-24 20:15', '2026-11-24T20:15:00.000Z'],
    ['2026-11-24T20:15+02:00', '2026-11-24T18:15:00.000Z'],
    ['', null],
  ])('the time “%s” is taken as %s', async (typed, time) => {
    const { wrapper, posts } = await typing();
    await pick(wrapper, 'Filter', 'Ha');
    await type(wrapper, 'Best position', '5120');
    if (typed) await type(wrapper, 'Time, UTC', typed);
    await press(wrapper, 'Add');
    await flushPromises();
    expect(posts()[0]!.source).toBe('typed');
    expect(posts()[0]!.runs[0]).toMatchObject({ filter: 'Ha', position: 5120, time });
  });
});
