import { beforeEach, describe, expect, test } from '@jest/globals';
import { flushPromises } from '@vue/test-utils';
import type { Answer } from '../../test/mountScreen.ts';
import { button, card, cards, field, pick, press, pressOutside, type } from '../../test/userActions.ts';
import { mountScreen, me } from '../../test/mountScreen.ts';
import SignIn from './SignIn.vue';
import BeginView from './BeginView.vue';
import InstallationPanel from './InstallationPanel.vue';
import MembersView from './MembersView.vue';

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});
const demo = [
  { signIn: 'odalys', name: 'Odalys Brandt', role: 'steward' },
  { signIn: 'teun', name: 'Teun Aster', role: 'member' },
] as const;
const info = (more: object = {}) => ({
  member: null,
  csrfToken: 't',
  mayBegin: true,
  local: true,
  mayRestoreDemo: false,
  settings: null,
  demo,
  ...more,
});
const refusal = (status: number, code: string, detail: string) => ({ type: 'x', title: code, status, code, detail });
type Info = ReturnType<typeof info>;
async function door(component: object, state: Info, more: object = {}) {
  const screen = await mountScreen(component as never, { member: null, ...more });
  screen.session.info = state as never;
  await flushPromises();
  return screen;
}

describe('the sign-in page', () => {
  test('has both doors: one press looks round the demo, the other leads to one’s own start', async () => {
    const { wrapper, sent, router } = await door(SignIn, info(), {
      at: '/sign-in?to=/night',
      answers: [{ method: 'POST', path: /demo/, body: info({ member: me() }) }],
    });
    expect(wrapper.find('a.begin').attributes('href')).toBe('/begin');
    await press(wrapper, 'Teun');
    expect(sent.at(-1)).toMatchObject({ method: 'POST', body: { signIn: 'teun' } });
    expect(router.currentRoute.value.path).toBe('/night');
  });
  test('goes nowhere but within itself afterwards', async () => {
    for (const to of ['//elsewhere.example', 'https://elsewhere.example', 'night']) {
      const { wrapper, router } = await door(SignIn, info(), {
        at: `/sign-in?to=${encodeURIComponent(to)}`,
        answers: [{ method: 'POST', path: /./, body: info({ member: me() }) }],
      });
      await press(wrapper, 'Look round');
      expect(router.currentRoute.value.fullPath).toBe('/');
    }
  });
  test('beyond loopback the demo’s password is told, not typed for a stranger; a kept installation closes the second door', async () => {
    const { wrapper } = await door(SignIn, info({ local: false, mayBegin: false }));
    expect(wrapper.text()).toContain('Ask a steward there for an invitation');
    expect(wrapper.find('a.begin').exists()).toBe(false);
    await press(wrapper, 'teun');
    expect(field(wrapper, 'Sign-in name').element.value).toBe('teun');
  });
  test('what was typed stays when it is refused; the name is read in small letters without blanks', async () => {
    const { wrapper, sent } = await door(SignIn, info(), {
      answers: [
        {
          method: 'POST',
          path: /./,
          status: 401,
          body: refusal(401, 'not_signed_in', 'Name and password do not belong together.'),
        },
      ],
    });
    await type(wrapper, 'Sign-in name', ' Noor ');
    await type(wrapper, 'Password', 'wrong one');
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(sent.at(-1)!.body).toEqual({ signIn: 'noor', password: 'wrong one' });
    expect(wrapper.find('[role="alert"]').text()).toContain('do not belong together');
    expect(field(wrapper, 'Sign-in name').element.value).toBe(' Noor ');
  });
  test('a demo put away can be brought back by whoever may, and is not offered to others', async () => {
    const away = await door(SignIn, info({ demo: null, mayRestoreDemo: true, settings: null }), {
      answers: [{ method: 'POST', path: /demo/, body: info() }],
    });
    await press(away.wrapper, 'Bring it back');
    expect(away.wrapper.text()).toContain('Look round the demo club');
    const closed = await door(SignIn, info({ demo: null }));
    expect(closed.wrapper.text()).not.toContain('demo club');
  });
});

