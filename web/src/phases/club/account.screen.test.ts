import { beforeEach, describe, expect, test } from '@jest/globals';
import { flushPromises } from '@vue/test-utils';
import { field, press, pressOutside, type } from '../../test/userActions.ts';
import { mountScreen, me } from '../../test/mountScreen.ts';
import AccountView from './AccountView.vue';
import InvitePanel from './InvitePanel.vue';
import JoinView from './JoinView.vue';
import SecondFactor from './SecondFactor.vue';
import SecurityView from './SecurityView.vue';
import SignIn from './SignIn.vue';

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});
const refusal = (status: number, code: string, detail?: string) => ({
  type: 'x',
  title: code,
  status,
  code,
  ...(detail ? { detail } : {}),
});
const info = (more: object = {}) => ({
  member: null,
  csrfToken: 't',
  mayBegin: true,
  local: true,
  mayRestoreDemo: false,
  settings: null,
  demo: null,
  ...more,
});
const alert = (w: { find: (s: string) => { text: () => string } }) => w.find('[role="alert"]').text();

describe('one’s own password', () => {
  test('a short one is told before it is sent, a wrong present one is said, and what was typed stays', async () => {
    const answers = [
      {
        method: 'PUT',
        path: /password/,
        status: 401,
        body: refusal(401, 'wrong_password', 'The present password is another one.'),
      },
    ];
    const { wrapper, sent } = await mountScreen(AccountView, { answers });
    await type(wrapper, 'Present password', 'what it was');
    await type(wrapper, 'New password', 'short');
    await wrapper.find('form').trigger('submit');
    expect(alert(wrapper)).toMatch(/at least 10 characters/);
    expect(sent.some((r) => r.method === 'PUT')).toBe(false);
    await type(wrapper, 'New password', 'long enough now');
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(sent.find((r) => r.method === 'PUT')!.body).toEqual({ current: 'what it was', next: 'long enough now' });
    expect(alert(wrapper)).toContain('The present password is another one');
    expect(field(wrapper, 'New password').element.value).toBe('long enough now');
  });
  test('the demo’s are public: nothing to change, sessions all the same', async () => {
    const { wrapper } = await mountScreen(AccountView, { member: me({ demo: true }) });
    expect(wrapper.text()).toContain('public and stay as they are');
    expect(wrapper.findAll('h2').map((h) => h.text())).toEqual([
      'Noor Vik',
      'Where you are signed in',
      'Records as a file',
    ]);
    // everybody’s own; the whole club is for its stewards
    const files = wrapper.findAll('[data-test="archive"] a').map((a) => a.attributes('href'));
    expect(files).toEqual(['/api/session/archive', '/api/club/archive']);
  });
});

describe('one’s sessions', () => {
  const session = (n: number, more: object = {}) => ({
    id: `00000000-0000-4000-8000-00000000000${n}`,
    here: false,
    device: 'phone',
    address: '192.0.2.7',
    begunAt: '2026-11-20T20:00:00.000Z',
    seenAt: null,
    ...more,
  });
  test('this one has no button; another is ended by its own, and the list is read again', async () => {
    const list = [session(1, { here: true, device: 'computer' }), session(2)];
    const answers = [
      { path: /session\/all/, body: list },
      { method: 'DELETE', path: /session\/all/, body: { ok: true } },
    ];
    const { wrapper, sent } = await mountScreen(AccountView, { answers });
    expect(wrapper.findAll('button').filter((b) => b.text() === 'Sign out')).toHaveLength(1);
    answers[0]!.body = [list[0]!] as never;
    await press(wrapper, 'Sign out');
    expect(sent.find((r) => r.method === 'DELETE')!.path).toContain('000000000002');
    expect(wrapper.text()).not.toContain('A phone');
  });
  test('several others go at once', async () => {
    const answers = [
      { path: /session\/all/, body: [session(1, { here: true }), session(2), session(3)] },
      { method: 'DELETE', path: /others/, body: { ok: true } },
    ];
    const { wrapper, sent } = await mountScreen(AccountView, { answers });
    await press(wrapper, 'Sign out all others');
    expect(sent.some((r) => r.method === 'DELETE' && r.path.endsWith('/others'))).toBe(true);
  });
});

