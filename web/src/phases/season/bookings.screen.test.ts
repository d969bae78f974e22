import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { BookingRecord, MemberInfo } from '@keen/contract';
import { USUAL_SHARING } from '@keen/core/booking';
import { phrase } from '@keen/core/phrases';
import { flushPromises } from '@vue/test-utils';
import { me, mountScreen, project, rig } from '../../test/mountScreen.ts';
import { button, press } from '../../test/userActions.ts';
import { serverState } from '../../api/serverState.ts';
import HoursOver from '../../common/HoursOver.vue';
import HoursTonight from '../../common/HoursTonight.vue';
import BookingsView from './BookingsView.vue';
import LedgerView from './LedgerView.vue';

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const OTHER = id(7);
const stamps = { version: 1, updatedAt: '2026-11-01T12:00:00.000Z', updatedBy: '' };
const booking = (n: number, more: Partial<BookingRecord> = {}): BookingRecord => ({
  id: id(n),
  rigId: rig().id,
  night: '2026-11-19',
  start: '2026-11-19T20:00:00.000Z',
  end: '2026-11-19T23:00:00.000Z',
  memberId: OTHER,
  member: 'Ida Holm',
  projectId: project().id,
  object: 'M 31',
  origin: 'rules',
  state: 'held',
  note: '',
  answer: '',
  madeBy: 'Ida Holm',
  madeAt: '2026-11-01T12:00:00.000Z',
  decidedBy: '',
  outcome: null,
  outcomeBy: '',
  planId: null,
  ...stamps,
  ...more,
});
const mine = { memberId: id(1), member: 'Noor Vik' };
const sharing = (more: object = {}) => [{ rigId: rig().id, ...USUAL_SHARING, ...stamps, ...more }];
const club: Partial<MemberInfo> = { clubKind: 'club' };
type More = { method?: string; path: RegExp; status?: number; body: unknown }[];
async function open(list: BookingRecord[], member: Partial<MemberInfo> = club, more: More = [], view = BookingsView) {
  const at = await mountScreen(view as never, {
    member: me(member),
    projects: [project()],
    answers: [
      ...more,
      { path: /api\/bookings/, body: list },
      { path: /api\/sharing/, body: sharing() },
      {
        path: /season\/rules/,
        body: { fairDays: 90, cloudShare: 0, sentence: phrase('season.rule-fair', { fairDays: 90 }) },
      },
      { path: /api\/ledger/, body: [] },
      { path: /absences/, body: [] },
    ],
  });
  await flushPromises();
  await flushPromises();
  return at;
}
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
  jest.spyOn(Date, 'now').mockReturnValue(Date.parse('2026-11-19T18:00:00Z'));
});

afterEach(() => void jest.restoreAllMocks());

