import { beforeEach, describe, expect, test } from '@jest/globals';
import { SITUATIONS } from '@keen/core/drills';
import { frameLook, lookAtPicture, renderCounts, type Scene } from '@keen/core/frames';
import { writeFits16 } from '@keen/core/exchange';
import { flushPromises } from '@vue/test-utils';
import { button, card, cards, press } from '../../test/userActions.ts';
import { lookWith } from '../../test/doubles/looking.ts';
import { personalKey } from '../../common/personal.ts';
import { mountScreen, me } from '../../test/mountScreen.ts';
import DrillsView from './DrillsView.vue';

let scenes = 0;
/** The same situation is seen again and again here: it is drawn and measured once. */
const seen = new Map<string, ReturnType<typeof measureScene>>();
function measured(scene: Scene): ReturnType<typeof measureScene> {
  const key = JSON.stringify(scene);
  if (!seen.has(key)) seen.set(key, measureScene(scene));
  return seen.get(key)!;
}
function measureScene(scene: Scene) {
  const picture = writeFits16(renderCounts(scene), scene.widthPx, scene.heightPx, []);
  const { measure, small, pieces, stars } = lookAtPicture(picture);
  return { look: frameLook(measure), stars: measure.list ?? [], small, pieces, meanStars: stars };
}
lookWith({
  lookAtScene: async (scene: Scene) => {
    scenes++;
    return measured(scene);
  },
});

