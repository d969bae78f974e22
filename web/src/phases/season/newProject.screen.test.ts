import { beforeEach, expect, test } from '@jest/globals';
import { USUAL_SETTINGS } from '@keen/contract';
import { flushPromises } from '@vue/test-utils';
import { workWith } from '../../test/doubles/worker.ts';
import { mountScreen, project, rig, sent } from '../../test/mountScreen.ts';
import { useSession } from '../../stores/session.ts';
import NewProject from './NewProject.vue';

const entry = (id: string, type: string) => ({
  index: 0,
  id,
  alias: null,
  name: null,
  type,
  raDeg: 13.2,
  decDeg: 56.6,
  mag: 7.4,
  majorArcmin: 35,
  minorArcmin: 30,
  aliases: [],
  names: [],
  paDeg: null,
});
// NGC 2818 in Pyxis
const CATALOGUE = [
  entry('NGC 281', 'en'),
  entry('NGC 891', 's'),
  { ...entry('NGC 2818', 'pn'), raDeg: 139.0, decDeg: -36.63 },
];
workWith(() => ({
  find: async (text: string) => CATALOGUE.filter((o) => o.id.toLowerCase().startsWith(text.toLowerCase())),
}));

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});
const begin = async (object: string, answer: object = { method: 'POST', path: /projects/, body: project() }) => {
  const { wrapper } = await mountScreen(NewProject, { props: { open: true, object }, answers: [answer as never] });
  await flushPromises();
  const press = async () => {
    (document.querySelector('.ant-modal-footer .ant-btn-primary') as HTMLButtonElement).click();
    await flushPromises();
  };
  return { wrapper, press };
};
const goals = () =>
  (sent.find((s) => s.method === 'POST')!.body as { goals: { filter: string; exposureS: number }[] }).goals;

test('an emission nebula begins with the rig’s narrow filters, a galaxy with the broad ones', async () => {
  const has = rig().setup.systems[0]!.wheel.map((s) => s.filter);
  expect(has).toEqual(expect.arrayContaining(['L', 'Ha']));
  await (await begin('NGC 281')).press();
  expect(goals().every((g) => ['Ha', 'OIII', 'SII'].includes(g.filter) && g.exposureS === 300)).toBe(true);
  expect(goals().length).toBeGreaterThan(0);
  document.body.innerHTML = '';
  await (await begin('NGC 891')).press();
  expect(goals().map((g) => g.filter)).toEqual(expect.arrayContaining(['L', 'R', 'G', 'B']));
  expect(goals().some((g) => g.filter === 'Ha')).toBe(false);
});
test('an object that is not in the catalogue is named, nothing is sent, and what the server refuses is said', async () => {
  const { press } = await begin('NGC 99999');
  await press();
  expect(document.body.textContent).toContain('“NGC 99999” is not in the catalogue');
  expect(sent.some((s) => s.method === 'POST')).toBe(false);
  document.body.innerHTML = '';
  const refused = {
    code: 'invalid_input',
    title: 'no',
    status: 400,
    issues: [{ path: 'name', message: 'stands already' }],
  };
  await (await begin('NGC 281', { method: 'POST', path: /projects/, status: 400, body: refused })).press();
  expect(document.body.textContent).toContain('name: stands already');
});
test('what never rises at the rig’s place is said before it is started, with how high it comes', async () => {
  const said = () => document.querySelector('[data-test="year"]')!.textContent!.replace(/\s+/g, ' ');
  const { wrapper } = await begin('NGC 2818');
  for (let i = 0; i < 4; i++) await flushPromises();
  // at 47° N an object at −36.6° stands 6° high at best
  expect(said()).toMatch(
    /At Tannery Yard: Never an hour above its limit in the dark.*Never above 30° here: 6(\.\d)?° at best/,
  );
  expect(document.querySelector('.ant-modal-footer .ant-btn-primary')!.textContent).toBe('Start it all the same');
  wrapper.unmount();
  document.body.innerHTML = '';
  await begin('NGC 281');
  for (let i = 0; i < 4; i++) await flushPromises();
  expect(said()).toMatch(/An hour or more on \d+ of 365 nights/);
});

test('the lowest altitude is what everybody begins with, also where a steward changed it while the page was open', async () => {
  const { wrapper, press } = await begin('NGC 281');
  const session = useSession();
  session.info = { ...session.info!, settings: { ...USUAL_SETTINGS, lowestAltitudeDeg: 22 } };
  await wrapper.vm.$nextTick();
  await press();
  expect(sent.find((s) => s.method === 'POST')!.body).toMatchObject({ minimumAltitudeDeg: 22 });
});
