import { beforeEach, describe, expect, test } from '@jest/globals';
import {
  USUAL_SETTINGS,
  type CountRecord,
  type HandoverRecord,
  type PartRecord,
  type UpkeepRecord,
} from '@keen/contract';
import { flushPromises } from '@vue/test-utils';
import RigHands from '../../common/RigHands.vue';
import { dueWords, oftenWords } from '../../common/upkeepWords.ts';
import { useSession } from '../../stores/session.ts';
import { useUnits } from '../../stores/units.ts';
import { me, mountScreen, rig, sent } from '../../test/mountScreen.ts';
import { press } from '../../test/userActions.ts';
import CountPanel from './CountPanel.vue';
import SettingsView from './SettingsView.vue';
import UpkeepView from './UpkeepView.vue';

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const stamps = { version: 1, updatedAt: '2026-11-01T12:00:00.000Z', updatedBy: 'Noor Vik' };
const upkeep = (n: number, more: Partial<UpkeepRecord> = {}): UpkeepRecord => ({
  id: id(n),
  rigId: rig().id,
  rig: 'rig 3',
  what: `work ${n}`,
  everyDays: 90,
  everyNights: null,
  note: '',
  since: '2026-09-01',
  doneBy: '',
  nights: 4,
  due: { state: 'later', date: '2026-11-30', nightsLeft: null },
  done: [],
  ...stamps,
  ...more,
});
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

test.each([
  [{ state: 'later', date: '2027-01-05', nightsLeft: null }, 'due on 5 Jan 2027'],
  [{ state: 'soon', date: null, nightsLeft: 1 }, 'due after 1 night more'],
  [{ state: 'soon', date: '2027-01-05', nightsLeft: 3 }, 'due on 5 Jan 2027 or after 3 nights more'],
  [{ state: 'over', date: '2027-01-05', nightsLeft: 56 }, 'due now (since 5 Jan 2027)'],
  [{ state: 'over', date: null, nightsLeft: 0 }, 'due now (its nights are over)'],
  [{ state: 'over', date: null, nightsLeft: -2 }, 'due now (2 nights over)'],
] as const)('when something is due is said: %j', (due, words) => {
  // the year is named where it is not this one
  expect(dueWords({ due }).replace(/(5 Jan)(?! 2027)/, '$1 2027')).toBe(words);
});
test.each([
  [90, null, 'every 90 days'],
  [null, 1, 'every night of work'],
  [365, 60, 'every 365 days or every 60 nights of work'],
])('how often is said: %p days, %p nights', (everyDays, everyNights, words) => {
  expect(oftenWords({ everyDays, everyNights })).toBe(words);
});

describe('upkeep', () => {
  const over = upkeep(11, { what: 'Grease the worm', due: { state: 'over', date: '2026-11-20', nightsLeft: null } });
  test('what is over is said first; that it was done is sent with its day, and a newer version is not written over', async () => {
    const stale = { code: 'stale', title: 'newer', status: 409, current: { ...over, version: 5 } };
    const { wrapper } = await mountScreen(UpkeepView, {
      member: me({ clubKind: 'club', role: 'member' }),
      answers: [
        { path: /\/api\/upkeep$/, body: [over, upkeep(12)] },
        { method: 'POST', path: /done/, status: 409, body: stale },
      ],
    });
    expect(wrapper.find('[role="status"]').text()).toBe('1 of 2 is due now.');
    await press(wrapper, 'Done');
    await wrapper.find('input[type="date"]').setValue('2026-11-25');
    await wrapper.find('form.said').trigger('submit');
    await flushPromises();
    const post = sent.find((s) => s.method === 'POST')!;
    expect([post.path, post.body]).toEqual([
      `/api/upkeep/${over.id}/done`,
      { day: '2026-11-25', note: '', version: 1 },
    ]);
    expect(wrapper.find('[role="alert"]').text()).toContain('newer');
    await wrapper.find('form.said').trigger('submit');
    await flushPromises();
    expect(sent.filter((s) => s.method === 'POST').at(-1)!.body).toMatchObject({ version: 5, day: '2026-11-25' });
  });
  test('a member does not change what comes again', async () => {
    const { wrapper } = await mountScreen(UpkeepView, {
      member: me({ clubKind: 'club', role: 'member' }),
      answers: [{ path: /\/api\/upkeep$/, body: [over] }],
    });
    expect(wrapper.findAll('button').map((b) => b.text())).not.toContain('Edit');
  });
});

