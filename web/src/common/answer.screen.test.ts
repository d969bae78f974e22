import { describe, expect, test } from '@jest/globals';
import { flushPromises } from '@vue/test-utils';
import { ref } from 'vue';
import { mountScreen } from '../test/mountScreen.ts';
import { ownQuestion, useAnswer } from './answer.ts';
import { serverState } from '../api/serverState.ts';
import WhenThere from './WhenThere.vue';

type Got =
  | { ok: true; value: string }
  | { ok: false; problem: { type: string; code: string; title: string; status: number } };
const broken: Got = { ok: false, problem: { type: '', code: 'internal', title: 'no connection', status: 0 } };
/** A server that answers when the test says so. */
function server() {
  const open: ((g: Got) => void)[] = [];
  return { ask: () => new Promise<Got>((done) => open.push(done)), open };
}

describe('what a screen asked for', () => {
  test('is coming, then there; asked anew it stays, and stays too when that fails', async () => {
    const { ask, open } = server();
    const a = useAnswer('The list', ownQuestion(ask));
    expect([a.there.value, a.asking.value, a.value.value]).toEqual([false, true, null]);
    open[0]!({ ok: true, value: 'one' });
    await flushPromises();
    expect([a.there.value, a.asking.value, a.value.value]).toEqual([true, false, 'one']);
    void a.load();
    expect([a.there.value, a.asking.value]).toEqual([true, true]);
    open[1]!(broken);
    await flushPromises();
    expect([a.there.value, a.value.value, a.trouble.value]).toEqual([true, 'one', 'no connection']);
  });
  test('of another question is forgotten, and its late answer dropped', async () => {
    const { ask, open } = server();
    const rig = ref('a');
    const a = useAnswer('The list', () => ({ key: ['list of', rig.value], ask }));
    open[0]!({ ok: true, value: 'of a' });
    await flushPromises();
    rig.value = 'b';
    await flushPromises();
    expect([a.there.value, a.value.value]).toEqual([false, null]);
    rig.value = 'c';
    await flushPromises();
    open[2]!({ ok: true, value: 'of c' });
    open[1]!({ ok: true, value: 'of b' });
    await flushPromises();
    expect(a.value.value).toBe('of c');
  });
  test('changed here while it is asked for anew stays changed: what was read before does not come after', async () => {
    const { ask, open } = server();
    const a = useAnswer('The list', ownQuestion(ask));
    open[0]!({ ok: true, value: 'one' });
    await flushPromises();
    void a.load();
    expect(a.asking.value).toBe(true);
    a.change((v) => `${v}, two`);
    a.change((v) => `${v}, three`);
    open[1]!({ ok: true, value: 'one' });
    await flushPromises();
    expect([a.asking.value, a.trouble.value, a.value.value]).toEqual([false, '', 'one, two, three']);
    a.put('four');
    await flushPromises();
    expect(a.value.value).toBe('four');
  });
  test('changed before it is there is asked for to its end, and nothing is put in its place', async () => {
    const { ask, open } = server();
    const a = useAnswer<string>('The list', ownQuestion(ask));
    a.change((v) => `${v}, two`);
    open[0]!({ ok: true, value: 'one' });
    await flushPromises();
    expect([a.there.value, a.value.value]).toEqual([true, 'one']);
  });
  test('with nothing to ask for is no state of coming', async () => {
    const a = useAnswer('The list', () => null);
    await flushPromises();
    expect([a.there.value, a.value.value]).toEqual([true, null]);
  });
  test('failed says what, and tries again at a press', async () => {
    const { ask, open } = server();
    const of: unknown[] = [];
    const { wrapper } = await mountScreen(WhenThere, {
      props: { of },
      before: () => void of.push(useAnswer('The list', ownQuestion(ask))),
    });
    expect(wrapper.text()).toContain('Reading the list');
    open[0]!(broken);
    await flushPromises();
    expect(wrapper.text()).toContain('The list could not be read: no connection');
    await wrapper.find('button').trigger('click');
    expect(wrapper.text()).toContain('Reading the list');
    open[1]!({ ok: true, value: 'one' });
    await flushPromises();
    expect(wrapper.find('[data-test="failed"], [data-test="coming"]').exists()).toBe(false);
  });
  test('asked in two places it is asked once, and what one of them changes the other shows', async () => {
    const { ask, open } = server();
    const question = () => ({ key: ['shared'], ask });
    const [a, b] = [useAnswer('The list', question), useAnswer('The list', question)];
    open[0]!({ ok: true, value: 'one' });
    await flushPromises();
    expect([open.length, a.value.value, b.value.value]).toEqual([1, 'one', 'one']);
    a.put('two');
    await flushPromises();
    expect(b.value.value).toBe('two');
    // a third comes later: it shows what is held while it asks anew
    const c = useAnswer('The list', question);
    expect([c.value.value, c.asking.value, open.length]).toEqual(['two', true, 2]);
    open[1]!({ ok: true, value: 'three' });
    await flushPromises();
    expect([a.value.value, c.value.value]).toEqual(['three', 'three']);
    expect(open.length).toBe(2);
  });
  test('is forgotten when somebody else signs in, and what was under way is given up', async () => {
    const { ask, open } = server();
    const a = useAnswer('The list', () => ({ key: ['of one person'], ask }));
    serverState.clear();
    open[0]!({ ok: true, value: 'of the one before' });
    await flushPromises();
    expect(serverState.getQueryData(['of one person'])).toBeUndefined();
    expect(a.value.value).toBeNull();
  });
});