describe('beginning', () => {
  const begun = { method: 'POST', path: /begin/, body: info({ member: me() }) };
  test('alone asks for no name of a club, and proposes the sign-in name', async () => {
    const { wrapper, sent, router } = await door(BeginView, info(), { answers: [begun] });
    expect(cards(wrapper, 'Who observes?')).toEqual(['Just me', 'A club', 'A remote site']);
    expect(wrapper.text()).not.toContain('Name of the');
    await type(wrapper, 'Your name', 'Zoë Ní Bhraonáin');
    expect(field(wrapper, 'Sign-in name').attributes('placeholder')).toBe('zoe.ni.bhraonain');
    await type(wrapper, 'Password', 'a long enough one');
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(sent.at(-1)!.body).toEqual({
      kind: 'alone',
      place: '',
      name: 'Zoë Ní Bhraonáin',
      signIn: 'zoe.ni.bhraonain',
      password: 'a long enough one',
    });
    expect(router.currentRoute.value.path).toBe('/first-evening');
  });
  test('a club and a remote site are named; going back to oneself sends no name left over', async () => {
    const { wrapper, sent } = await door(BeginView, info(), { answers: [begun] });
    await card(wrapper, 'Who observes?', 'A club');
    await type(wrapper, 'Name of the club', 'Larch Hill');
    await card(wrapper, 'Who observes?', 'A remote site');
    expect(field(wrapper, 'Name of the site').element.value).toBe('Larch Hill');
    await card(wrapper, 'Who observes?', 'Just me');
    await type(wrapper, 'Your name', 'Noor');
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(sent.at(-1)!.body).toMatchObject({ kind: 'alone', place: '' });
  });
  test('a refusal is said and nothing typed is lost; a short password is told before', async () => {
    const { wrapper, router } = await door(BeginView, info(), {
      answers: [
        { method: 'POST', path: /begin/, status: 409, body: refusal(409, 'conflict', 'That sign-in name is taken.') },
      ],
    });
    await type(wrapper, 'Your name', 'Noor');
    await type(wrapper, 'Password', 'short');
    expect(wrapper.text()).toMatch(/At least \d+ characters/);
    await wrapper.find('form').trigger('submit');
    await flushPromises();
    expect(wrapper.find('[role="alert"]').text()).toContain('That sign-in name is taken');
    expect(field(wrapper, 'Your name').element.value).toBe('Noor');
    expect(router.currentRoute.value.path).not.toBe('/first-evening');
  });
  test('is closed where somebody keeps the installation', async () => {
    const { wrapper } = await door(BeginView, info({ mayBegin: false }));
    expect(wrapper.find('input').exists()).toBe(false);
    expect(wrapper.find('a').attributes('href')).toBe('/sign-in');
  });
});

describe('the demo on this installation', () => {
  test('is taken away by its steward or the owner, after asking, and nobody else sees the button', async () => {
    const { wrapper, sent } = await door(InstallationPanel, info({ member: me({ owner: true }) }), {
      answers: [{ method: 'DELETE', path: /demo/, body: info({ member: me(), demo: null }) }],
    });
    await press(wrapper, 'Take the demo away');
    expect(sent.filter((s) => s.method !== 'GET')).toEqual([]);
    await pressOutside('Take it away');
    expect(sent.at(-1)!.method).toBe('DELETE');
    expect(wrapper.text()).not.toContain('Take the demo away');
    for (const member of [me({ owner: false }), me({ owner: false, demo: true, role: 'member' })])
      expect((await door(InstallationPanel, info({ member }))).wrapper.text()).toBe('');
    const steward = await door(InstallationPanel, info({ member: me({ owner: false, demo: true }) }));
    expect(button(steward.wrapper, 'Take the demo away')).toBeTruthy();
  });
  test('comes back with one press', async () => {
    const { wrapper, sent } = await door(
      InstallationPanel,
      info({ member: me(), demo: null, mayRestoreDemo: true, settings: null }),
      {
        answers: [{ method: 'POST', path: /demo/, body: info({ member: me() }) }],
      },
    );
    await press(wrapper, 'Bring the demo back');
    expect(sent.at(-1)!.method).toBe('POST');
    expect(button(wrapper, 'Take the demo away')).toBeTruthy();
  });
});

