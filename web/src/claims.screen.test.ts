import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { typicalCables } from '@keen/core/cables';
import { viewOf } from '@keen/core/rig';
import { flushPromises } from '@vue/test-utils';
import type { Component } from 'vue';
import { ownWorker } from './test/ownWorker.ts';
import { mountScreen, project, rig, sent } from './test/mountScreen.ts';
import { nothingKept } from './test/records.ts';
import { router } from './router.ts';

await ownWorker();

/** What a screen says once a call is answered with nothing, and may not say before that nor when the call failed. */
const CLAIMS: [path: string, call: string, claim: RegExp][] = [
  ['/dusk', '/api/offset-sets', /No offsets for/],
  ['/dusk', '/api/rigs/#/setup-list', /Ready\?.*Set-up list/],
  ['/dusk', '/api/rigs/#/dusk-settings', /Nothing is planned on/],
  ['/dusk/setup', '/api/rigs/#/setup-list', /0 of \d+ done/],
  ['/night/exposures', '/api/rigs/#/guide-logs', /not measured/],
  ['/night/plan', '/api/offset-sets', /shutter open/],
  ['/morning', '/api/runs', /Nothing came back yet/],
  ['/morning', '/api/rigs/#/nights', /Nothing came back yet/],
  ['/morning', '/api/focus-runs', /Nothing came back yet/],
  ['/morning', '/api/rigs/#/guide-logs', /Nothing came back yet/],
  ['/morning', '/api/rigs/#/calibration-needs', /Nothing came back yet/],
  ['/morning/night', '/api/rigs/#/nights', /None yet\. What is brought in/],
  ['/morning/frames', '/api/rigs/#/nights', /No night on record/],
  ['/morning/frames', '/api/rigs/#/judgements', /No night on record/],
  ['/morning/calibration', '/api/rigs/#/calibration', /No dark, flat or bias frame is on record/],
  ['/morning/calibration', '/api/rigs/#/calibration-needs', /No light frame was brought in here yet/],
  ['/morning/report', '/api/rigs/#/nights', /No night on record/],
  ['/morning/report', '/api/rigs/#/judgements', /No night on record/],
  ['/morning/log', '/api/log', /Nothing is written down yet/],
  ['/morning/drills', '/api/drills', /0 of \d+ situations are known/],
  ['/morning/focus', '/api/focus-runs', /No focus run is on record/],
  ['/morning/focus', '/api/offset-sets', /Nothing is adopted/],
  ['/morning/guiding', '/api/rigs/#/guide-logs', /No guide log yet/],
  ['/season', '/api/sites/#/clear-spells', /is a guess/],
  ['/season/board', '/api/sites/#/clear-spells', /is a guess/],
  ['/season/board', '/api/jobs', /Nothing was worked out yet/],
  ['/season/bookings', '/api/bookings', /You have no hours booked/],
  ['/season/bookings', '/api/sharing', /You have no hours booked/],
  ['/season/ledger', '/api/ledger', /Nobody asked for hours/],
  ['/club', '/api/members', /Nothing yet\./],
  ['/club/equipment', '/api/parts', /The drawer is empty/],
  ['/club/upkeep', '/api/upkeep', /Nothing comes again yet/],
  ['/club/changes', '/api/changes', /Nobody has changed anything yet/],
  ['/club/security', '/api/security', /Nothing has happened yet/],
];
/** Calls of which a screen says nothing until they are answered: looked through one by one. */
const SILENT = [
  ['*', '/api/offset-sets'],
  // what is due stands in lines of its own, which say where they could not be read
  ['/bench', '/api/upkeep'],
  ['/night', '/api/upkeep'],
  // shown once something is in the drawer
  ['/club/equipment', '/api/counts'],
  ['/first-evening', '/data/deep-sky.json'],
  // its tab is closed, and counts nothing before they are there
  ['/bench/rigs', '/api/rigs/#/revisions'],
  ['/bench/rigs', '/api/parts'],
  ['/bench/train', '/api/parts'],
  ['/bench/cables', '/api/rigs/#/cables'],
  ['/dusk/setup', '/api/rigs/#/dusk-settings'],
  ['/dusk/setup', '/api/sites/#/forecast'],
  ['/dusk/guider', '/api/rigs/#/dusk-settings'],
  ['/dusk/dither', '/api/rigs/#/dusk-settings'],
  ['/night', '/api/sites/#/forecast'],
  // whose hours are whose is told in a panel of its own, which says so where it could not be read
  // alone nothing is asked; in a club it is told in a panel of its own
  ['/night', '/api/bookings'],
  // a run that goes on is told of above the plans, and so is that it could not be read
  ['/night/run', '/api/live-runs'],
  // without it there are the stand-ins
  ['/night/run', '/api/bridges'],
  ['/night/plan', '/api/bookings'],
  ['/night/moon', '/api/bookings'],
  ['/night/exposures', '/api/bookings'],
  ['/morning', '/api/bookings'],
  ['/season/ledger', '/api/bookings'],
  ['/season/ledger', '/api/season/rules'],
  ['/night/plan', '/api/sites/#/clear-spells'],
  ['/night/plan', '/api/sites/#/forecast'],
  ['/night/target', '/data/stars/index.json'],
  ['/morning/night', '/api/rigs/#/calibration'],
  ['/morning/night', '/api/rigs/#/calibration-needs'],
  ['/morning/frames', '/api/focus-runs'],
  ['/morning/calibration', '/api/rigs/#/masters'],
  ['/morning/report', '/api/focus-runs'],
  ['/morning/drills', '/api/drills/weak-spots'],
  // nights into which something was put stand in a panel of their own, which says so where they could not be read
  ['/morning/drills', '/api/live-runs'],
  ['/club', '/api/invitations'],
  ['/club/account', '/api/session/all'],
];