describe('bookings', () => {
  test('one’s next hours come first; whose each night is, and tonight without a plan is a caution', async () => {
    const { wrapper } = await open([
      booking(20),
      booking(21, { ...mine, night: '2026-11-20', start: '2026-11-20T20:00:00.000Z', end: '2026-11-20T22:00:00.000Z' }),
    ]);
    expect(wrapper.text()).toContain('Your next hours: 20 Nov');
    expect(wrapper.text()).toContain('Tonight’s hours have no plan yet');
    const night = wrapper.find('[data-test="booking-night"]');
    expect(night.text()).toContain('Ida Holm, M 31');
    expect(night.text()).toContain('by the rules');
    const tonight = wrapper.find('[data-night="2026-11-19"]');
    expect(tonight.attributes('aria-label')).toContain('Ida Holm');
    await wrapper.find('[data-night="2026-11-20"]').trigger('click');
    expect(wrapper.find('[data-test="booking-night"]').text()).toContain('you, M 31');
  });
  test('hours that somebody has can be waited for, with what was typed', async () => {
    const refused = {
      type: 'about:blank',
      code: 'night_overlap',
      title: 'taken',
      detail: 'Ida Holm has this rig.',
      status: 409,
    };
    const { wrapper, sent } = await open([booking(20)], { ...club, role: 'member' }, [
      { method: 'POST', path: /api\/bookings/, status: 409, body: refused },
    ]);
    await wrapper.find('input[aria-label="A word to the others"]').setValue('first light');
    await press(wrapper, 'Second half');
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(wrapper.find('[role="alert"]').text()).toBe('Ida Holm has this rig.');
    await press(wrapper, 'Wait for them');
    const posts = sent.filter((s) => s.method === 'POST');
    expect(posts.map((s) => (s.body as { wait: boolean }).wait)).toEqual([false, true]);
    expect(posts[1]!.body).toMatchObject({ note: 'first light', night: '2026-11-19', rigId: rig().id });
    const { start, end } = posts[1]!.body as { start: string; end: string };
    expect(Date.parse(end)).toBeGreaterThan(Date.parse(start));
  });
  test('a steward agrees or declines with a word; a member does neither, and gives back only their own', async () => {
    const asked = booking(20, { state: 'asked' });
    const steward = await open([asked], club, [{ method: 'PUT', path: /decision/, body: asked }]);
    await steward.wrapper.find('input[aria-label="What is said to Ida Holm"]').setValue('painting');
    await press(steward.wrapper, 'Decline');
    expect(steward.sent.find((s) => s.method === 'PUT')!.body).toEqual({ approved: false, answer: 'painting' });
    steward.wrapper.unmount();
    const member = await open([asked, booking(21, mine)], { ...club, role: 'member' });
    expect(() => button(member.wrapper, 'Decline')).toThrow();
    const buttons = member.wrapper.findAll('[data-test="booking-night"] button').map((b) => b.text());
    expect(buttons.filter((t) => t === 'Give back' || t === 'Withdraw')).toEqual(['Give back']);
    member.wrapper.unmount();
    const guest = await open([asked], { ...club, role: 'guest' });
    expect(guest.wrapper.find('form').exists()).toBe(false);
  });
  test('on a weekday that goes by the rules a member books nothing; how a rig is shared is the steward’s', async () => {
    const queue = { path: /api\/sharing/, body: sharing({ ways: USUAL_SHARING.ways.map(() => 'queue') }) };
    const member = await open([], { ...club, role: 'member' }, [queue]);
    expect(member.wrapper.text()).toContain('they are not booked');
    expect(() => button(member.wrapper, 'Book')).toThrow();
    expect(member.wrapper.find('[data-test="sharing"]').exists()).toBe(false);
    member.wrapper.unmount();
    const { wrapper, sent } = await open([], club, [{ method: 'PUT', path: /sharing/, body: sharing()[0] }]);
    const form = wrapper.find('[data-test="sharing"]');
    expect(button(wrapper, 'Save')!.attributes('disabled')).toBeDefined();
    await form.findAll('button[role="switch"]')[0]!.trigger('click');
    await press(wrapper, 'Save');
    expect(sent.find((s) => s.method === 'PUT')!.body).toMatchObject({ approval: true, version: 1 });
  });
  test('in the middle of the night what is offered begins now; after dawn nothing is', async () => {
    jest.spyOn(Date, 'now').mockReturnValue(Date.parse('2026-11-20T00:30:10Z'));
    const { wrapper } = await open([], { ...club, role: 'member' });
    const from = () => wrapper.findAll<HTMLInputElement>('form input.mono')[0]!.element.value;
    expect(from()).toBe('01:31');
    wrapper.unmount();
    jest.spyOn(Date, 'now').mockReturnValue(Date.parse('2026-11-20T07:00:00Z'));
    const late = await open([], { ...club, role: 'member' });
    expect(late.wrapper.find('[data-test="booking-night"]').text()).toContain('The dark of this night has passed');
  });
  test('what was refused is forgotten with the hours it was about, and what a steward changes stays through news', async () => {
    const refused = {
      type: 'about:blank',
      code: 'night_overlap',
      title: 'taken',
      detail: 'Ida Holm has this rig.',
      status: 409,
    };
    const { wrapper } = await open([], club, [{ method: 'POST', path: /api\/bookings/, status: 409, body: refused }]);
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(wrapper.text()).toContain('Ida Holm has this rig.');
    const sharingForm = wrapper.find('[data-test="sharing"]');
    await sharingForm.findAll('button[role="switch"]')[0]!.trigger('click');
    await wrapper.find('[data-night="2026-11-21"]').trigger('click');
    expect(wrapper.text()).not.toContain('Ida Holm has this rig.');
    expect(() => button(wrapper, 'Wait for them')).toThrow();
    await serverState.invalidateQueries({ queryKey: ['sharing'] });
    await flushPromises();
    expect(sharingForm.findAll('button[role="switch"]')[0]!.attributes('aria-checked')).toBe('true');
  });
  test('alone it is kept hours, without rules for others', async () => {
    const { wrapper } = await open([booking(20, mine)], {});
    expect(wrapper.find('[data-test="sharing"]').exists()).toBe(false);
    expect(wrapper.find('[data-test="booking-night"]').text()).not.toContain('by calendar');
  });
});

