import { beforeEach, describe, expect, test } from '@jest/globals';
import type { PlanRecord } from '@keen/contract';
import type { Bound, Leg } from '@keen/core/sequence';
import { RIGS } from '@keen/demo';
import { flushPromises } from '@vue/test-utils';
import { button, field, pick, press, pressOutside, type } from '../../test/userActions.ts';
import { planOf } from '../../test/plan.ts';
import { ownWorker } from '../../test/ownWorker.ts';
import { saved } from '../../test/doubles/download.ts';
import { mountScreen, me, project, rig, sent } from '../../test/mountScreen.ts';
import PlanView from './PlanView.vue';
import BoundInput from './BoundInput.vue';
import StepsForm from './StepsForm.vue';
import { firstSettings } from '@keen/core/sequence';

await ownWorker({ tonight: async () => ({ objects: [], scanned: 0, tookMs: 0 }) });

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const goals = [
  { filter: 'Ha', exposureS: 300, quota: 40 },
  { filter: 'OIII', exposureS: 300, quota: 40 },
];
const projects = [
  project({ goals }),
  project({ id: id(51), name: 'M 33 in lines', object: 'M 33', raDeg: 23.46, decDeg: 30.66, goals }),
];
const settings = firstSettings(projects[0]!, null);
const two = (more: Partial<PlanRecord> = {}): PlanRecord => {
  const p = planOf(projects[0]!, settings, more);
  const end = '2026-11-19T23:30:00.000Z';
  const second = {
    ...p.legs[0]!,
    id: 'leg-2',
    projectId: id(51),
    object: 'M 33',
    from: { by: 'clock', at: p.end },
    until: { by: 'clock', at: end },
    start: p.end,
    end,
  };
  return { ...p, end, legs: [...p.legs, second as PlanRecord['legs'][number]], ...more };
};
async function look(options: { plans?: PlanRecord[]; member?: Parameters<typeof me>[0]; night?: string } = {}) {
  const at = await mountScreen(PlanView, {
    projects,
    answers: [
      { method: 'PUT', path: /plans/, body: two({ version: 4 }) },
      { method: 'POST', path: /plans/, body: two({ version: 1 }) },
      { path: /\/api\/(plans|runs|dusk|offset-sets)/, body: [] },
    ],
    member: me(options.member),
  });
  at.club.now = Date.parse('2026-11-19T14:00:00Z');
  at.club.plans = options.plans ?? [two()];
  if (options.night) at.club.chosenNight = options.night;
  for (let i = 0; i < 4; i++) await flushPromises();
  const rows = () => at.wrapper.findAll('[data-test="outline"] li').map((r) => r.find('button').text());
  const row = (k: number) => at.wrapper.findAll('[data-test="outline"] li')[k]!.find('button');
  const body = async () => {
    await press(at.wrapper, 'Save');
    await flushPromises();
    return sent.findLast((s) => s.method !== 'GET')!.body as { legs: Leg[] } & Record<string, never>;
  };
  return { ...at, rows, row, body };
}
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
  saved.length = 0;
});