const standing = (situation: string, latest: boolean[]) => ({
  situation,
  tries: latest.length,
  causeRight: latest.filter(Boolean).length,
  cureRight: latest.length,
  latest,
  at: '2026-11-01T12:00:00.000Z',
});
async function open(options: { member?: object; mine?: object[]; failing?: boolean } = {}) {
  const at = await mountScreen(DrillsView, {
    member: me({ clubKind: 'club', ...options.member }),
    answers: [
      ...(options.failing
        ? [
            {
              method: 'POST',
              path: /api\/drills$/,
              status: 503,
              body: { code: 'unavailable', title: 'Not now', detail: 'No database.', status: 503 },
            },
          ]
        : []),
      {
        method: 'POST',
        path: /api\/drills$/,
        body: { causeRight: true, cureRight: true, standing: standing('wrong-spacing', [true, true]) },
      },
      { path: /weak-spots/, body: [{ situation: 'slow-wave', people: 3, tries: 8, causeRight: 2, cureRight: 3 }] },
      {
        path: /api\/drills$/,
        body: options.mine ?? [standing('saw-teeth', [true, true]), standing('slow-climb', [false, true])],
      },
    ],
  });
  for (let i = 0; i < 6; i++) await flushPromises();
  return { ...at, question: () => at.wrapper.find('[data-test="question"]') };
}
const begin = (key: string, seed: number) => localStorage.setItem(personalKey('drill'), JSON.stringify({ key, seed }));
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('a drill', () => {
  test('shows what one would see without saying what it is, and is judged with the numbers once both are named', async () => {
    begin('wrong-spacing', 5);
    const { wrapper, question, sent } = await open();
    expect(question().find('[data-test="tale"]').text()).toContain('A corrector was fitted');
    expect(wrapper.findAll('[data-test="exhibit"] canvas')).toHaveLength(19);
    const before = scenes;
    expect(wrapper.find('[data-test="exhibits"]').text()).not.toMatch(/would say/);
    expect(cards(question(), 'What is it?')).toHaveLength(4);
    expect(button(wrapper, 'Judge').attributes('disabled')).toBeDefined();
    await card(question(), 'What is it?', 'Corrector at the wrong distance');
    await card(
      question(),
      'What is done about it?',
      'Change the spacing by a millimetre and look at the corners again',
    );
    await question().trigger('submit');
    await flushPromises();
    expect(wrapper.find('[data-test="judged"]').text()).toMatch(
      /Right, cause and cure\..*in every corner \d\.\d times as long as wide/s,
    );
    expect(wrapper.find('[data-test="exhibits"]').text()).toMatch(/Frames would say: .*In the corners stars/s);
    expect(sent.find((s) => s.method === 'POST')!.body).toEqual({
      situation: 'wrong-spacing',
      seed: 5,
      cause: 'spacing',
      cure: 'change-spacing',
    });
    expect(wrapper.find('a[href="/bench/train"]').exists()).toBe(true);
    // seen once, drawn once
    expect(scenes).toBe(before);
    // answered is answered
    await question().trigger('submit');
    expect(sent.filter((s) => s.method === 'POST')).toHaveLength(1);
    await press(wrapper, 'Next');
    expect(wrapper.find('[data-test="judged"]').exists()).toBe(false);
    expect(JSON.parse(localStorage.getItem(personalKey('drill'))!).key).not.toBe('wrong-spacing');
  });
  test('that was answered wrongly says what it was, what helps, and what the named cause would have shown', async () => {
    begin('slow-wave', 3);
    const { wrapper, question } = await open();
    await card(question(), 'What is it?', 'Polar axis off');
    await card(question(), 'What is done about it?', 'Align the polar axis again');
    await question().trigger('submit');
    const judged = () => wrapper.find('[data-test="judged"]').text();
    expect(judged()).toMatch(
      /Neither of them\..*It was: The worm’s own error\..*What helps: Let the mount learn.*period of \d+\ss.*drifts steadily/s,
    );
    expect(wrapper.find('[data-test="exhibits"]').text()).toMatch(/Guide log would say/);
  });
  test('that was judged is there again after a reload; an answer that could not be kept is sent again', async () => {
    begin('slow-wave', 3);
    const failing = await open({ failing: true });
    await card(failing.question(), 'What is it?', 'Polar axis off');
    await card(failing.question(), 'What is done about it?', 'Align the polar axis again');
    await failing.question().trigger('submit');
    await flushPromises();
    expect(failing.wrapper.find('[role="alert"]').text()).toContain('Judged, but not kept');
    // going on to others loses nothing
    await press(failing.wrapper, 'Next');
    failing.wrapper.unmount();
    begin('wrong-spacing', 5);
    const again = await open();
    expect(again.sent.filter((s) => s.method === 'POST').map((s) => s.body)).toEqual([
      { situation: 'slow-wave', seed: 3, cause: 'polar', cure: 'align-pole' },
    ]);
    await card(again.question(), 'What is it?', 'Corrector at the wrong distance');
    await card(again.question(), 'What is done about it?', 'Collimate');
    await again.question().trigger('submit');
    await flushPromises();
    again.wrapper.unmount();
    const third = await open();
    expect(third.wrapper.find('[data-test="judged"]').text()).toContain('The cause is right, the cure is not.');
    expect(third.sent.filter((s) => s.method === 'POST')).toEqual([]);
  });
  test('is there again after a reload, one is begun where none is or the kept one is no more', async () => {
    begin('the-mount-stopped', 11);
    const first = await open();
    // its name would tell what it is
    expect(first.question().text()).toContain('In the night');
    expect(first.question().text()).not.toContain('The mount stopped');
    expect(first.question().text()).toContain('most of the night is missing');
    first.wrapper.unmount();
    begin('a-situation-of-before', 1);
    const second = await open();
    expect(second.question().find('[data-test="tale"]').text().length).toBeGreaterThan(10);
    expect(Object.keys(SITUATIONS)).toContain(JSON.parse(localStorage.getItem(personalKey('drill'))!).key);
  });
});

test('the record says where one stands, a situation can be practised by hand, the steward sees what the club misses', async () => {
  const { wrapper, question } = await open();
  expect(wrapper.find('[data-test="verdict"]').text()).toMatch(
    /1 of 2\d situations are known to you, right 2 times running\..*1 went wrong the last time/,
  );
  expect(wrapper.find('[data-test="weak-spots"]').text()).toMatch(/Slow wave.*3.*8.*25.*38/s);
  await press(wrapper.find('[data-test="record"]'), 'Practise');
  expect(question().text()).toContain('The tube stays where it is pointed');
  wrapper.unmount();
  const member = await open({ member: { role: 'member' } });
  expect(member.wrapper.find('[data-test="weak-spots"]').exists()).toBe(false);
});
test('a guest is judged and leaves no record', async () => {
  begin('weights-at-the-end', 2);
  const { wrapper, question, sent } = await open({ member: { role: 'guest' }, mine: [] });
  await card(question(), 'What is it?', 'Too little counterweight');
  await card(question(), 'What is done about it?', 'More counterweight');
  await question().trigger('submit');
  await flushPromises();
  expect(wrapper.find('[data-test="judged"]').text()).toContain('Right, cause and cure.');
  expect(sent.filter((s) => s.method === 'POST')).toEqual([]);
  expect(wrapper.find('[data-test="record"]').text()).toContain('right once');
});
