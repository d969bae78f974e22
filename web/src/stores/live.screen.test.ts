import { beforeEach, describe, expect, test } from '@jest/globals';
import { api, type ClubEvent } from '@keen/contract';
import { QueryObserver } from '@tanstack/vue-query';
import { call, wroteJustNow } from '../api/client.ts';
import { serverState } from '../api/serverState.ts';
import { flushPromises } from '@vue/test-utils';
import LiveNotices from '../common/LiveNotices.vue';
import { me, mountScreen, rig } from '../test/mountScreen.ts';
import { useLive } from './live.ts';

type Changed = Extract<ClubEvent, { kind: 'changed' }>;
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
let seq = 0;
const changed = (more: Partial<Changed> = {}): Changed => ({
  kind: 'changed',
  seq: ++seq,
  at: '2026-11-20T12:00:00.000Z',
  what: 'plans',
  byId: id(9),
  by: 'Teun Ferwerda',
  rigId: rig().id,
  night: '2026-11-20',
  ...more,
});
async function open() {
  const at = await mountScreen(LiveNotices, {
    rigs: [rig()],
    member: me({ clubKind: 'club' }),
    answers: [{ path: /\/api\/(plans|projects|rigs|sites)/, body: [] }],
  });
  const live = useLive();
  const told = () => at.wrapper.findAll('[data-test="notice"]').map((n) => n.find('span').text());
  const hear = async (e: ClubEvent) => {
    live.heard(e);
    await flushPromises();
  };
  return { ...at, live, told, hear };
}
const later = (ms: number) => new Promise((r) => setTimeout(r, ms));
/** Waits for what comes; fails where it does not. */
async function until(there: () => boolean): Promise<void> {
  for (let i = 0; i < 100 && !there(); i++) await later(50);
  expect(there()).toBe(true);
}
beforeEach(() => localStorage.clear());

describe('what others just did', () => {
  test('is told of one’s rigs, the same once, the newest first, three at most', async () => {
    const { told, hear } = await open();
    await hear(changed());
    await hear(changed());
    expect(told()).toEqual([
      expect.stringMatching(/^Teun Ferwerda has just changed what is planned on rig 3 for .*20 Nov/),
    ]);
    for (const night of ['2026-11-21', '2026-11-22', '2026-11-23']) await hear(changed({ night }));
    expect(told()).toHaveLength(3);
    expect(told()[0]).toContain('23 Nov');
  });
  test('one’s own doings, other rigs and what changes no night are not told', async () => {
    const { told, hear } = await open();
    await hear(changed({ byId: me().id }));
    await hear(changed({ rigId: id(77) }));
    await hear(changed({ what: 'logbook' }));
    expect(told()).toEqual([]);
    await hear(changed({ what: 'rigs', night: null }));
    expect(told()).toEqual(['Teun Ferwerda has just changed rig 3.']);
  });
  test('is looked at where it is, or put away', async () => {
    const { wrapper, told, hear, club, router } = await open();
    await hear(changed());
    await wrapper
      .findAll('button')
      .find((b) => b.text() === 'Look')!
      .trigger('click');
    await flushPromises();
    expect([club.night, router.currentRoute.value.path, told()]).toEqual(['2026-11-20', '/night', []]);
    await hear(changed());
    await wrapper.find('button[aria-label="Put this away"]').trigger('click');
    expect(told()).toEqual([]);
  });
  test('what this tab itself just did is not read again under the hand; another tab’s doing is', async () => {
    // whatever was changed before this test is long past
    do await later(300);
    while (wroteJustNow());
    const { sent, hear } = await open();
    const plans = () => sent.filter((s) => s.path.startsWith('/api/plans')).length;
    const before = plans();
    await hear(changed({ byId: me().id }));
    await until(() => plans() === before + 1);
    await call(api.dropGuideLog, { params: { id: id(5) } });
    await hear(changed({ byId: me().id }));
    await hear(changed({ byId: me().id, what: 'projects' }));
    await later(300);
    expect(plans()).toBe(before + 1);
    await hear(changed());
    await until(() => plans() === before + 2);
  });
  test('what becomes of a run is read anew at once, also where this tab has just begun it', async () => {
    await later(300);
    const { hear } = await open();
    const loads: string[] = [];
    const stop = new QueryObserver(serverState, {
      queryKey: ['live-run', id(70)],
      queryFn: async () => (loads.push('run'), 'running'),
    }).subscribe(() => undefined);
    await until(() => loads.length === 1);
    await call(api.dropGuideLog, { params: { id: id(5) } });
    await hear(changed({ byId: me().id, what: 'live-runs', night: null }));
    await until(() => loads.length === 2);
    stop();
  });
  test('what it makes old is read anew, several at once only once', async () => {
    // what the tests before heard is read by now
    await later(300);
    const { sent, hear } = await open();
    const before = sent.length;
    for (let i = 0; i < 5; i++) await hear(changed());
    await hear(changed({ what: 'projects' }));
    await later(300);
    await flushPromises();
    const asked = sent.slice(before).map((s) => s.path.split('?')[0]);
    expect(asked.sort()).toEqual(['/api/plans', '/api/projects']);
  });
});
