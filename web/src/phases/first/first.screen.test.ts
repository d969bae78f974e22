import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { RigBuild, TUBES, viewOf } from '@keen/core/rig';
import { flushPromises } from '@vue/test-utils';
import { workWith } from '../../test/doubles/worker.ts';
import { holdPerson } from '../../common/personal.ts';
import { mountScreen, me, site, rig } from '../../test/mountScreen.ts';
import FirstEvening from './FirstEvening.vue';
import { blank, buildOfChoices, missing, usualFilters } from './useFirstEvening.ts';
import SignIn from '../club/SignIn.vue';
import BeginView from '../club/BeginView.vue';

const entry = {
  index: 0,
  id: 'NGC 281',
  alias: null,
  name: null,
  type: 'en',
  raDeg: 13.2,
  decDeg: 56.6,
  mag: 7.4,
  majorArcmin: 35,
  minorArcmin: 30,
  aliases: [],
  names: [],
  paDeg: null,
};
workWith(() => ({
  find: async (text: string) => (text.includes('281') ? [entry] : []),
  tonight: async () => ({
    objects: [{ ...entry, minutes: 400, bestAltitudeDeg: 70, moonSeparationDeg: 90, score: 1 }],
    scanned: 1,
    tookMs: 1,
  }),
}));

const at = (iso: string) => jest.spyOn(Date, 'now').mockReturnValue(Date.parse(iso));
beforeEach(() => {
  localStorage.clear();
  at('2026-11-29T12:00:00Z');
  document.body.innerHTML = '';
});
type Wrapper = Awaited<ReturnType<typeof mountScreen>>['wrapper'];
const button = (w: Wrapper, text: string) => w.findAll('button').find((b) => b.text() === text)!;
const pick = (w: Wrapper, text: string) =>
  w
    .findAll('label.card')
    .find((l) => l.text().includes(text))!
    .find('input')
    .setValue(true);

describe('the first evening', () => {
  test('nothing goes on before the place is known; what cannot be read says what would be right', async () => {
    const { wrapper } = await mountScreen(FirstEvening, { sites: [], rigs: [] });
    expect(button(wrapper, 'Next').attributes('disabled')).toBeDefined();
    await wrapper.find('input[placeholder="47.07, 15.44"]').setValue('somewhere nice');
    expect(wrapper.text()).toContain('“somewhere nice” is no place');
    await wrapper.find('input[placeholder="47.07, 15.44"]').setValue('47.07, 15.44');
    await flushPromises();
    await new Promise((r) => setTimeout(r, 50));
    await flushPromises();
    expect(button(wrapper, 'Next').attributes('disabled')).toBeUndefined();
    expect(wrapper.text()).toContain('of full darkness here');
  });
  test('who begins late in the evening is told what is left of the night', async () => {
    at('2026-11-29T21:00:00Z');
    const { wrapper } = await mountScreen(FirstEvening, { sites: [], rigs: [] });
    await wrapper.find('input[placeholder="47.07, 15.44"]').setValue('47.07, 15.44');
    await flushPromises();
    // dark from 18:01 to 05:32 there, by an almanac; it is 22:00
    await new Promise((r) => setTimeout(r, 50));
    await flushPromises();
    expect(wrapper.text()).toMatch(
      /7 h 3[1-3] of full darkness are left tonight of 11 h 3[1-3], all of it under the Moon/,
    );
  });
  test('each step shows what it is good for, and the rig that is sent is one the server takes', async () => {
    const made = rig();
    const { wrapper, sent } = await mountScreen(FirstEvening, {
      sites: [],
      rigs: [],
      answers: [
        { method: 'POST', path: /api\/sites/, body: site() },
        { path: /api\/sites/, body: [site()] },
        { method: 'POST', path: /api\/rigs/, body: made },
      ],
    });
    await wrapper.find('input[placeholder="47.07, 15.44"]').setValue('47.07, 15.44');
    await new Promise((r) => setTimeout(r, 50));
    await flushPromises();
    await button(wrapper, 'Next').trigger('click');
    await flushPromises();
    expect(sent.find((s) => s.method === 'POST')!.body).toMatchObject({
      kind: 'backyard',
      latitudeDeg: 47.07,
      timeZone: 'Europe/Vienna',
      name: 'Home',
    });
    await pick(wrapper, 'worm-driven mount, 15 kg');
    await button(wrapper, 'Next').trigger('click');
    await pick(wrapper, '80 mm refractor');
    expect(wrapper.find('[data-test="first-rig"]').text()).toContain('Load on the mount');
    await button(wrapper, 'Next').trigger('click');
    expect(button(wrapper, 'Next').attributes('disabled')).toBeDefined();
    await pick(wrapper, '18 × 13 mm');
    await pick(wrapper, 'Colour');
    await pick(wrapper, 'None yet');
    expect(wrapper.find('[data-test="assumed"]').text()).toContain('±');
    await button(wrapper, 'Next').trigger('click');
    await flushPromises();
    // nothing holds a filter: no filters to name, the rig is built at once
    const built = sent.find((s) => s.path === '/api/rigs')!.body as { setup: RigBuild };
    expect(RigBuild.safeParse(built.setup).error?.issues ?? []).toEqual([]);
    expect(viewOf(built.setup).camera.bayer).toBe('RGGB');
    expect(wrapper.text()).toContain('What shall it be tonight?');
    expect(wrapper.find('[data-test="objects"]').text()).toContain('NGC 281');
  });
  test('leaving and coming back finds the step and every choice', async () => {
    const d = { ...blank(), at: 2, tube: structuredClone(TUBES[3]!) };
    d.place = { ...d.place, latitudeDeg: 47, longitudeDeg: 15, timeZone: 'Europe/Vienna' };
    localStorage.setItem(`keen.first-evening.${me().id}`, JSON.stringify(d));
    holdPerson(me().id);
    const { wrapper } = await mountScreen(FirstEvening, { sites: [], rigs: [] });
    expect(wrapper.text()).toContain('Which tube or lens?');
    const checked = wrapper.findAll('label.card.on').map((l) => l.text());
    expect(checked.some((t) => t.includes(TUBES[3]!.label))).toBe(true);
  });
  test('a member is told whom to ask instead', async () => {
    const { wrapper } = await mountScreen(FirstEvening, { member: me({ role: 'member', clubKind: 'club' }) });
    expect(wrapper.text()).toContain('A steward sets this up');
  });
});

