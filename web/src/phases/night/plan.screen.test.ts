import { beforeEach, describe, expect, test } from '@jest/globals';
import type { OffsetSetRecord, PlanRecord } from '@keen/contract';
import { flushPromises } from '@vue/test-utils';
import { ownWorker } from '../../test/ownWorker.ts';
import { mountScreen, me, project, rig, sent } from '../../test/mountScreen.ts';
import PlanView from './PlanView.vue';
import RunView from './RunView.vue';
import { firstSettings } from '@keen/core/sequence';
import { planOf } from '../../test/plan.ts';

// the night's own sky is worked out for real; the catalogue is not gone through
await ownWorker({ tonight: async () => ({ objects: [], scanned: 0, tookMs: 0 }) });

const EVENING = Date.parse('2026-11-19T14:00:00Z');
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const goals = [
  { filter: 'Ha', exposureS: 300, quota: 40 },
  { filter: 'OIII', exposureS: 300, quota: 40 },
];
const offsets = {
  id: id(70),
  offsets: { Ha: { steps: 40, error: 1, runs: 6 }, OIII: { steps: 52, error: 1, runs: 6 } },
  zoneSteps: 40,
  temperatureStepsPerC: -8,
  runCount: 12,
} as unknown as OffsetSetRecord;
const planned = (more: Partial<PlanRecord> = {}): PlanRecord => {
  const p = project({ goals });
  const madeFor = { aspects: rig().systems[0]!.aspects, offsetSetId: offsets.id, revision: 1 };
  return planOf(p, firstSettings(p, offsets), { madeFor, ...more });
};
const quiet = [{ path: /\/api\/(plans|runs|dusk|offset-sets)/, body: [] }];
async function look(
  options: {
    plans?: PlanRecord[];
    known?: OffsetSetRecord | null;
    member?: Parameters<typeof me>[0];
    view?: typeof PlanView;
  } = {},
) {
  const at = await mountScreen(options.view ?? PlanView, {
    projects: [project({ goals })],
    answers: [
      { method: 'PUT', path: /plans/, body: planned({ version: 4 }) },
      { method: 'POST', path: /plans/, body: planned({ version: 1 }) },
      ...quiet,
    ],
    member: me(options.member),
  });
  at.club.now = EVENING;
  at.club.plans = options.plans ?? [];
  at.club.offsetSets = options.known === null ? [] : [options.known ?? offsets];
  await flushPromises();
  await flushPromises();
  const button = (text: string) => at.wrapper.findAll('button').find((b) => b.text() === text);
  return { ...at, button };
}

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('a plan', () => {
  test('is proposed for the dark hours, and saved as it stands', async () => {
    const { wrapper, button } = await look();
    expect(wrapper.find('[data-test="verdict"]').text()).toMatch(/\d+ frames \(Ha \d+, OIII \d+\)/);
    await button('Save')!.trigger('click');
    await flushPromises();
    const made = sent.find((s) => s.method === 'POST' && s.path.includes('plans'))!.body as PlanRecord;
    const [leg] = made.legs;
    expect(leg!.settings.filters.map((f) => f.name)).toEqual(['Ha', 'OIII']);
    expect(leg!.settings.focus.policy).toBe('offsets');
    const at = (b: PlanRecord['legs'][number]['from']) => (b.by === 'clock' ? Date.parse(b.at) : NaN);
    expect(at(leg!.until)).toBeGreaterThan(at(leg!.from));
    // nobody else has the rig tonight: it is opened and closed too
    expect(made.opening.map((s) => s.step)).toEqual(['connect', 'cool', 'home', 'focus', 'solve']);
    expect(made.closing.map((s) => s.step)).toEqual(['park', 'warm', 'disconnect']);
  });
  test('without offsets focuses on every change, and says what that costs', async () => {
    const { wrapper } = await look({ known: null });
    expect(wrapper.text()).not.toContain('nothing would be in focus');
    expect(wrapper.find('[data-test="verdict"]').text()).toMatch(/frames/);
  });
  test('that focuses by offsets nobody adopted is an error before the night, with its cure', async () => {
    const { wrapper } = await look({ plans: [planned()], known: null });
    expect(wrapper.find('[data-test="verdict"]').text()).toContain('No offsets are adopted for amber-heron');
  });
});

describe('a plan of an earlier state of the rig', () => {
  const was = { ...rig().systems[0]!.aspects, focus: 'another', framing: 'another' };
  const old = planned({ madeFor: { aspects: was, offsetSetId: offsets.id, revision: 1 } });
  test('says what no longer holds, and can be saved again for the rig as it is', async () => {
    const { wrapper, button } = await look({ plans: [old] });
    const text = wrapper.find('[data-test="stale"]').text();
    expect(text).toContain('the offsets it was made with no longer hold');
    expect(text).toContain('look at the framing again');
    await button('Save')!.trigger('click');
    await flushPromises();
    expect(sent.find((s) => s.method === 'PUT')!.body).toMatchObject({
      version: 3,
      legs: [{ projectId: project().id }],
    });
  });
  test('is told on the run’s page too, and not of one that holds or is done', async () => {
    const seen = async (p: PlanRecord) =>
      (await look({ plans: [p], view: RunView as never })).wrapper.find('[data-test="stale"]');
    expect((await seen(old)).text()).toContain('no longer hold');
    expect((await seen(planned())).exists()).toBe(false);
    expect((await seen({ ...old, status: 'done' })).exists()).toBe(false);
  });
  test('one from before this was kept claims nothing', async () => {
    const { wrapper } = await look({ plans: [planned({ madeFor: null })] });
    expect(wrapper.find('[data-test="stale"]').exists()).toBe(false);
  });
});

describe('who may change it', () => {
  test('a member finds a plan that a steward locked closed, with who locked it', async () => {
    const { wrapper, button } = await look({
      plans: [planned({ locked: true, updatedBy: 'Odalys Brandt' })],
      member: { role: 'member' },
    });
    expect(wrapper.text()).toContain('Locked by Odalys Brandt, a steward');
    expect(button('Cancel this plan')).toBeUndefined();
  });
  test('another’s plan stays another’s, a guest only looks', async () => {
    const theirs = planned({ ownerId: id(9), owner: 'Teun Achterberg' });
    const member = await look({ plans: [theirs], member: { role: 'member' } });
    expect(member.wrapper.text()).toContain('Teun Achterberg’s plan; only the owner or a steward may change it');
    const guest = await look({ plans: [theirs], member: { role: 'guest' } });
    expect(guest.wrapper.text()).toContain('Guests may look, not change');
    expect(guest.button('Compare with another way')).toBeUndefined();
  });
});
