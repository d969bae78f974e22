import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { JobRecord, PlanRecord, RunRecord } from '@keen/contract';
import { RIGS } from '@keen/demo';
import { simulatedTruthOf, standIns } from '@keen/core/observatory';
import { conduct } from '@keen/core/run';
import { viewOf } from '@keen/core/rig';
import { timelineInputOf } from '@keen/core/sequence';
import { flushPromises } from '@vue/test-utils';
import { button, field, press } from '../../test/userActions.ts';
import { mountScreen, me, project, rig } from '../../test/mountScreen.ts';
import { useLive } from '../../stores/live.ts';
import RunView from './RunView.vue';
import RunResults from './RunResults.vue';
import { firstSettings } from '@keen/core/sequence';
import { planOf } from '../../test/plan.ts';

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const goals = [
  { filter: 'Ha', exposureS: 300, quota: 12 },
  { filter: 'OIII', exposureS: 300, quota: 12 },
];
const record = project({ goals });
const plan = (more: Partial<PlanRecord> = {}): PlanRecord => planOf(record, firstSettings(record, null), more);
const build = RIGS[0]!.build;
const setup = viewOf(build, build.systems[0]!.key);
/** A night really rehearsed on the stand-ins. */
const rehearsed = async (seed: number, more: Partial<RunRecord> = {}): Promise<RunRecord> => {
  const p = plan();
  const [from, to] = [Date.parse(p.start), Date.parse(p.end)];
  const leg = p.legs[0]!;
  const timeline = timelineInputOf({
    settings: leg.settings,
    start: p.start,
    end: p.end,
    overheads: setup.overheads,
    done: [],
    flipAt: null,
  });
  const target = { name: leg.object, raDeg: record.raDeg, decDeg: record.decDeg };
  const legs = [
    {
      planIndex: 0,
      projectId: record.id,
      goal: record.id,
      timeline,
      role: 'main' as const,
      turnMin: null,
      target,
      guiding: true,
      centreWithinArcmin: 0.5,
    },
  ];
  const result = await conduct(
    { opening: [], legs, closing: [], watches: p.watches, endMs: to, offsets: null, focusReachSteps: 400 },
    standIns(simulatedTruthOf(setup, seed, from, to), setup.overheads),
  );
  return {
    id: id(80 + seed),
    kind: 'rehearsed',
    planId: p.id,
    legs: [{ projectId: record.id, projectName: record.name, object: record.object }],
    rigId: p.rigId,
    system: p.system,
    trainStateId: id(300),
    words: 'amber-heron',
    night: p.night,
    seed,
    state: 'rehearsed',
    at: p.start,
    by: 'Noor Vik',
    offsetsUsed: false,
    planVersion: 3,
    result,
    ...more,
  } as RunRecord;
};
const [one, two] = [await rehearsed(1), await rehearsed(2)];
const withRun = (r: RunRecord) => plan({ runs: [{ id: r.id, state: r.state, at: r.at }] });
const practice = () => rig({ ...build, practice: true });
const real = () => rig({ ...build, practice: false });
async function open(
  options: { plans?: PlanRecord[]; answers?: object[]; rigs?: ReturnType<typeof rig>[]; member?: object } = {},
) {
  const plans = options.plans ?? [plan()];
  const at = await mountScreen(RunView, {
    projects: [record],
    rigs: options.rigs ?? [practice()],
    member: me(options.member),
    answers: [
      ...((options.answers ?? []) as never[]),
      { path: /\/api\/jobs(\?|$)/, body: [] },
      { path: /\/api\/plans/, body: plans },
      { path: /\/api\/(projects|offset-sets)/, body: [] },
    ],
  });
  for (const p of plans) at.club.putPlan(p);
  for (let i = 0; i < 4; i++) await flushPromises();
  return { ...at, live: useLive() };
}
const job = (more: Partial<JobRecord> = {}): JobRecord => ({
  id: id(700),
  kind: 'rehearsal',
  subjectId: id(60),
  state: 'waiting',
  share: 0,
  stage: { code: 'job.waiting', values: {} },
  attempts: 0,
  cancelRequested: false,
  problem: null,
  byId: id(1),
  madeAt: '2026-11-20T12:00:00.000Z',
  begunAt: null,
  endedAt: null,
  ...more,
});
const over = { state: 'done' as const, share: 1, stage: null, endedAt: '2026-11-20T12:00:02.000Z' };
/** What the stream would say of a job. */
async function hears(live: ReturnType<typeof useLive>, j: JobRecord) {
  live.heard({ kind: 'job', seq: 1, at: j.madeAt, job: j });
  for (let i = 0; i < 6; i++) await flushPromises();
}
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('the run’s page', () => {
  test('without a plan says what a rehearsal is and leads to one', async () => {
    const { wrapper } = await open({ plans: [] });
    expect(wrapper.find('[data-test="empty"]').text()).toMatch(/simulated equipment that misbehaves/);
    expect(wrapper.find('[data-test="empty"] a').attributes('href')).toBe('/night/plan');
  });
  test('a plan nobody rehearsed says so; rehearsing sends the seed and shows what came of it', async () => {
    const answers = [
      { method: 'POST', path: /rehearsals/, body: job() },
      { path: /jobs\/./, body: { ...job(over), result: { kind: 'rehearsal', runId: two.id } } },
      { path: /runs\//, body: two },
    ];
    const { wrapper, sent, live } = await open({ answers });
    expect(wrapper.text()).toContain('not rehearsed yet');
    expect(wrapper.find('[data-test="came"]').exists()).toBe(false);
    await field(wrapper, 'Seed').setValue('2');
    await field(wrapper, 'Seed').trigger('change');
    await press(wrapper, 'Rehearse');
    expect(wrapper.find('[data-test="job"]').text()).toContain('waiting for its turn');
    await hears(live, job(over));
    const post = sent.find((s) => s.method === 'POST')!;
    expect([post.path, post.body]).toEqual([`/api/plans/${id(60)}/rehearsals`, { seed: 2, faults: [] }]);
    expect(wrapper.find('[data-test="verdict"]').text()).toContain(
      'Rehearsed on stand-ins, nothing counted yet. Seed 2',
    );
    expect(wrapper.find('[data-test="came"]').findAll('tbody tr')).toHaveLength(2);
  });
  test('what shall go wrong is chosen, sent, and said beside what came of it', async () => {
    const withFaults = { ...two, result: { ...two.result, faults: ['cloud' as const, 'knock' as const] } };
    const answers = [
      { method: 'POST', path: /rehearsals/, body: job() },
      { path: /jobs\/./, body: { ...job(over), result: { kind: 'rehearsal', runId: two.id } } },
      { path: /runs\//, body: withFaults },
    ];
    const { wrapper, sent, live } = await open({ answers });
    const list = wrapper.findAllComponents({ name: 'ASelect' }).find((s) => s.props('mode') === 'multiple')!;
    list.vm.$emit('update:value', ['cloud', 'knock']);
    await flushPromises();
    await press(wrapper, 'Rehearse');
    await hears(live, job(over));
    expect(sent.find((s) => s.method === 'POST')!.body).toEqual({ seed: 1, faults: ['cloud', 'knock'] });
    expect(wrapper.find('[data-test="asked-faults"]').text()).toBe(
      'Asked to go wrong: cloud, a knock against the tripod.',
    );
  });
  test('while it is played it says how far it is, and can be cancelled', async () => {
    const answers = [
      { method: 'POST', path: /rehearsals/, body: job() },
      { method: 'DELETE', path: /jobs\/./, body: { ok: true } },
      { path: /jobs\/./, body: { ...job({ ...over, state: 'cancelled', share: 0.4 }), result: null } },
    ];
    const { wrapper, sent, live } = await open({ answers });
    await press(wrapper, 'Rehearse');
    await hears(live, job({ state: 'running', share: 0.4, stage: { code: 'job.rehearsing', values: { frames: 31 } } }));
    const shown = () => wrapper.find('[data-test="job"]');
    expect(shown().text()).toMatch(/40\s*%[\s\S]*31 frames taken/);
    await press(wrapper, 'Cancel');
    expect(sent.filter((s) => s.method === 'DELETE').map((s) => s.path)).toEqual([`/api/jobs/${job().id}`]);
    expect(shown().exists()).toBe(false);
    expect(wrapper.text()).toContain('not rehearsed yet');
    expect(button(wrapper, 'Rehearse').classes()).not.toContain('ant-btn-loading');
  });
  test('one that failed says why', async () => {
    const detail = 'legs: ask for 900 focus runs';
    const problem = { type: 'x', title: 'x', status: 400, code: 'invalid_input', detail };
    const failed = job({ ...over, state: 'failed', problem });
    const answers = [
      { method: 'POST', path: /rehearsals/, body: job() },
      { path: /jobs\/./, body: { ...failed, result: null } },
    ];
    const { wrapper, live } = await open({ answers });
    await press(wrapper, 'Rehearse');
    await hears(live, failed);
    expect(wrapper.find('[role="alert"]').text()).toBe(detail);
  });
  test('one that was left goes on, and is found again', async () => {
    const going = job({ state: 'running', share: 0.7, stage: { code: 'job.begun-again', values: {} }, attempts: 2 });
    const { wrapper } = await open({ answers: [{ path: /\/api\/jobs\?/, body: [going] }] });
    expect(wrapper.find('[data-test="job"]').text()).toMatch(/70\s*%[\s\S]*begun again: the server ended under it/);
  });
  test('a refused rehearsal keeps what is there and says why', async () => {
    const answers = [
      {
        method: 'POST',
        path: /rehearsals/,
        status: 400,
        body: { type: 'x', title: 'x', status: 400, code: 'invalid_input', detail: 'the rig no longer holds OIII' },
      },
      { path: /runs\//, body: one },
    ];
    const { wrapper } = await open({ plans: [withRun(one)], answers });
    await press(wrapper, 'Rehearse again');
    expect(wrapper.find('[role="alert"]').text()).toBe('the rig no longer holds OIII');
    expect(wrapper.find('[data-test="verdict"]').text()).toContain('Seed 1');
    expect(button(wrapper, 'Rehearse again').classes()).not.toContain('ant-btn-loading');
  });
  test('on a practice rig it can be counted, once; then its focus runs and the project are one step away', async () => {
    const counted = { ...one, state: 'accepted' as const };
    const answers = [
      { method: 'POST', path: /accept/, body: counted },
      { path: /runs\//, body: one },
    ];
    const { wrapper, sent } = await open({ plans: [withRun(one)], answers });
    await press(wrapper, 'Accept: count its frames');
    expect(sent.filter((s) => s.method === 'POST').map((s) => s.path)).toEqual([`/api/runs/${one.id}/accept`]);
    expect(wrapper.text()).toContain(`Read its ${one.result.focusRuns.length} focus runs`);
    expect(wrapper.findAll('button').some((b) => b.text().startsWith('Accept'))).toBe(false);
  });
  test('on a real rig it never counts: the morning’s frames do', async () => {
    const { wrapper } = await open({ rigs: [real()], plans: [withRun(one)], answers: [{ path: /runs\//, body: one }] });
    expect(wrapper.text()).toContain('A rehearsal never counts for a real rig');
    expect(wrapper.findAll('button').some((b) => b.text().startsWith('Accept'))).toBe(false);
  });
  test('another’s plan is read, not run; a done one is not run again', async () => {
    const theirs = { ...withRun(one), ownerId: id(9) };
    const answers = [{ path: /runs\//, body: one }];
    const member = await open({ plans: [theirs], member: { role: 'member', clubKind: 'club' }, answers });
    expect(member.wrapper.findAll('button').some((b) => /Rehearse|Accept/.test(b.text()))).toBe(false);
    const done = await open({ plans: [{ ...withRun(one), status: 'done' }], answers });
    expect(done.wrapper.findAll('button').some((b) => /Rehearse|Accept/.test(b.text()))).toBe(false);
  });
  test('the first answer, come after the second plan was chosen, is dropped', async () => {
    const held: ((r: RunRecord) => void)[] = [];
    const other = { ...withRun(two), id: id(61), night: '2026-11-18', projectName: 'the other' };
    const at = await open({ plans: [other, withRun(one)], answers: [] });
    globalThis.fetch = jest.fn(
      (path: string) =>
        new Promise((done) => {
          const answer = (r: unknown) => done({ ok: true, status: 200, json: async () => r } as never);
          if (path.includes('/runs/')) held.push(answer);
          else answer([]);
        }),
    ) as never;
    const lists = () => at.wrapper.findAll('nav.list button');
    await lists()[1]!.trigger('click');
    await lists()[0]!.trigger('click');
    held[1]?.(lists()[0]!.classes('here') ? one : two);
    held[0]?.(two);
    for (let i = 0; i < 4; i++) await flushPromises();
    const shown = at.wrapper.find('[data-test="verdict"]').text();
    expect(held.length).toBe(2);
    expect(shown).toContain('Seed 1');
  });
});

describe('what came of it', () => {
  const results = async (run: RunRecord, done: number[] = []) =>
    (
      await mountScreen(RunResults as never, {
        props: { run, plan: plan(), projects: [{ ...record, done }], timeZone: 'UTC' },
      })
    ).wrapper;
  const table = (w: Awaited<ReturnType<typeof results>>) =>
    w.findAll('[data-test="came"] tbody tr').map((r) => r.findAll('td.num').map((c) => Number(c.text())));
  test('counts good and refused frames by filter, and what is wanted still', async () => {
    for (const [i, [good, bad, left]] of table(await results(one)).entries()) {
      const frames = one.result.frames.filter((f) => f.filter === goals[i]!.filter);
      expect(good).toBe(frames.filter((f) => f.accepted).length);
      expect(good! + bad!).toBe(frames.length);
      expect(left).toBe(Math.max(0, 12 - good!));
    }
  });
  test('a counted run’s frames are not added twice to what the project has', async () => {
    const good = one.result.frames.filter((f) => f.filter === 'Ha' && f.accepted).length;
    const [[, , before]] = table(await results(one, [3])) as [number[]];
    const [[, , after]] = table(await results({ ...one, state: 'accepted' }, [3 + good])) as [number[]];
    expect([before, after]).toEqual([Math.max(0, 9 - good), Math.max(0, 9 - good)]);
  });
  test('every minute is accounted for', async () => {
    const w = await results(one);
    const minutes = w
      .findAll('.results table')[1]!
      .findAll('td.num')
      .map((c) => parseInt(c.text(), 10));
    const all = Object.values(one.result.lostS).reduce((s, x) => s + x, one.result.openShutterS) / 60;
    // each figure is rounded to a minute
    expect(Math.abs(minutes.reduce((s, x) => s + x, 0) - all)).toBeLessThanOrEqual(minutes.length / 2);
  });
  test('a refused frame says why beside it', async () => {
    const spoilt = {
      ...one,
      result: {
        ...one.result,
        frames: one.result.frames.slice(0, 2).map((f, i) => (i ? { ...f, accepted: false, reason: 'wide stars' } : f)),
      },
    };
    const rows = (await results(spoilt)).findAll('tr.ant-table-row').map((r) => r.findAll('td').at(-1)!.text());
    expect(rows).toEqual(['–', 'wide stars']);
  });
});
