import { beforeEach, describe, expect, test } from '@jest/globals';
import { RIGS } from '@keen/demo';
import { RigBuild } from '@keen/core/rig';
import { flushPromises } from '@vue/test-utils';
import { nextTick } from 'vue';
import { mountScreen, rig, me } from '../../test/mountScreen.ts';
import RigsView from './RigsView.vue';
import NewRig from './NewRig.vue';
import EmptyState from '../../common/EmptyState.vue';
import { useUnits } from '../../stores/units.ts';
import BenchSummary from './BenchSummary.vue';
import MembersView from '../club/MembersView.vue';

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});
const ridge = RIGS.find((r) => r.key === 'newtonian')!.build;
const quiet = [
  { path: /revisions/, body: [] },
  { path: /parts/, body: [] },
  { path: /offset-sets/, body: [] },
];
type Wrapper = Awaited<ReturnType<typeof mountScreen>>['wrapper'];
const button = (w: Wrapper, text: string) => w.findAll('button').find((b) => b.text() === text);

describe('rigs', () => {
  test('without one the page says what a rig is good for and leads to it; a member is told whom to ask', async () => {
    const mine = await mountScreen(RigsView, { rigs: [], sites: [] });
    expect(mine.wrapper.find('[data-test="empty"] a').text()).toBe('Begin with the place');
    const members = [{ ...me(), name: 'Odalys Brandt' }];
    const { wrapper } = await mountScreen(EmptyState, {
      member: me({ role: 'member', clubKind: 'club' }),
      rigs: [],
      props: { title: 'No rig yet', lacks: 'rig' },
      answers: [{ path: /members/, body: members }],
    });
    expect(wrapper.text()).toContain('Odalys Brandt can add it');
    expect(wrapper.find('a').exists()).toBe(false);
  });
  test('a mass somebody changes is marked as theirs, and the save carries it', async () => {
    const { wrapper, sent } = await mountScreen(RigsView, {
      answers: [...quiet, { method: 'POST', path: /revisions/, body: { ...rig(), revision: 2, version: 2 } }],
    });
    const mass = wrapper.find('[data-test="parts"] input.mono');
    await mass.setValue('5.6 kg');
    await mass.trigger('change');
    // typed, it is nobody's measurement until somebody says so
    expect(wrapper.find('[data-test="parts"] .origin.measured').exists()).toBe(false);
    await button(wrapper, 'Weighed by me')!.trigger('click');
    expect(wrapper.find('[data-test="parts"] .origin.measured').attributes('title')).toContain('measured (Noor Vik');
    expect(wrapper.text()).toContain('Saving this means: redo balance marks');
    await button(wrapper, 'Save')!.trigger('click');
    await flushPromises();
    const body = sent.find((s) => s.method === 'POST')!.body as { setup: RigBuild };
    expect(body.setup.placed[0]).toMatchObject({ massKg: 5.6, massFrom: { kind: 'measured', by: 'Noor Vik' } });
    expect(RigBuild.safeParse(body.setup).success).toBe(true);
  });
  test('a rotator and a supply are said with what both schools do, and saved; taken back they are gone', async () => {
    const { wrapper, sent } = await mountScreen(RigsView, {
      answers: [...quiet, { method: 'POST', path: /revisions/, body: { ...rig(), revision: 2, version: 2 } }],
    });
    await wrapper
      .findAll('[role="tab"]')
      .find((x) => x.text() === 'Mount and times')!
      .trigger('click');
    await nextTick();
    const box = (text: string) =>
      wrapper
        .findAll('label')
        .find((l) => l.text().includes(text))!
        .find('input');
    await box('A rotator turns the camera').setValue(true);
    expect(wrapper.find('[data-test="rotator"]').text()).toContain('one set of flats serves both sides');
    await box('A power supply that tells').setValue(true);
    await box('Switched on before').setValue(true);
    await box('A battery').setValue(true);
    expect(wrapper.find('[data-test="supply"]').text()).toContain('Lasts 11.1 h');
    const low = wrapper.find('[data-test="supply"] input.mono');
    await low.setValue('11,8');
    await low.trigger('change');
    await button(wrapper, 'Save')!.trigger('click');
    await flushPromises();
    const saved = (sent.find((s) => s.method === 'POST')!.body as { setup: RigBuild }).setup;
    expect(RigBuild.safeParse(saved).success).toBe(true);
    expect(saved.systems[0]!.rotator).toEqual({ afterFlip: 'leave', reachDeg: 180 });
    expect(saved.supply).toEqual({
      switched: true,
      closesBelowV: 11.8,
      battery: { capacityWh: 500, drawW: 45 },
    });
    await box('A rotator turns the camera').setValue(false);
    await box('A power supply that tells').setValue(false);
    expect(wrapper.find('[data-test="supply"]').text()).not.toContain('Lasts');
  });
  test('what one system shows is saved without touching the other', async () => {
    const two = rig(ridge);
    const { wrapper, club, sent } = await mountScreen(RigsView, {
      rigs: [two],
      answers: [...quiet, { method: 'POST', path: /revisions/, body: { ...two, version: 2, revision: 2 } }],
    });
    club.selectRig(two.id, 'lens');
    await flushPromises();
    const mass = wrapper.find('[data-test="parts"] input.mono');
    await mass.setValue('14 kg');
    await mass.trigger('change');
    await button(wrapper, 'Save')!.trigger('click');
    await flushPromises();
    const body = sent.find((s) => s.method === 'POST')!.body as { setup: RigBuild };
    expect(body.setup.systems).toEqual(two.setup.systems);
    expect(body.setup.placed[0]!.massKg).toBe(14);
  });
  test('looking at another rig leaves no step to undo into this one', async () => {
    const { wrapper, club } = await mountScreen(RigsView, { rigs: [rig(), rig(ridge, 4)], answers: quiet });
    club.selectRig(rig(ridge, 4).id);
    await flushPromises();
    await nextTick();
    expect(button(wrapper, 'Undo')).toBeUndefined();
  });
  test('inches, pounds and degrees Fahrenheit are said in sentences too', async () => {
    const { wrapper } = await mountScreen(BenchSummary, {});
    expect(wrapper.text()).toContain('kg·cm');
    useUnits().system = 'imperial';
    await nextTick();
    expect(wrapper.text()).toContain('in·lb');
    expect(wrapper.text()).not.toContain('kg·cm');
    expect(wrapper.text()).toMatch(/of 40\slb/);
  });
});

