import { beforeEach, describe, expect, test } from '@jest/globals';
import { RIGS } from '@keen/demo';
import type { RigBuild } from '@keen/core/rig';
import { flushPromises } from '@vue/test-utils';
import type { Component } from 'vue';
import { ownWorker } from '../../test/ownWorker.ts';
import { mountScreen, me, rig, sent } from '../../test/mountScreen.ts';
import OffAxisView from './OffAxisView.vue';
import { personalKey } from '../../common/personal.ts';
import TrainView from './TrainView.vue';
import FocuserView from './FocuserView.vue';
import CardsView from './CardsView.vue';
import BalanceView from './BalanceView.vue';

await ownWorker();

type Wrapper = Awaited<ReturnType<typeof mountScreen>>['wrapper'];
const button = (w: Wrapper, text: string) => w.findAll('button').find((b) => b.text().startsWith(text));
const verdict = (w: Wrapper) => w.find('[data-test="verdict"]').text();
const build = (key: string): RigBuild => structuredClone(RIGS.find((r) => r.key === key)!.build);

async function bench(view: Component, of: RigBuild, role: 'steward' | 'guest' = 'steward') {
  const record = rig(of);
  const saved = { ...record, revision: 2, version: 2 };
  const at = await mountScreen(view, {
    rigs: [record],
    member: me({ role }),
    answers: [
      { method: 'PUT', path: /rigs/, body: saved },
      { method: 'POST', path: /rigs/, body: saved },
      { path: /\/api\//, body: [] },
    ],
  });
  await flushPromises();
  const save = async () => {
    await button(at.wrapper, 'Save')!.trigger('click');
    await flushPromises();
    return (sent.filter((s) => s.method !== 'GET').at(-1)!.body as { setup: RigBuild }).setup;
  };
  return { ...at, save };
}
async function press(w: Wrapper, text: string) {
  await button(w, text)!.trigger('click');
  await flushPromises();
  await flushPromises();
}
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('an off-axis guider', () => {
  test('is put into a rig that has none, with a piece of the train that is its body, and saved with it', async () => {
    const { wrapper, save } = await bench(OffAxisView, build('refractor'));
    expect(wrapper.find('[data-test="empty"]').text()).toContain('No off-axis guider on this rig');
    await press(wrapper, 'Put one in');
    expect(wrapper.find('[data-test="empty"]').exists()).toBe(false);
    const system = (await save()).systems[0]!;
    expect(system.offAxis!.prism.innerEdgeMm).toBeGreaterThan(0);
    expect(system.train.filter((p) => p.guider)).toHaveLength(1);
  });
  test('whose prism shades is moved out until it is clear, and no farther', async () => {
    const of = build('astrograph');
    of.systems[0]!.offAxis!.prism.innerEdgeMm -= 4;
    const { wrapper, save } = await bench(OffAxisView, of);
    expect(verdict(wrapper)).toContain('The prism shades');
    const before = of.systems[0]!.offAxis!.prism.innerEdgeMm;
    await press(wrapper, 'Move it out until it is clear');
    expect(wrapper.find('[data-test="invalidated"]').text()).toContain('look for the guide star again');
    expect(wrapper.text()).not.toContain('The prism shades');
    const after = (await save()).systems[0]!.offAxis!.prism.innerEdgeMm;
    expect(after).toBeGreaterThan(before);
    expect(before).toBeGreaterThan(0);
    expect(after).toBeLessThan(before + 20);
  });
  test('out of the guide camera’s reach is told with the length that is missing, and that length mends it', async () => {
    const of = build('astrograph');
    of.systems[0]!.offAxis!.spacersMm += 30;
    const { wrapper } = await bench(OffAxisView, of);
    expect(wrapper.text()).toContain('The guide camera cannot focus');
    await press(wrapper, 'Change the guide-side spacers by');
    expect(wrapper.text()).not.toContain('The guide camera cannot focus');
    // not at the end of its travel, where the next filter would be out of reach again
    expect(wrapper.text()).not.toContain('close to the end of its travel');
  });
  test('is looked at by a guest without a button that moves it', async () => {
    const { wrapper } = await bench(OffAxisView, build('astrograph'), 'guest');
    for (const text of ['Move it out', 'Change the guide-side', 'Put one in'])
      expect(button(wrapper, text)).toBeUndefined();
  });
});

describe('the train', () => {
  test('says how much is missing; a piece of that length makes it right', async () => {
    const of = build('refractor');
    const { wrapper, save } = await bench(TrainView, of);
    const missing = Number(/([\d.]+)\s?mm short/.exec(verdict(wrapper))![1]);
    await press(wrapper, 'Add another piece');
    const lengths = wrapper
      .findAll('input')
      .filter((i) => /documented/i.test(i.element.labels?.[0]?.textContent ?? ''));
    const last = lengths.at(-2)!; // before the camera: nothing new stands behind the sensor
    await last.setValue(String(missing));
    await flushPromises();
    expect(verdict(wrapper)).not.toContain('short: add');
    expect((await save()).systems[0]!.train).toHaveLength(of.systems[0]!.train.length + 1);
  });
  test('a piece that sounds like the corrector is asked about; said to be it, it counts no more', async () => {
    const of = build('refractor');
    of.systems[0]!.train.unshift({ name: 'field flattener', lengthMm: 42 });
    for (const p of of.systems[0]!.train.slice(1)) p.role = 'piece';
    const { wrapper, save } = await bench(TrainView, of);
    expect(verdict(wrapper)).toContain('“field flattener” sounds like the corrector');
    await press(wrapper, 'Yes, the corrector');
    expect(wrapper.find('[data-test="asked"]').exists()).toBe(false);
    expect(verdict(wrapper)).not.toContain('sounds like');
    expect(wrapper.find('[data-test="invalidated"]').exists()).toBe(false);
    expect((await save()).systems[0]!.train[0]!.role).toBe('corrector');
  });
  test('screwing a piece in says that the camera’s angle is from before', async () => {
    const { wrapper } = await bench(TrainView, build('refractor'));
    await press(wrapper, 'Add another piece');
    expect(wrapper.find('[data-test="invalidated"]').text()).toContain('camera’s angle');
  });
  test('faces that do not meet come before every length', async () => {
    const of = build('refractor');
    const train = of.systems[0]!.train;
    const at = train.findIndex((p) => p.rear);
    train[at]!.rear = { size: 'M68x1', gender: 'male' };
    const { wrapper } = await bench(TrainView, of);
    expect(verdict(wrapper)).toMatch(/mends it|No adapter in the drawer mends it/);
    expect(wrapper.find('.is-bad').exists()).toBe(true);
  });
});

describe('the focuser', () => {
  test('a ring more is a choice more, and one that is taken away is one less', async () => {
    const { wrapper } = await bench(FocuserView, build('refractor'));
    const choices = () => wrapper.findAll('table.figures tbody tr').length;
    const before = choices();
    await press(wrapper, 'Add a ring');
    expect(wrapper.findAll('button').filter((b) => b.text() === '✕').length).toBeGreaterThan(0);
    const withRing = choices();
    expect(withRing).toBeGreaterThanOrEqual(before);
    await wrapper
      .findAll('button')
      .filter((b) => b.text() === '✕')
      .at(-1)!
      .trigger('click');
    await flushPromises();
    expect(choices()).toBeLessThanOrEqual(withRing);
  });
});

describe('bench cards', () => {
  test('carry the weights first, the train piece by piece, and the cautions that belong to them', async () => {
    const of = build('newtonian');
    const { wrapper } = await bench(CardsView, of);
    const text = wrapper.text();
    expect(text).toContain('Weights first');
    expect(text).toContain('two people above 12');
    for (const p of of.systems[0]!.train) expect(text).toContain(p.name);
    expect(text.indexOf('Weights first')).toBeLessThan(text.indexOf('two people above'));
  });
});

describe('balance', () => {
  test('against a spring scale that says otherwise asks which is right, and moves nothing', async () => {
    const readings = (z: number) => [
      { axis: 'dec', attitudeDeg: 0, tubeSide: 'left', forceTowardN: 5 - z, forceBackN: 5 + z, leverMm: 300 },
      { axis: 'ra', attitudeDeg: 0, tubeSide: 'left', forceTowardN: 5, forceBackN: 5, leverMm: 300 },
    ];
    const of = build('refractor');
    localStorage.setItem(personalKey(`readings.${rig(of).id}`), JSON.stringify(readings(2)));
    const { wrapper } = await bench(BalanceView, of);
    await flushPromises();
    expect(verdict(wrapper)).toMatch(/The spring scale says fore and aft .*, the parts add up to −51\.4/);
    expect(wrapper.find('[data-test="steps"]').exists()).toBe(false);
    expect(wrapper.findAll('[data-test="verdict"]')).toHaveLength(1);
  });
  test('the moves are said in order; carried out, the rig is in balance and can be saved so', async () => {
    const { wrapper, save } = await bench(BalanceView, build('refractor'));
    expect(verdict(wrapper)).toContain('Back-heavy');
    const steps = wrapper.findAll('[data-test="steps"] li').map((l) => l.text());
    expect(steps.length).toBeGreaterThan(1);
    expect(steps[0]).toMatch(/^(Move|Hang|Right ascension locked|Weights)/);
    await press(wrapper, 'Done: take these over');
    expect(verdict(wrapper)).not.toContain('Back-heavy');
    const before = build('refractor');
    expect((await save()).slide.markMm).not.toBe(before.slide.markMm);
  });
  test('a guest reads the moves and carries none out', async () => {
    const { wrapper } = await bench(BalanceView, build('refractor'), 'guest');
    expect(wrapper.findAll('[data-test="steps"] li').length).toBeGreaterThan(1);
    expect(button(wrapper, 'Done: take these over')).toBeUndefined();
  });
});