describe('who has the rig', () => {
  const taken: HandoverRecord = {
    id: id(21),
    rigId: rig().id,
    memberId: id(9),
    member: 'Teun',
    takenAt: '2026-11-18T17:00:00.000Z',
    takenInOrder: false,
    takenNote: 'cap lost',
    givenAt: null,
    givenInOrder: null,
    givenNote: '',
  };
  const shown = (body: HandoverRecord[], props = {}) =>
    mountScreen(RigHands, {
      member: me({ clubKind: 'club' }),
      props,
      answers: [
        { path: /\/api\/handovers$/, body },
        { method: 'POST', path: /handover$/, body: { ...taken, memberId: id(1), member: 'Noor Vik' } },
      ],
    });
  test('another has it: as they found it; who takes it over says what is wrong, or that nothing is', async () => {
    const { wrapper } = await shown([taken]);
    expect(wrapper.text()).toMatch(/Teun has rig 3 since .* found not in order: cap lost/);
    await press(wrapper, 'Take it over');
    await wrapper.findAll('input[type="radio"]')[1]!.setValue(true);
    const say = wrapper.find('button[type="submit"]');
    expect(say.attributes('disabled')).toBeDefined();
    await wrapper.find('textarea').setValue('The cap is lost.');
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(sent.find((s) => s.method === 'POST')!.body).toEqual({ inOrder: false, note: 'The cap is lost.' });
  });
  test('one’s own is handed back; where the night is planned it is told only if somebody else has it', async () => {
    const mine = { ...taken, memberId: id(1) };
    expect((await shown([mine])).wrapper.text()).toContain('Hand it back');
    expect((await shown([mine], { quiet: true })).wrapper.find('[data-test="hands"]').exists()).toBe(false);
    expect((await shown([taken], { quiet: true })).wrapper.find('[data-test="hands"]').exists()).toBe(true);
  });
});

test('the drawer is counted part by part; what differs is said at once, what was not counted is not sent', async () => {
  const part = (n: number, count: number) => ({ id: id(n), name: `ring ${n}`, count }) as PartRecord;
  const kept: CountRecord = {
    id: id(40),
    at: '2026-11-20T12:00:00.000Z',
    by: 'Noor Vik',
    note: '',
    rows: [],
    adopted: false,
  };
  const { wrapper } = await mountScreen(CountPanel, {
    props: { parts: [part(31, 2), part(32, 1)] },
    answers: [{ method: 'POST', path: /counts/, body: kept }],
  });
  expect(wrapper.text()).toContain('Nobody has counted it yet.');
  await press(wrapper, 'Count the drawer');
  const [first] = wrapper.findAll('input[role="spinbutton"]');
  await first!.setValue('1');
  await first!.trigger('blur');
  expect(wrapper.text()).toContain('1 missing');
  await wrapper.find('form').trigger('submit');
  await flushPromises();
  expect(sent.find((s) => s.method === 'POST')!.body).toEqual({ found: [{ partId: id(31), count: 1 }], note: '' });
});

describe('what everybody begins with', () => {
  test('a steward’s word is sent whole and holds at once, for units too where nobody chose their own', async () => {
    const now = { ...USUAL_SETTINGS, units: 'imperial' as const };
    const { wrapper } = await mountScreen(SettingsView, {
      answers: [{ method: 'PUT', path: /club\/settings/, body: now }],
    });
    const save = () => wrapper.findAll('button').find((b) => b.text() === 'Save')!;
    expect(save().attributes('disabled')).toBeDefined();
    const altitude = wrapper.findAll('input').find((i) => (i.element as HTMLInputElement).value === '30')!;
    await altitude.setValue('25');
    await altitude.trigger('blur');
    await save().trigger('click');
    await flushPromises();
    expect(sent.find((s) => s.method === 'PUT')!.body).toEqual({ ...USUAL_SETTINGS, lowestAltitudeDeg: 25 });
    expect(useSession().settings.units).toBe('imperial');
    const units = useUnits();
    expect(units.system).toBe('imperial');
    units.change();
    expect(units.system).toBe('metric');
  });
  test('a member reads it', async () => {
    const { wrapper } = await mountScreen(SettingsView, { member: me({ clubKind: 'club', role: 'member' }) });
    expect(wrapper.findAll('button').map((b) => b.text())).not.toContain('Save');
  });
});