describe('the second factor', () => {
  test('key to scan, first code, recovery codes once', async () => {
    const uri = 'otpauth://totp/Keen%20Meridian:noor?secret=JBSWY3DPEHPK3PXP';
    const answers = [
      { method: 'POST', path: /second-factor/, body: { key: 'JBSWY3DPEHPK3PXP', uri } },
      {
        method: 'PUT',
        path: /second-factor/,
        status: 401,
        body: refusal(401, 'wrong_code', 'That is not the code.'),
      } as { method: string; path: RegExp; status?: number; body: unknown },
      { path: /session$/, body: info({ member: me({ secondFactor: true }) }) },
    ];
    const { wrapper, sent } = await mountScreen(SecondFactor, { answers });
    await type(wrapper, 'Present password', 'quiet meadow lantern');
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(wrapper.find('.key').text()).toBe('JBSW Y3DP EHPK 3PXP');
    // version and size follow from the length of what it says; its three corners are there
    const dark = new Set(
      wrapper
        .find('path')
        .attributes('d')!
        .split('M')
        .slice(1)
        .map((m) => m.split('h')[0]!),
    );
    const side = Number(wrapper.find('svg').attributes('viewBox')!.split(' ')[2]);
    for (const [x, y] of [
      [2, 2],
      [side - 9, 2],
      [2, side - 9],
    ])
      for (let i = 0; i < 7; i++) expect(dark).toContain(`${x! + i} ${y}`);
    await type(wrapper, 'The code it shows', '123456');
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(alert(wrapper)).toContain('not the code');
    expect(wrapper.find('.key').exists()).toBe(true);
    answers[1] = { method: 'PUT', path: /second-factor/, body: { recoveryCodes: ['aaaa-bbbb-cccc'] } };
    await type(wrapper, 'The code it shows', '654321');
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(wrapper.find('.codes').text()).toContain('aaaa-bbbb-cccc');
    await press(wrapper, 'I have written them down');
    expect(wrapper.text()).not.toContain('aaaa-bbbb-cccc');
    expect(wrapper.text()).toContain('Turn it off');
    expect(sent.filter((r) => r.method === 'PUT').map((r) => r.body)).toEqual([{ code: '123456' }, { code: '654321' }]);
  });
  test('at the sign-in page: asked for after the password, and nothing has to be typed again', async () => {
    const answers = [{ method: 'POST', path: /session/, status: 401, body: refusal(401, 'code_needed') as object }];
    const { wrapper, sent, session } = await mountScreen(SignIn, { member: null, answers });
    session.info = info() as never;
    await flushPromises();
    await type(wrapper, 'Sign-in name', 'noor');
    await type(wrapper, 'Password', 'quiet meadow lantern');
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(wrapper.find('[role="alert"]').exists()).toBe(false);
    answers[0]!.body = refusal(401, 'wrong_code', 'The code is wrong or was used before');
    await type(wrapper, 'Code from your device', '111 222');
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(sent.at(-1)!.body).toEqual({ signIn: 'noor', password: 'quiet meadow lantern', code: '111 222' });
    expect(alert(wrapper)).toContain('used before');
    expect(field(wrapper, 'Code from your device').element.value).toBe('');
  });
});