describe('the outline', () => {
  test('lists the night in its order, with hours and frames, and shows what is chosen', async () => {
    const { wrapper, rows, row } = await look();
    expect(rows().map((t) => /Opening|NGC 281|M 33|Closing|Watches/.exec(t)![0])).toEqual([
      'Opening',
      'NGC 281',
      'M 33',
      'Closing',
      'Watches',
    ]);
    expect(rows()[1]).toMatch(/^19:00–22:00NGC 281.*\d+ frames/);
    expect(rows()[0]).toContain('nothing before the first leg');
    await row(4).trigger('click');
    expect(wrapper.find('[data-test="watches"]').text()).toContain('Close the night after');
    await row(2).trigger('click');
    expect(wrapper.find('[data-test="leg"]').exists()).toBe(true);
    expect(wrapper.find('[data-test="verdict"]').text()).toContain('in 2 legs');
  });
  test('arrow keys choose, with Alt they move a leg, Delete takes it out, undo brings it back', async () => {
    const { wrapper, rows, row } = await look();
    await row(1).trigger('keydown', { key: 'ArrowDown' });
    await flushPromises();
    expect(row(2).attributes('aria-current')).toBe('true');
    await row(2).trigger('keydown', { key: 'ArrowUp', altKey: true });
    expect(rows()[1]).toContain('M 33');
    await row(1).trigger('keydown', { key: 'Delete' });
    expect(rows()).toHaveLength(4);
    await press(wrapper, 'Undo');
    await press(wrapper, 'Undo');
    expect(rows()[2]).toContain('M 33');
    // the last leg stays, and the opening is no leg
    await row(0).trigger('keydown', { key: 'Delete' });
    expect(rows()).toHaveLength(5);
  });
  test('a leg is added after the last, and saved with the night', async () => {
    const { wrapper, rows, body } = await look({ plans: [planOf(projects[0]!, settings)] });
    await pick(wrapper, 'Add a leg', `${id(51)}#`);
    await flushPromises();
    expect(rows()[2]).toContain('M 33');
    const { legs } = await body();
    expect(legs.map((l) => [l.projectId, l.role])).toEqual([
      [projects[0]!.id, 'main'],
      [id(51), 'main'],
    ]);
    expect(legs[1]!.from).toEqual({ by: 'clock', at: '2026-11-19T21:00:00.000Z' });
  });
  test('a project beside a plan of mine becomes a leg of it', async () => {
    const { wrapper, rows } = await look({ plans: [planOf(projects[0]!, settings)] });
    await pick(wrapper, 'Project', id(51));
    for (let i = 0; i < 4; i++) await flushPromises();
    expect(wrapper.find('[data-test="join"]').text()).toContain('You have a plan tonight already, for NGC 281');
    await press(wrapper, 'Make M 33 a leg of it');
    for (let i = 0; i < 4; i++) await flushPromises();
    expect(rows().join()).toMatch(/NGC 281.*M 33/);
  });
});

describe('one end of a window', () => {
  const open = async (bound: Bound, more: object = {}) => {
    const { wrapper } = await mountScreen(BoundInput as never, {
      props: {
        modelValue: bound,
        side: 'from',
        comesMs: Date.parse('2026-11-19T18:04:00Z'),
        timeZone: 'UTC',
        night: '2026-11-19',
        ...more,
      },
    });
    return { wrapper, last: () => (wrapper.emitted('update:modelValue') as [Bound][]).at(-1)![0] };
  };
  test('becomes what is chosen; a clock begins where the sky would have had it', async () => {
    const { wrapper, last } = await open({ by: 'free', offsetMin: 15 });
    expect(wrapper.text()).toContain('18:04');
    await pick(wrapper, 'Begins', 'nautical');
    expect(last()).toEqual({ by: 'darkness', which: 'nautical', offsetMin: 15 });
    await pick(wrapper, 'Begins', 'altitude');
    expect(last()).toEqual({ by: 'altitude', deg: 30, offsetMin: 15 });
    await pick(wrapper, 'Begins', 'clock');
    expect(last()).toEqual({ by: 'clock', at: '2026-11-19T18:04:00.000Z' });
  });
  test('keeps to its range, and says when it does not come to pass', async () => {
    const { wrapper, last } = await open({ by: 'altitude', deg: 40, offsetMin: 0 }, { comesMs: null });
    expect(wrapper.text()).toContain('not this night');
    await field(wrapper, 'Above').setValue('55');
    await field(wrapper, 'Above').trigger('change');
    expect(last()).toEqual({ by: 'altitude', deg: 55, offsetMin: 0 });
    await field(wrapper, 'Above').setValue('95');
    await field(wrapper, 'Above').trigger('change');
    expect(wrapper.find('[role="alert"]').text()).toContain('89');
  });
});

describe('the steps around the legs', () => {
  const open = async (part: 'opening' | 'closing', steps: object[]) => {
    const { wrapper } = await mountScreen(StepsForm as never, {
      props: { part, steps, autofocusS: 120, filters: ['Ha', 'OIII'], off: false },
    });
    return { wrapper, last: () => (wrapper.emitted('change') as [{ step: string }[]][]).at(-1)![0] };
  };
  test('stand in the order of the craft, whatever is switched on when', async () => {
    const { wrapper, last } = await open('opening', [{ step: 'solve', minutes: 2, notBefore: null, field: null }]);
    const box = (name: string) =>
      wrapper
        .findAll('label')
        .find((l) => l.text() === name)!
        .find('input');
    await box('cool').setValue(true);
    expect(last().map((s) => s.step)).toEqual(['cool', 'solve']);
    await box('solve and synchronise').setValue(false);
    expect(last()).toEqual([]);
  });
  test('flats take the filters of the night and wait for the dawn', async () => {
    const { wrapper, last } = await open('closing', []);
    await wrapper
      .findAll('label')
      .find((l) => l.text() === 'flats')!
      .find('input')
      .setValue(true);
    expect(last()).toEqual([{ step: 'flats', minutes: 8, notBefore: 'civil', filters: ['Ha', 'OIII'] }]);
  });
});

