import { beforeEach, describe, expect, test } from '@jest/globals';
import type { ProjectRecord } from '@keen/contract';
import { flushPromises } from '@vue/test-utils';
import { nextTick } from 'vue';
import { pick, press } from '../../test/userActions.ts';
import { useClub } from '../../stores/club.ts';
import { workWith } from '../../test/doubles/worker.ts';
import { mountScreen, me, project, rig, sent } from '../../test/mountScreen.ts';
import ProjectPanel from './ProjectPanel.vue';
import ProjectsView from './ProjectsView.vue';

workWith(() => ({ find: async () => [] }));

const goals = [
  { filter: 'Ha', exposureS: 300, quota: 40 },
  { filter: 'OIII', exposureS: 300, quota: 20 },
];
const night = (more: Partial<ProjectRecord['nights'][number]>) => ({
  night: '2026-11-10',
  panel: null,
  filter: 'Ha',
  accepted: 6,
  rejected: 0,
  exposureS: 300,
  counts: true,
  ...more,
});
const panel = (p: ProjectRecord, options: object = {}) =>
  mountScreen(ProjectPanel, {
    props: { project: p },
    projects: [p],
    answers: [
      { method: 'PUT', path: /projects/, body: { ...p, version: 2 } },
      { path: /clear-spells/, body: null },
      { path: /\/api\//, body: [] },
    ],
    ...options,
  });

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('a project', () => {
  test('of four panels counts panel by panel: a goal is each panel’s own', async () => {
    const byPanel = [
      [40, 0],
      [12, 0],
      [0, 0],
      [0, 3],
    ];
    const { wrapper } = await panel(project({ goals, panels: 4, byPanel, done: [52, 3] }));
    const rows = wrapper.findAll('[data-test="goals"] tbody tr');
    expect(rows[0]!.findAll('td').at(-2)!.text()).toBe('108');
    const panels = wrapper.findAll('[data-test="panels-done"] tbody tr');
    expect(panels.map((r) => r.findAll('td .mono').map((c) => c.text()))).toEqual([
      ['40/40', '0/20'],
      ['12/40', '0/20'],
      ['0/40', '0/20'],
      ['0/40', '3/20'],
    ]);
  });
  test('counts by filter what real nights brought, and what is left of each goal', async () => {
    const { wrapper } = await panel(project({ goals, done: [12, 25] }));
    const rows = wrapper.findAll('[data-test="goals"] tbody tr');
    expect(wrapper.find('[data-done="Ha 300"]').text()).toBe('12');
    expect(rows.map((r) => r.findAll('td').at(-2)!.text())).toEqual(['28', '0']);
  });
  test('names frames of an exposure no goal asks for instead of losing them', async () => {
    const nights = [
      night({}),
      night({ exposureS: 60, counts: false }),
      night({ night: '2026-11-11', exposureS: 60, counts: false, accepted: 4 }),
      night({ filter: 'OIII', exposureS: 120, counts: false, accepted: 0 }),
    ];
    const { wrapper } = await panel(project({ goals, nights }));
    expect(wrapper.find('[data-test="aside"]').text()).toContain('10 × Ha 60 s');
    expect(wrapper.find('[data-test="aside"]').text()).not.toContain('OIII');
  });
  test('makes a goal of frames no goal asks for, or another length of a filter, each at a press', async () => {
    const { wrapper } = await panel(project({ goals, nights: [night({ exposureS: 60, counts: false })] }));
    await wrapper
      .findAll('button')
      .find((b) => b.text() === 'Make it a goal')!
      .trigger('click');
    expect(wrapper.find('[data-test="aside"]').text()).toContain('once this is saved');
    await pick(wrapper, 'Add a goal', 'Ha');
    await wrapper
      .findAll('button')
      .find((b) => b.text() === 'Save')!
      .trigger('click');
    await flushPromises();
    const body = sent.find((s) => s.method === 'PUT')!.body as ProjectRecord;
    expect(body.goals.filter((g) => g.filter === 'Ha').map((g) => g.exposureS)).toEqual([300, 60, 6]);
  });
  test('a changed goal is sent whole, with the version it was read at', async () => {
    const { wrapper } = await panel(project({ goals }));
    const input = wrapper
      .findAll('label')
      .find((l) => l.text() === 'Goal of Ha')!
      .element.parentElement!.querySelector('input')!;
    input.value = '60';
    input.dispatchEvent(new Event('input'));
    await nextTick();
    await wrapper
      .findAll('button')
      .find((b) => b.text() === 'Save')!
      .trigger('click');
    await flushPromises();
    const body = sent.find((s) => s.method === 'PUT')!.body as ProjectRecord;
    expect(body.version).toBe(1);
    expect(body.goals).toEqual([{ ...goals[0], quota: 60 }, goals[1]]);
    expect(body).not.toHaveProperty('done');
  });
  test('keeps its last goal, and takes away another only when its owner asks', async () => {
    const { wrapper } = await panel(project({ goals }));
    await wrapper.find('[aria-label^="Remove OIII"]').trigger('click');
    expect(wrapper.findAll('[data-test="goals"] tbody tr')).toHaveLength(1);
    expect(wrapper.find('[aria-label^="Remove Ha"]').exists()).toBe(false);
  });
  test('of somebody else is closed to a member, with whom to ask; a guest looks', async () => {
    const theirs = project({ goals, owner: 'Teun Achterberg', ownerId: '00000000-0000-4000-8000-000000000009' });
    const member = await panel(theirs, { member: me({ role: 'member' }) });
    expect(member.wrapper.text()).toContain('Teun Achterberg’s project; the owner or a steward may change it');
    expect(member.wrapper.find('[aria-label^="Remove OIII"]').exists()).toBe(false);
    const guest = await panel(theirs, { member: me({ role: 'guest' }) });
    expect(guest.wrapper.text()).toContain('Guests may look, not change');
  });
});

describe('the list of projects', () => {
  test('is of every rig, and of the chosen one when only that is asked for', async () => {
    const other = rig(undefined, 4);
    const list = [project(), project({ id: '00000000-0000-4000-8000-000000000051', object: 'M 33', rigId: other.id })];
    const { wrapper } = await mountScreen(ProjectsView, {
      rigs: [rig(), other],
      projects: list,
      answers: [
        { path: /clear-spells/, body: null },
        { path: /\/api\//, body: [] },
      ],
    });
    await flushPromises();
    expect(wrapper.find('tbody').text()).toContain('NGC 281');
    expect(wrapper.find('tbody').text()).toContain('M 33');
    await wrapper.find('button[role="switch"]').trigger('click');
    await nextTick();
    expect(wrapper.find('tbody').text()).toContain('NGC 281');
    expect(wrapper.find('tbody').text()).not.toContain('M 33');
  });
  test('a guest finds no button that begins one', async () => {
    const { wrapper } = await mountScreen(ProjectsView, {
      projects: [project()],
      member: me({ role: 'guest' }),
      answers: [
        { path: /clear-spells/, body: null },
        { path: /\/api\//, body: [] },
      ],
    });
    await flushPromises();
    expect(wrapper.findAll('button').some((b) => b.text() === 'Start a project')).toBe(false);
  });
});

describe('when it would be finished', () => {
  const finish = (wrapper: Awaited<ReturnType<typeof panel>>['wrapper']) => wrapper.find('[data-test="finish"]').text();
  test('follows from the season, what is wanted and how many nights are clear: a guess, or the place’s own', async () => {
    const guessed = await panel(project({ goals: [{ filter: 'Ha', exposureS: 300, quota: 40 }] }));
    await flushPromises();
    expect(finish(guessed.wrapper)).toMatch(
      /At 15 clear nights a month by .*, as likely as not; between .* and .* in 80 of 100\./,
    );
    expect(finish(guessed.wrapper)).toMatch(/It is up for an hour or more a night (until|from) /);
    expect(finish(guessed.wrapper)).toContain('is a guess');
    const cloudy = await panel(project({ goals: [{ filter: 'Ha', exposureS: 300, quota: 40 }] }), {
      answers: [
        {
          path: /clear-spells/,
          body: { nights: 20, clearMeanMin: 20, cloudMeanMin: 80, clearEnds: 10, cloudEnds: 10 },
        },
        { path: /\/api\//, body: [] },
      ],
    });
    await flushPromises();
    expect(finish(cloudy.wrapper)).toContain('At 6 clear nights a month');
    expect(finish(cloudy.wrapper)).toContain('Clear nights as those brought in');
  });
  test('what would help is worked out when it is asked for: against its share, and each by itself', async () => {
    const other = rig(undefined, 4);
    const own = project({ goals: [{ filter: 'Ha', exposureS: 600, quota: 500 }], minimumAltitudeDeg: 40 });
    const beside = project({
      id: '00000000-0000-4000-8000-000000000061',
      goals: [{ filter: 'L', exposureS: 60, quota: 9 }],
    });
    const { wrapper } = await panel(own, {
      rigs: [rig(), other],
      before: () => void (useClub().projects = [own, beside]),
    });
    await flushPromises();
    expect(wrapper.find('[data-test="helps"] ol').exists()).toBe(false);
    await press(wrapper, 'What would help most?');
    for (let i = 0; i < 20 && !wrapper.find('[data-test="helps"] ol').exists(); i++) await flushPromises();
    const text = wrapper.find('[data-test="helps"]').text();
    expect(text).toMatch(/With its share of the rig, which 1 other wants too: in \d+ of 100 this season/);
    // the other rig is wanted by nobody, and holds the filter
    expect(wrapper.find('[data-test="helps"] li').text()).toMatch(/^With rig 4: in \d+ of 100|^Taken down to 30°/);
  });
  test('of what has all it wants, and of what never rises, that is said', async () => {
    const done = await panel(project({ goals: [{ filter: 'Ha', exposureS: 300, quota: 4 }], done: [4] }));
    expect(finish(done.wrapper)).toContain('It has all it wants.');
    const low = await panel(project({ decDeg: -80 }));
    expect(finish(low.wrapper)).toContain('never up for an hour');
  });
});