describe('invitations', () => {
  const invitation = {
    id: '00000000-0000-4000-8000-000000000031',
    name: 'Teun',
    role: 'guest',
    by: 'Noor Vik',
    expiresAt: '2026-11-27T20:00:00.000Z',
  };
  test('the link is shown once, those that wait are listed and withdrawn', async () => {
    const answers = [
      { path: /invitations/, body: [] as object[] },
      { method: 'POST', path: /invitations/, body: { invitation, token: 'a'.repeat(32) } },
      { method: 'DELETE', path: /invitations/, body: { ok: true } },
    ];
    const { wrapper, sent } = await mountScreen(InvitePanel, { answers });
    await type(wrapper, 'Name, if you like', 'Teun');
    answers[0]!.body = [invitation];
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(wrapper.find<HTMLInputElement>('[data-test="link"] input').element.value).toBe(
      `http://localhost/join#${'a'.repeat(32)}`,
    );
    expect(sent.find((r) => r.method === 'POST')!.body).toEqual({ name: 'Teun', role: 'member' });
    expect(wrapper.text()).toContain('Teun as guest, invited by Noor Vik');
    await press(wrapper, 'Withdraw');
    expect(sent.find((r) => r.method === 'DELETE')!.path).toContain(invitation.id);
  });
  test('who follows it sees who invites, and chooses a name and a password', async () => {
    const answers = [
      {
        method: 'POST',
        path: /join\/look/,
        body: { club: 'Larch Hill', name: 'Teun', role: 'guest', by: 'Noor Vik', expiresAt: invitation.expiresAt },
      },
      {
        method: 'POST',
        path: /join$/,
        status: 400,
        body: refusal(400, 'invalid_input', 'That password is one that guessers try first.') as object,
      },
    ];
    const { wrapper, sent, router } = await mountScreen(JoinView, {
      member: null,
      at: `/join#${'a'.repeat(32)}`,
      answers,
    });
    await flushPromises();
    expect(sent.find((r) => r.method === 'POST')).toMatchObject({
      path: '/api/join/look',
      body: { token: 'a'.repeat(32) },
    });
    expect(wrapper.text()).toContain('Noor Vik invites you as guest');
    expect(field(wrapper, 'Your name').element.value).toBe('Teun');
    await type(wrapper, 'Sign-in name', 'teun');
    await type(wrapper, 'Password', 'password12');
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(alert(wrapper)).toContain('guessers try first');
    answers[1] = { method: 'POST', path: /join$/, body: info({ member: me() }) } as never;
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(router.currentRoute.value.path).toBe('/');
  });
  test('a link that does not hold, and half a link, say so', async () => {
    const spent = [
      { method: 'POST', path: /look/, status: 404, body: refusal(404, 'bad_invitation', 'The invitation was used.') },
    ];
    const used = await mountScreen(JoinView, { member: null, at: '/join#abc', answers: spent });
    await flushPromises();
    expect(alert(used.wrapper)).toContain('was used');
    const half = await mountScreen(JoinView, {
      member: null,
      at: '/join#abc',
      answers: [{ method: 'POST', path: /look/, status: 400, body: refusal(400, 'invalid_input', 'token: …') }],
    });
    await flushPromises();
    expect(alert(half.wrapper)).toContain('copy all of the link');
  });
});

describe('the security log', () => {
  const event = (n: number, more: object) => ({
    id: `00000000-0000-4000-8000-0000000000${10 + n}`,
    at: `2026-11-20T20:00:${10 + n}.000Z`,
    kind: 'signed_in',
    count: 1,
    person: 'Teun Aster',
    by: '',
    address: '192.0.2.7',
    detail: '',
    ...more,
  });
  test('says what happened in words, marks what a steward should look at, and fetches older ones', async () => {
    const events = [
      event(1, { kind: 'wrong_password', count: 9 }),
      event(2, { kind: 'wrong_password', person: '' }),
      event(3, { kind: 'role_changed', by: 'Noor Vik', detail: 'member → guest' }),
      event(4, { kind: 'factor_off' }),
    ];
    const answers = [
      {
        path: /security\?before/,
        body: { events: [event(5, { kind: 'refused', detail: 'Add a member' })], more: false },
      },
      { path: /security/, body: { events, more: true } },
    ];
    const { wrapper, sent } = await mountScreen(SecurityView, { answers });
    await flushPromises();
    for (const words of ['sign-in under a name nobody has', 'role member → guest by Noor Vik', 'second factor off'])
      expect(wrapper.text()).toContain(words);
    expect(wrapper.findAll('.level-caution').map((e) => e.text())).toEqual(['wrong password', 'second factor off']);
    await press(wrapper, 'Older ones');
    expect(sent.at(-1)!.path).toContain(encodeURIComponent('2026-11-20T20:00:14.000Z'));
    expect(wrapper.text()).toContain('refused: Add a member');
    expect(wrapper.findAll('button').some((b) => b.text() === 'Older ones')).toBe(false);
  });
});

test('somebody who lost the device is freed after a question', async () => {
  const { default: MembersView } = await import('./MembersView.vue');
  const other = me({
    id: '00000000-0000-4000-8000-000000000009',
    name: 'Teun Aster',
    signIn: 'teun',
    secondFactor: true,
  });
  const answers = [
    { path: /members/, body: [me({ clubKind: 'club' }), other] },
    { path: /invitations/, body: [] },
    { method: 'PUT', path: /members/, body: { ...other, secondFactor: false } },
  ];
  const { wrapper, sent } = await mountScreen(MembersView, { member: me({ clubKind: 'club' }), answers });
  await press(wrapper, 'Factor off');
  expect(sent.some((r) => r.method === 'PUT')).toBe(false);
  await pressOutside('Turn it off');
  expect(sent.find((r) => r.method === 'PUT')!.body).toEqual({ withoutSecondFactor: true });
});
