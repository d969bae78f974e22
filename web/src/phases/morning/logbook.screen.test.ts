import { beforeEach, describe, expect, test } from '@jest/globals';
import { flushPromises } from '@vue/test-utils';
import { button, press } from '../../test/userActions.ts';
import { me, mountScreen, rig } from '../../test/mountScreen.ts';
import SinceLastNight from '../../common/SinceLastNight.vue';
import RigStopped from '../../common/RigStopped.vue';
import { useClub } from '../../stores/club.ts';
import LogbookView from './LogbookView.vue';

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const entry = (n: number, more: object = {}) => ({
  id: id(n),
  rigId: rig().id,
  rig: 'rig 3',
  aspect: 'flats',
  night: '2026-11-18',
  problem: `shadow ${n}`,
  cause: 'prism',
  cure: 'drawn out',
  finding: 'prism-shadow',
  stops: null as object | null,
  by: 'Noor Vik',
  byId: me().id,
  version: 1,
  updatedAt: '2026-11-19T08:00:00.000Z',
  updatedBy: 'Noor Vik',
  ...more,
});
async function open(list: object[], options: { at?: string; member?: object; more?: object[] } = {}) {
  const answers = [
    ...((options.more ?? []) as { method?: string; path: RegExp; body: unknown }[]),
    { method: 'POST', path: /api\/log$/, body: entry(50) },
    { method: 'DELETE', path: /api\/log\//, body: { ok: true } },
    { path: /api\/log/, body: list },
  ];
  const at = await mountScreen(LogbookView, { at: options.at ?? '/', member: me(options.member), answers });
  await flushPromises();
  const fields = () => at.wrapper.findAll<HTMLTextAreaElement>('[data-test="log-form"] textarea');
  return { ...at, fields };
}
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('the logbook', () => {
  test('tells problem, cause and cure, marks what is still open, and is searched on the server', async () => {
    const { wrapper, sent } = await open([
      entry(1),
      entry(2, { cause: '', cure: '', finding: '', aspect: null, night: null }),
    ]);
    const items = wrapper.findAll('[data-test="log"] li');
    expect(items[0]!.text()).toMatch(
      /flats and light path · shown by prism shadow.*Seenshadow 1It wasprismCured bydrawn out/,
    );
    expect(items[1]!.text()).toMatch(/any night.*not known yet.*still open/);
    await wrapper.find('input[aria-label="Find in the logbook"]').setValue('prism drawn');
    await new Promise((done) => setTimeout(done, 350));
    expect(sent.at(-1)!.path).toContain('find=prism+drawn');
  });
  test('a fault keeps the rig, or one system of it, from work until it is cured', async () => {
    const stopped = entry(1, { cure: '', stops: { system: null, until: '2026-11-25' } });
    const { wrapper, sent } = await open([stopped, entry(2, { stops: { system: null, until: null } })]);
    const items = wrapper.findAll('[data-test="log"] li');
    expect(items[0]!.text()).toContain('out of order up to the night of 25 Nov');
    // it was cured
    expect(items[1]!.text()).not.toContain('out of order');
    await press(wrapper, 'Write an entry');
    await wrapper.find<HTMLTextAreaElement>('[data-test="log-form"] textarea').setValue('the clutch slips');
    await wrapper.find('[data-test="stops"] button[role="switch"]').trigger('click');
    await wrapper.find('[data-test="stops"] input[type="date"]').setValue('2026-11-30');
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(sent.find((s) => s.method === 'POST')!.body).toMatchObject({
      problem: 'the clutch slips',
      stops: { system: null, until: '2026-11-30' },
    });
  });
  test('what is out of order is said on every screen of that rig and night, and where it is cleared', async () => {
    const stops = [entry(1, { problem: 'the clutch slips', cure: '', stops: { system: null, until: '2026-11-25' } })];
    const banner = async (night: string) => {
      const at = await mountScreen(RigStopped, {
        member: me(),
        answers: [{ path: /log\/stops/, body: stops }],
        before: () => void (useClub().chosenNight = night),
      });
      await flushPromises();
      return at.wrapper.text();
    };
    expect(await banner('2026-11-25')).toMatch(
      /is out of order up to the night of 25 Nov: ?the clutch slips.*To the log/,
    );
    expect(await banner('2026-11-26')).toBe('');
    // what could not be read is not in order for that
    const broken = { type: 'about:blank', code: 'internal', title: 'the server failed', status: 500 };
    const failed = await mountScreen(RigStopped, {
      member: me(),
      answers: [{ path: /log\/stops/, status: 500, body: broken }],
    });
    await flushPromises();
    expect(failed.wrapper.text()).toMatch(/Whether this rig is in order could not be read: the server failed/);
  });
  test('an entry is kept with what was told, and survives a reload before', async () => {
    const first = await open([]);
    expect(first.wrapper.text()).toContain('Nothing is written down yet');
    await press(first.wrapper, 'Write an entry');
    expect(button(first.wrapper, 'Keep').attributes('disabled')).toBeDefined();
    await first.fields()[0]!.setValue('stars long in the east');
    await flushPromises();
    first.wrapper.unmount();
    const { wrapper, fields, sent } = await open([]);
    expect(fields()[0]!.element.value).toBe('stars long in the east');
    await fields()[2]!.setValue('cable freed');
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(sent.find((s) => s.method === 'POST')!.body).toMatchObject({
      rigId: rig().id,
      problem: 'stars long in the east',
      cause: '',
      cure: 'cable freed',
      aspect: null,
    });
    expect(wrapper.find('[data-test="log-form"]').exists()).toBe(false);
  });
  test('a finding from elsewhere begins an entry with its night; one being written is not thrown away for it', async () => {
    const at = '/morning/log?finding=prism-shadow&night=2026-11-17&problem=The%20edge%20is%20dark';
    const { wrapper, fields } = await open([], { at });
    expect(fields()[0]!.element.value).toBe('The edge is dark');
    expect(wrapper.find('[data-test="log-form"]').text()).toContain('shown by: prism shadow');
    expect(wrapper.find<HTMLInputElement>('input[type="date"]').element.value).toBe('2026-11-17');
    await fields()[0]!.setValue('mine');
    await flushPromises();
    wrapper.unmount();
    const again = await open([], { at });
    expect(again.fields()[0]!.element.value).toBe('mine');
  });
  test('what is put away can be brought back; a stale change is told and what was typed stays', async () => {
    const current = entry(1, { version: 4, cure: 'their words' });
    const stale = {
      method: 'PUT',
      path: /api\/log\//,
      status: 409,
      body: { type: 'x', title: 'stale', status: 409, code: 'stale', detail: 'Teun saved version 4', current },
    };
    const { wrapper, fields, sent } = await open([entry(1)], { more: [stale] });
    await press(wrapper, 'Put away');
    await press(wrapper, 'Bring it back');
    expect(sent.some((s) => s.method === 'POST' && s.path.endsWith('/restore'))).toBe(true);
    await press(wrapper, 'Change');
    await fields()[2]!.setValue('my words');
    await wrapper.find('form').trigger('submit');
    for (let i = 0; i < 4; i++) await flushPromises();
    expect(wrapper.find('[role="alert"]').text()).toContain('Teun saved version 4');
    expect(fields()[2]!.element.value).toBe('my words');
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(sent.filter((s) => s.method === 'PUT').map((s) => (s.body as { version: number }).version)).toEqual([1, 4]);
  });
  test('a guest reads and writes nothing', async () => {
    const { wrapper } = await open([entry(1, { byId: id(77) })], {
      member: { role: 'guest' },
      at: '/morning/log?finding=tilt',
    });
    expect(wrapper.findAll('button').map((b) => b.text())).not.toContain('Write an entry');
    expect(wrapper.find('form').exists()).toBe(false);
  });
});

describe('since one’s own last night', () => {
  const since = (more: object = {}) => ({ night: '2026-11-02', revisions: [], offsets: [], log: [], ...more });
  const show = async (body: object, member: object = { clubKind: 'club' }) => {
    const at = await mountScreen(SinceLastNight, { member: me(member), answers: [{ path: /since$/, body }] });
    await flushPromises();
    return at;
  };
  const AT = '2026-11-10T20:00:00.000Z';
  test('what others did to the rig is told, faults first; one’s own doing is not', async () => {
    const { wrapper } = await show(
      since({
        offsets: [{ at: AT, by: 'Ida Holm', filters: ['L', 'Ha'] }],
        log: [
          { at: AT, by: 'Ida Holm', problem: 'the clutch slips', cure: '', stops: true },
          { at: AT, by: 'Noor Vik', problem: 'my own', cure: '', stops: false },
        ],
      }),
    );
    expect(wrapper.find('h2').text()).toBe('Since your night of 2 Nov with this rig');
    expect(wrapper.findAll('li').map((l) => l.text())).toEqual([
      expect.stringMatching(/^Out of order: the clutch slips.*Ida Holm, 10 Nov/),
      expect.stringMatching(/^Focus offsets adopted: L, Ha/),
    ]);
  });
  test('nothing is said where nothing was done, where there was no night, and alone', async () => {
    expect((await show(since())).wrapper.text()).toBe('');
    const log = [{ at: AT, by: 'Ida Holm', problem: 'dew', cure: '', stops: false }];
    expect((await show(since({ night: null, log }))).wrapper.text()).toBe('');
    const alone = await show(since({ log }), {});
    expect([alone.wrapper.text(), alone.sent.filter((s) => s.path.includes('/since'))]).toEqual(['', []]);
  });
});
