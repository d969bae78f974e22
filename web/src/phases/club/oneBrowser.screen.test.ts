import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { flushPromises } from '@vue/test-utils';
import { pressOutside } from '../../test/userActions.ts';
import { mountScreen, me, site } from '../../test/mountScreen.ts';
import SitesView from './SitesView.vue';
import AppHeader from '../../common/AppHeader.vue';
import { holdPerson, unsavedDrafts } from '../../common/personal.ts';
import { call } from '../../api/client.ts';
import { api } from '@keen/contract';

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
  holdPerson('');
});
const teun = me({ id: '00000000-0000-4000-8000-000000000009', name: 'Teun Aster', clubKind: 'club' });
const info = (member: unknown) => ({
  member,
  csrfToken: 't',
  mayBegin: true,
  local: true,
  mayRestoreDemo: false,
  settings: null,
  demo: null,
});
async function typing(member: ReturnType<typeof me>, name: string) {
  holdPerson(member.id);
  const { wrapper } = await mountScreen(SitesView, { member });
  const field = wrapper.findAll('input').find((i) => i.element.value === site().name)!;
  await field.setValue(name);
  await flushPromises();
  wrapper.unmount();
}
const seen = async (member: ReturnType<typeof me>) => {
  holdPerson(member.id);
  const { wrapper } = await mountScreen(SitesView, { member });
  const values = wrapper.findAll('input').map((i) => i.element.value);
  wrapper.unmount();
  return values;
};

describe('several people at one browser', () => {
  test('what one typed and did not save is there again for them, and for nobody else', async () => {
    await typing(me(), 'roof of Noor');
    expect(await seen(teun)).not.toContain('roof of Noor');
    expect(await seen(me())).toContain('roof of Noor');
    expect(unsavedDrafts()).toBe(1);
  });
  test('signing out says what is not saved, and then leaves none of it behind', async () => {
    await typing(me(), 'roof of Noor');
    const answers = [
      { method: 'DELETE', path: /session/, body: { ok: true } },
      { path: /session/, body: info(null) },
    ];
    const { wrapper, sent } = await mountScreen(AppHeader, { answers });
    holdPerson(me().id);
    await wrapper.find('.who').trigger('click');
    await pressOutside('Sign out');
    expect(sent.some((s) => s.method === 'DELETE')).toBe(false);
    expect(document.body.textContent).toContain('Something typed is not saved');
    await pressOutside('Stay');
    expect(unsavedDrafts()).toBe(1);
    await wrapper.find('.who').trigger('click');
    await pressOutside('Sign out');
    const confirm = [...document.querySelectorAll<HTMLElement>('.ant-modal-confirm .ant-btn-primary')].at(-1)!;
    confirm.click();
    await flushPromises();
    expect(sent.some((s) => s.method === 'DELETE')).toBe(true);
    expect(Object.keys(localStorage).filter((k) => k.includes(me().id))).toEqual([]);
  });
});

describe('a creating request', () => {
  const site1 = { ...site(), name: 'one' };
  const keys: (string | null)[] = [];
  const serve = (answers: (() => Promise<unknown>)[]) => {
    keys.length = 0;
    globalThis.fetch = (async (_path: unknown, init: { headers: Record<string, string> }) => {
      keys.push(init.headers['idempotency-key'] ?? null);
      await answers[keys.length - 1]!();
      return { ok: true, status: 200, json: async () => site1 };
    }) as unknown as typeof fetch;
  };
  const { id: _id, version: _v, updatedAt: _a, updatedBy: _b, ...body } = site1;
  const add = (name: string) => call(api.addSite, { body: { ...body, name } as never });
  const fine = () => Promise.resolve();
  test('keeps its key for a second click and after an answer that was lost; another thing has another', async () => {
    serve([fine, fine, () => Promise.reject(new Error('no connection')), fine, fine]);
    await Promise.all([add('a'), add('a')]);
    expect(keys[0]).toMatch(/^[0-9a-f]{32}$/);
    expect(keys[1]).toBe(keys[0]);
    expect((await add('b')).ok).toBe(false);
    await add('b');
    expect(keys[3]).toBe(keys[2]);
    expect(keys[2]).not.toBe(keys[0]);
    await add('c');
    expect(keys[4]).not.toBe(keys[2]);
  });
  test('sent again later on purpose is a new one', async () => {
    serve([fine, fine]);
    await add('again');
    const now = Date.now();
    jest.spyOn(Date, 'now').mockReturnValue(now + 5_000);
    await add('again');
    jest.restoreAllMocks();
    expect(keys[1]).not.toBe(keys[0]);
  });
});