describe('ways to begin', () => {
  test('are offered with what they would do, take the place of the legs, and can be undone', async () => {
    const { wrapper, rows } = await look();
    await press(wrapper, 'Begin anew with…');
    await pressOutside('Two in narrow lines, the Moon up');
    const list = document.querySelector('[data-test="templates"]')!;
    expect(list.textContent).toContain('in narrow lines by moonlight');
    expect(rows().join()).toMatch(/M 33.*NGC 281/);
    await press(wrapper, 'Undo');
    expect(rows()[1]).toContain('NGC 281');
  });
});

describe('files', () => {
  const give = async (wrapper: Awaited<ReturnType<typeof look>>['wrapper'], text: string) => {
    const input = wrapper.find<HTMLInputElement>('[data-test="plan-file"]');
    Object.defineProperty(input.element, 'files', {
      value: [{ name: 'night.json', text: async () => text }],
      configurable: true,
    });
    await input.trigger('change');
    for (let i = 0; i < 4; i++) await flushPromises();
  };
  test('the night goes out as a plan, steps and a calendar, and the plan comes back as it went', async () => {
    const { wrapper, rows, row } = await look();
    for (const name of ['Plan (JSON)', 'Steps (CSV)', 'Calendar']) await press(wrapper, name);
    expect(saved.map((s) => s.name)).toEqual(['json', 'csv', 'ics'].map((x) => `night-2026-11-19-rig-3.${x}`));
    expect(saved[1]!.text.split('\n')[1]).toMatch(/^2026-11-19T18:00:00.000Z,.*,leg,NGC 281,slew/);
    expect(saved[2]!.text).toContain('SUMMARY:M 33');
    await row(2).trigger('keydown', { key: 'Delete' });
    expect(rows()).toHaveLength(4);
    await give(wrapper, saved[0]!.text);
    expect(rows()).toHaveLength(5);
    expect(rows()[2]).toContain('M 33');
  });
  test('what is no plan, or points where no project does, is said with its place; what stands here stays', async () => {
    const { wrapper, rows } = await look();
    await press(wrapper, 'Plan (JSON)');
    const good = saved[0]!.text;
    await give(wrapper, 'L R G B');
    expect(wrapper.find('[data-test="files"] [role="alert"]').text()).toContain('night.json: not JSON');
    await give(wrapper, good.replace('"exposureS": 300', '"exposureS": -1'));
    expect(wrapper.find('[data-test="files"]').text()).toContain('legs.0.settings.filters.0.exposureS');
    await give(wrapper, good.replaceAll('M 33', 'NGC 7331').replace('23.46', '339.27'));
    expect(wrapper.find('[data-test="files"]').text()).toContain('No project of this rig points at NGC 7331');
    expect(rows()).toHaveLength(5);
  });
  test('the run sheet has every step with its hour', async () => {
    const { wrapper } = await look();
    const sheet = wrapper.find('[data-test="sheet"]').text();
    expect(sheet).toMatch(/19:00–22:00\s*☐ NGC 281/);
    expect(sheet).toMatch(/Ha \d+ × 300 s/);
    expect(sheet).toContain('hands and cables clear');
  });
});