test('a new rig from kinds of things is one the server takes; without a site it says so', async () => {
  const { sent } = await mountScreen(NewRig, {
    rigs: [],
    props: { open: true },
    answers: [{ method: 'POST', path: /rigs/, body: rig() }],
  });
  await flushPromises();
  const name = document.querySelector<HTMLInputElement>('.ant-modal input[type="text"]')!;
  name.value = 'balcony';
  name.dispatchEvent(new Event('input'));
  await nextTick();
  [...document.querySelectorAll('button')].find((b) => b.textContent?.trim() === 'Build')!.click();
  await flushPromises();
  const body = sent.find((s) => s.method === 'POST')!.body as { name: string; setup: RigBuild };
  expect(body.name).toBe('balcony');
  expect(RigBuild.safeParse(body.setup).error?.issues ?? []).toEqual([]);
});

test('a person alone is not called a club, and the owner may put the demo away', async () => {
  const { wrapper, session } = await mountScreen(MembersView, { answers: [{ path: /members/, body: [me()] }] });
  session.info = { ...session.info!, demo: [] };
  await flushPromises();
  expect(wrapper.text()).toContain('Add a person');
  expect(wrapper.text()).not.toContain('Stewards keep');
  expect(wrapper.find('[data-test="installation"]').text()).toContain('Take the demo away');
});