describe('tonight’s hours, and those that are over', () => {
  test('one press makes tonight’s plan; of others’ hours only a steward does', async () => {
    const made = { planId: id(60), left: [] };
    const { wrapper, sent } = await open(
      [booking(20)],
      club,
      [
        { method: 'POST', path: /season\/plans/, body: made },
        { path: /api\/plans/, body: [] },
      ],
      HoursTonight as never,
    );
    expect(wrapper.text()).toContain('M 31');
    await press(wrapper, 'Make tonight’s plan');
    expect(sent.find((s) => s.method === 'POST')!.body).toEqual({ rigId: rig().id, night: '2026-11-19' });
    wrapper.unmount();
    const member = await open([booking(20)], { ...club, role: 'member' }, [], HoursTonight as never);
    expect(() => button(member.wrapper, 'Make tonight’s plan')).toThrow();
    member.wrapper.unmount();
    const planned = await open([booking(20, { planId: id(60) })], club, [], HoursTonight as never);
    expect(planned.wrapper.text()).toContain('planned');
    expect(() => button(planned.wrapper, 'Make tonight’s plan')).toThrow();
  });
  test('what came of them is said by one press each, once', async () => {
    const over = { ...mine, night: '2026-11-18', start: '2026-11-18T20:00:00.000Z', end: '2026-11-18T23:00:00.000Z' };
    const { wrapper, sent } = await open(
      [booking(20, over), booking(21, { ...over, outcome: 'used' }), booking(22, { ...over, memberId: OTHER })],
      { ...club, role: 'member' },
      [{ method: 'PUT', path: /outcome/, body: booking(20, { ...over, outcome: 'clouded' }) }],
      HoursOver as never,
    );
    expect(wrapper.findAll('.row')).toHaveLength(1);
    await press(wrapper, /^Clouded/);
    expect(sent.find((s) => s.method === 'PUT')).toMatchObject({
      path: `/api/bookings/${id(20)}/outcome`,
      body: { outcome: 'clouded' },
    });
  });
});

describe('the ledger', () => {
  test('sums what was promised and what came; the rule is a sentence, and the steward’s to change', async () => {
    const line = {
      memberId: OTHER,
      member: 'Ida Holm',
      projectId: project().id,
      object: 'M 31',
      month: '2026-11',
      asked: 0,
      promised: 180,
      taken: 90,
      counted: 60,
      clouded: 90,
    };
    const changed = { fairDays: null, cloudShare: 0, sentence: phrase('season.rule-open') };
    const { wrapper, sent } = await open(
      [],
      club,
      [
        { path: /ledger/, body: [line] },
        { method: 'PUT', path: /rules/, body: changed },
      ],
      LedgerView as never,
    );
    expect(wrapper.text()).toMatch(
      /3.0.h promised, over or to come, 1.5.h with the shutter open, 1.0.h counted, 1.5.h lost to cloud/,
    );
    expect(wrapper.text()).toContain('Ida Holm');
    await wrapper.find('[data-test="rule"] button[role="switch"]').trigger('click');
    await press(wrapper, 'Save the rule');
    expect(sent.find((s) => s.method === 'PUT')!.body).toEqual({ fairDays: null, cloudShare: 0 });
    await flushPromises();
    expect(wrapper.find('[data-test="rule"]').text()).toContain('there are no shares');
    wrapper.unmount();
    const member = await open([], { ...club, role: 'member' }, [{ path: /ledger/, body: [line] }], LedgerView as never);
    expect(() => button(member.wrapper, 'Save the rule')).toThrow();
    expect(member.wrapper.text()).not.toContain('Ida Holm');
  });
});

describe('when one is away', () => {
  const calendar = [
    'BEGIN:VCALENDAR',
    'BEGIN:VEVENT',
    'UID:1',
    'SUMMARY:Family',
    'DTSTART;VALUE=DATE:20261224',
    'DTEND;VALUE=DATE:20261227',
    'END:VEVENT',
    'BEGIN:VEVENT',
    'UID:2',
    'DTSTART;VALUE=DATE:20261224',
    'TRANSP:TRANSPARENT',
    'END:VEVENT',
    'END:VCALENDAR',
  ].join('\r\n');
  const drop = async (wrapper: Awaited<ReturnType<typeof open>>['wrapper'], text: string) => {
    const field = wrapper.find<HTMLInputElement>('[data-test="calendar"]');
    const file = Object.assign(new File([text], 'away.ics'), { text: async () => text });
    Object.defineProperty(field.element, 'files', { value: [file], configurable: true });
    await field.trigger('change');
    for (let i = 0; i < 20; i++) await flushPromises();
  };
  test('nights are read from a calendar beside those there are, told, and kept', async () => {
    const there = { from: '2026-12-01', until: '2026-12-02', title: 'Fair' };
    const away = { from: '2026-12-24', until: '2026-12-26', title: 'Family' };
    const { wrapper, sent } = await open([], { ...club, role: 'member' }, [
      { path: /absences/, body: [there] },
      { method: 'PUT', path: /absences/, body: [there, away] },
    ]);
    await drop(wrapper, calendar);
    const panel = wrapper.find('[data-test="absences"]');
    expect(panel.find('[role="status"]').text()).toMatch(/away\.ics: 1 absence taken, to be kept, 1 event passed over/);
    await drop(wrapper, 'no calendar');
    expect(panel.find('[role="alert"]').text()).toMatch(/away\.ics: This is no calendar/);
    // what was read before is not lost by it
    await press(wrapper, 'Keep');
    expect(sent.find((s) => s.method === 'PUT')!.body).toEqual({ absences: [there, away] });
  });
  test('alone, and of a guest, it is not asked', async () => {
    for (const member of [{}, { ...club, role: 'guest' as const }]) {
      const { wrapper } = await open([], member);
      expect(wrapper.find('[data-test="absences"]').exists()).toBe(false);
      wrapper.unmount();
    }
  });
});