describe('closed fields', () => {
  const locks: PlanRecord['locks'] = [
    { field: 'order', reason: 'cloud comes without warning', by: 'Odalys Brandt' },
    { field: 'targets', reason: '', by: 'Odalys Brandt' },
    { field: 'opening', reason: '', by: 'Odalys Brandt' },
  ];
  test('a steward closes one with a reason, and it is saved', async () => {
    const { wrapper, body } = await look();
    const protect = wrapper.find('[data-test="protect"]');
    await protect
      .findAll('label')
      .find((l) => l.text() === 'Dither')!
      .find('input')
      .setValue(true);
    await field(wrapper, 'Why Dither is closed').setValue('fixed pattern of this camera');
    expect((await body()).locks).toEqual([{ field: 'dither', reason: 'fixed pattern of this camera' }]);
  });
  test('a member sees them as text with who and why, and only the open ones to set', async () => {
    const mine = two({ locks });
    const { wrapper, row } = await look({ plans: [mine], member: { role: 'member' } });
    const closed = wrapper.find('[data-test="closed"]').text();
    expect(closed).toContain('Kept by Odalys Brandt');
    expect(closed).toMatch(/Order\s*block\s*cloud comes without warning/);
    expect(wrapper.find('[data-test="open"]').text()).toContain('hours, filters and goals, exposures, focus, dither');
    expect(wrapper.findAll('h3').map((h) => h.text())).not.toContain('Order');
    expect(wrapper.find('[data-test="protect"]').exists()).toBe(false);
    // targets are closed: no leg is moved or taken out
    expect(() => button(wrapper, 'Take M 33 out')).toThrow();
    await row(0).trigger('click');
    expect(wrapper.find('[data-test="opening"] input').attributes('disabled')).toBeDefined();
  });
  test('a protected plan is used on another night: same time on the wall, and it says where it is from', async () => {
    const theirs = two({ id: id(61), ownerId: id(9), owner: 'Odalys Brandt', locks });
    const { wrapper, body } = await look({ plans: [theirs], member: { role: 'member' }, night: '2026-11-24' });
    await pick(wrapper, 'Use a protected plan', id(61));
    for (let i = 0; i < 3; i++) await flushPromises();
    const made = (await body()) as { legs: Leg[]; fromPlanId?: string };
    expect(made.fromPlanId).toBe(id(61));
    expect(made.legs[0]!.from).toEqual({ by: 'clock', at: '2026-11-24T18:00:00.000Z' });
    const changed = { planId: id(61), owner: 'Odalys Brandt', night: '2026-11-12', changed: ['exposures' as const] };
    const used = await look({ plans: [two({ madeFrom: changed })] });
    expect(used.wrapper.find('[data-test="made-from"]').text()).toMatch(
      /Made from Odalys Brandt’s plan of 12 Nov;\s*changed: exposures\./,
    );
  });
});

describe('a mosaic in the plan', () => {
  const framing = {
    raDeg: 13.2,
    decDeg: 56.6,
    angleDeg: 0,
    windowPaDeg: null,
    columns: 2,
    rows: 1,
    overlap: 0.15,
    star: null,
    guideExposureS: null,
    words: 'amber-heron',
    aspect: null,
    at: '2026-11-01T12:00:00.000Z',
    by: 'Noor Vik',
  };
  const wide = project({
    goals,
    framing,
    panels: 2,
    byPanel: [
      [40, 40],
      [5, 0],
    ],
  });
  test('begins with a leg for each panel that still wants frames; another panel is added by hand', async () => {
    const at = await mountScreen(PlanView, {
      projects: [wide],
      answers: [{ path: /\/api\/(plans|runs|dusk|offset-sets)/, body: [] }],
    });
    at.club.now = Date.parse('2026-11-19T14:00:00Z');
    for (let i = 0; i < 6; i++) await flushPromises();
    const rows = () => at.wrapper.findAll('[data-test="outline"] li').map((r) => r.text());
    expect(rows().filter((t) => t.includes('panel'))).toEqual([expect.stringContaining('NGC 281, panel 2')]);
    expect(rows().join()).not.toContain('in turns');
    await pick(at.wrapper, 'Add a leg', `${wide.id}#0`);
    await flushPromises();
    expect(rows().filter((t) => t.includes('panel 1'))).toHaveLength(1);
    // the others have all the hours in turns: that is said, not hidden
    expect(at.wrapper.find('[data-test="leg-trouble"]').text()).toContain('Its turn never comes');
    expect(at.wrapper.find('[data-test="leg"]').text()).toMatch(/\d+h \d+m \d+s \+\d+° .*camera/);
  });
  test('turns are set and let go; they are saved with the leg', async () => {
    const { wrapper, rows, body } = await look();
    await wrapper
      .findAll('[data-test="leg"] label')
      .find((l) => l.text().includes('In turns'))!
      .find('input')
      .setValue(true);
    expect(rows()[1]).toContain('in turns of 30 min');
    await type(wrapper, 'Length of a turn', '45');
    const { legs } = await body();
    expect(legs[0]!.turnMin).toBe(45);
  });
});