describe('what follows from the choices', () => {
  test('what is missing is named in the order of the steps', () => {
    const d = blank();
    expect(missing(d)).toBe('place');
    Object.assign(d.place, { latitudeDeg: 1, longitudeDeg: 1, timeZone: 'UTC' });
    expect(missing(d)).toBe('mount');
    expect(buildOfChoices(d)).toBeNull();
  });
  test('a wheel comes with the usual filters, a camera without one with none', () => {
    expect(usualFilters('none', true)).toEqual([]);
    expect(usualFilters('wheel', false)).toContain('SII');
  });
});

describe('two doors', () => {
  const open = {
    member: null,
    csrfToken: 't',
    mayBegin: true,
    local: true,
    mayRestoreDemo: false,
    settings: null,
    demo: [
      { name: 'Odalys Brandt', signIn: 'odalys', role: 'steward' as const },
      { name: 'Ines Quadros', signIn: 'ines', role: 'guest' as const },
    ],
  };
  test('at the machine the demo is one click away, as its steward or another of its people', async () => {
    const { wrapper, session, sent } = await mountScreen(SignIn, { member: null });
    session.info = open;
    await flushPromises();
    await button(wrapper, 'Look round').trigger('click');
    await flushPromises();
    await button(wrapper, 'Ines').trigger('click');
    expect(sent.filter((s) => s.method === 'POST').map((s) => s.body)).toEqual([
      { signIn: 'odalys' },
      { signIn: 'ines' },
    ]);
    expect(wrapper.find('a[href="/begin"]').exists()).toBe(true);
  });
  test('beyond it the password is asked for, and only the first may begin', async () => {
    const { wrapper, session } = await mountScreen(SignIn, { member: null });
    session.info = { ...open, local: false, mayBegin: false };
    await flushPromises();
    expect(button(wrapper, 'Look round')).toBeUndefined();
    expect(wrapper.text()).toContain('larkmoor-nights');
    expect(wrapper.find('a[href="/begin"]').exists()).toBe(false);
    expect(wrapper.text()).toContain('Ask a steward');
  });
  test('a person alone names no club; a sign-in name is proposed from the own one', async () => {
    const { wrapper, session, sent } = await mountScreen(BeginView, { member: null });
    session.info = open;
    await flushPromises();
    expect(wrapper.text()).not.toContain('Name of the club');
    await wrapper.find('input[autocomplete="name"]').setValue('Noor Vïk');
    await wrapper.find('input[autocomplete="new-password"]').setValue('long enough');
    await wrapper.find('form').trigger('submit');
    expect(sent.find((s) => s.method === 'POST')!.body).toEqual({
      kind: 'alone',
      place: '',
      name: 'Noor Vïk',
      signIn: 'noor.vik',
      password: 'long enough',
    });
    await pick(wrapper, 'A club');
    expect(wrapper.text()).toContain('Name of the club');
  });
});