const sky = {
  source: '',
  licence: '',
  id: ['NGC 281'],
  alias: [null],
  name: [null],
  type: ['en'],
  raDeg: [13.2],
  decDeg: [56.6],
  mag: [7.4],
  majorArcmin: [35],
  minorArcmin: [30],
};
const EMPTY = [
  {
    path: /\/cables$/,
    body: {
      rigId: rig().id,
      sheet: typicalCables(viewOf(rig().setup)),
      kept: false,
      version: 0,
      updatedAt: '2026-11-01T12:00:00.000Z',
      updatedBy: '',
    },
  },
  { path: /deep-sky/, body: sky },
  ...nothingKept,
];
// those of one record are looked at where they are tested
const screens = router.options.routes.filter((r) => r.component && !r.path.includes('(') && !r.path.includes(':'));
async function open(path: string, first: { path: RegExp; status?: number; body: unknown }[] = []) {
  const load = screens.find((r) => r.path === path)!.component as () => Promise<{ default: Component }>;
  const at = await mountScreen((await load()).default, {
    projects: [project()],
    answers: [...first, ...EMPTY],
    at: path,
  });
  for (let i = 0; i < 4; i++) await flushPromises();
  const { textContent: text } = at.wrapper.element.parentElement!;
  const told = ['coming', 'failed'].filter((t) => at.wrapper.find(`[data-test="${t}"]`).exists());
  at.wrapper.unmount();
  return { text: (text ?? '').replace(/\s+/g, ' '), told };
}
/** The path of a call, ids left out. */
const shape = (path: string) => path.replace(/[0-9a-f]{8}-[0-9a-f-]{27}/g, '#').replace(/\?.*/, '');
const only = (call: string) => new RegExp(`^${call.replaceAll('#', '[0-9a-f-]+').replaceAll('.', '\\.')}(\\?|$)`);

// an evening, whatever the hour it is tested at: by morning there is nothing left to plan
beforeEach(() => {
  jest.spyOn(Date, 'now').mockReturnValue(Date.parse('2026-11-19T18:00:00Z'));
  localStorage.clear();
  document.body.innerHTML = '';
});

afterEach(() => void jest.restoreAllMocks());

describe('nothing is claimed before what it rests on has come', () => {
  test.each(CLAIMS)('%s, %s: %s', async (path, call, claim) => {
    expect((await open(path)).text).toMatch(claim);
    expect(sent.map((s) => shape(s.path))).toContain(call);
    const coming = await open(path, [{ path: only(call), body: new Promise(() => undefined) }]);
    expect(coming.text).not.toMatch(claim);
    const broken = { type: 'about:blank', code: 'internal', title: 'the server failed', status: 500 };
    const failed = await open(path, [{ path: only(call), status: 500, body: broken }]);
    // common values stand in for kept ones, and the screen says so
    if (call.endsWith('dusk-settings')) expect(failed.text).toContain('Common values are used meanwhile');
    else expect(failed.text).not.toMatch(claim);
    expect(failed.text).toContain('the server failed');
  });
  test.each(screens.map((r) => r.path))('every call of %s was looked at', async (path) => {
    await open(path);
    const known = [...CLAIMS, ...SILENT].filter(([p]) => p === path || p === '*').map(([, call]) => call);
    const calls = [...new Set(sent.filter((s) => s.method === 'GET').map((s) => shape(s.path)))];
    expect(calls.filter((c) => !known.includes(c))).toEqual([]);
  });
});