describe('members', () => {
  const teun = me({ id: '00000000-0000-4000-8000-000000000009', name: 'Teun Aster', signIn: 'teun', role: 'member' });
  const club = { member: me({ clubKind: 'club', club: 'Larch Hill' }) };
  const body = (text: string) =>
    [...document.querySelectorAll<HTMLElement>('.ant-modal label')]
      .find((l) => l.textContent!.startsWith(text))!
      .querySelector('input')!;
  const fill = (text: string, value: string) => {
    body(text).value = value;
    body(text).dispatchEvent(new Event('input'));
  };
  test('are added by a steward; each complaint names its field, and what was typed stays', async () => {
    const answers: Answer[] = [
      { path: /members/, body: [club.member] },
      {
        method: 'POST',
        path: /members/,
        status: 400,
        body: {
          ...refusal(400, 'invalid_input', ''),
          issues: [{ path: 'password', message: 'at least 8 characters' }],
        },
      },
    ];
    const { wrapper, sent } = await mountScreen(MembersView, { ...club, answers });
    await press(wrapper, 'Add a member');
    fill('Name', 'Teun Aster');
    fill('Sign-in name', 'teun');
    fill('First password', 'short');
    await pick(wrapper, 'Role', 'guest');
    await pressOutside('Add');
    expect(sent.at(-1)!.body).toEqual({ name: 'Teun Aster', signIn: 'teun', password: 'short', role: 'guest' });
    expect(document.querySelector('.ant-modal [role="alert"]')!.textContent).toContain(
      'password: at least 8 characters',
    );
    expect(body('Name').value).toBe('Teun Aster');
    answers[1] = { method: 'POST', path: /members/, body: teun };
    answers[0]!.body = [club.member, teun];
    await pressOutside('Add');
    expect(wrapper.text()).toContain('Teun Aster');
    expect(body('First password').value).toBe('');
  });
  test('a member reads the list and changes nothing', async () => {
    const { wrapper } = await mountScreen(MembersView, {
      member: { ...teun, clubKind: 'club' },
      answers: [{ path: /members/, body: [club.member, teun] }],
    });
    expect(wrapper.text()).toContain('Teun Aster');
    expect(wrapper.findAll('button').some((b) => b.text() === 'Add a member')).toBe(false);
  });
});

describe('roles', () => {
  test('a steward changes others, not themselves: a role at once, an end only after asking', async () => {
    const me2 = me({ clubKind: 'club', club: 'Larch Hill' });
    const other = me({
      id: '00000000-0000-4000-8000-000000000009',
      name: 'Teun Aster',
      signIn: 'teun',
      role: 'member',
    });
    const answers = [
      { path: /members/, body: [me2, other] },
      { method: 'PUT', path: /members/, body: { ...other, role: 'guest' } },
    ];
    const { wrapper, sent } = await mountScreen(MembersView, { member: me2, answers });
    expect(wrapper.findAll('button').filter((b) => b.text() === 'End')).toHaveLength(1);
    await pick(wrapper, 'Role of Teun Aster', 'guest');
    await flushPromises();
    expect(sent.find((r) => r.method === 'PUT')).toMatchObject({
      path: `/api/members/${other.id}`,
      body: { role: 'guest' },
    });
    const before = sent.filter((r) => r.method === 'PUT').length;
    await press(wrapper, 'End');
    expect(sent.filter((r) => r.method === 'PUT')).toHaveLength(before);
    await pressOutside('End it');
    expect(sent.filter((r) => r.method === 'PUT').at(-1)!.body).toEqual({ ended: true });
  });
});