describe('a second camera', () => {
  const build = RIGS.find((r) => r.key === 'newtonian')!.build;
  const twin = rig(build, 3);
  const lead = project({
    goals: [{ filter: 'L', exposureS: 120, quota: 60 }],
    system: 'newtonian',
    object: 'NGC 281',
    name: 'NGC 281 deep',
  });
  const beside = project({
    id: id(52),
    name: 'wide',
    system: 'lens',
    goals: [{ filter: 'L', exposureS: 60, quota: 300 }],
  });
  const astray = { ...beside, id: id(53), name: 'elsewhere', raDeg: 84.7, decDeg: -69.1 };
  test('takes frames beside the lead, is offered the length that fits, and is warned of what it cannot see', async () => {
    const at = await mountScreen(PlanView, {
      rigs: [twin],
      projects: [lead, beside, astray],
      answers: [{ path: /\/api\/(plans|runs|dusk|offset-sets)/, body: [] }],
    });
    at.club.now = Date.parse('2026-11-19T14:00:00Z');
    at.club.selectRig(twin.id, 'newtonian');
    for (let i = 0; i < 6; i++) await flushPromises();
    const panel = () => at.wrapper.find('[data-test="follower"]');
    await pick(at.wrapper, 'Second camera', beside.id);
    expect(panel().find('[data-test="idle"]').text()).toMatch(
      /^\d+ frames, \d+\smin of open shutter; \d+\s% of its time/,
    );
    expect(panel().text()).toMatch(/\d × \d+ s would fill the 248 s between two dithers/);
    await press(at.wrapper, 'Take that');
    expect(panel().text()).toContain('fill the 248 s between two dithers.');
    expect(panel().text()).toContain('No goal of wide asks for this length of L');
    expect(panel().find('[data-test="missed"]').exists()).toBe(false);
    const gives = (n: number) =>
      panel()
        .findAll('[data-test="pace"] label')
        [n]!.text()
        .match(/\d+ frames|camera \d+/g)!
        .map((t) => Number(/\d+/.exec(t)![0]));
    const [leadPace, bothWait] = [gives(0), gives(1)];
    expect(bothWait[0]!).toBeLessThanOrEqual(leadPace[0]!);
    await panel().findAll('[data-test="pace"] input')[1]!.setValue(true);
    expect([gives(0), gives(1)]).toEqual([leadPace, bothWait]);
    expect(panel().find('[data-test="idle"]').text()).toContain(`${bothWait[1]} frames`);
    await pick(at.wrapper, 'Second camera', astray.id);
    expect(panel().find('[data-test="missed"]').text()).toMatch(/points \d+° away from NGC 281/);
    await pick(at.wrapper, 'Second camera', '');
    expect(panel().find('table').exists()).toBe(false);
  });
});

describe('versions of a night', () => {
  test('are kept aside by name, looked at beside the plan, taken, and forgotten', async () => {
    const { wrapper, rows } = await look();
    const ways = () => wrapper.find('[data-test="ways"]');
    await ways().find('input').setValue('as it was');
    await ways().find('form').trigger('submit');
    expect(ways().find('summary').text()).toBe('Versions: 1 kept aside');
    await press(wrapper, 'Take M 33 out');
    expect(rows().join()).not.toContain('M 33');
    await press(wrapper, 'Beside the plan');
    expect(rows().join()).toContain('M 33');
    expect(wrapper.find('[data-test="verdict"]').text()).toMatch(/^\S+\s?B gives \d+ frames against \d+/);
    await press(wrapper, 'Take B');
    expect(rows().join()).toContain('M 33');
    await press(wrapper, 'Forget as it was');
    expect(ways().find('summary').text()).toBe('Versions: none kept aside');
    expect(Object.entries(localStorage).find(([k]) => k.endsWith('.ways'))![1]).toBe('{}');
  });
});
