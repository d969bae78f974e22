import { beforeEach, expect, test } from '@jest/globals';
import { effectScope, nextTick } from 'vue';
import { mountScreen } from '../test/mountScreen.ts';
import { saved } from '../test/doubles/download.ts';
import { press } from '../test/userActions.ts';
import { useDraft } from './draft.ts';
import { personalKey, unsavedDrafts } from './personal.ts';
import UnreadDrafts from './UnreadDrafts.vue';
import { forgetUnread, keepUnread } from './unreadDrafts.ts';

beforeEach(() => {
  localStorage.clear();
  saved.length = 0;
});

const typed = JSON.stringify({ value: { legs: 'once a text' }, version: 2, at: 1 });
const open = () => {
  const scope = effectScope();
  const used = scope.run(() =>
    useDraft(
      () => 'plan.rig-1',
      () => ({ value: { legs: [1] }, version: 7 }),
    ),
  )!;
  return { ...used, close: () => scope.stop() };
};

test('a draft that no screen can show is told of, given as a file, and gone only when somebody lets it go', async () => {
  const { wrapper } = await mountScreen(UnreadDrafts);
  expect(wrapper.text()).toBe('');
  const slot = personalKey('draft.plan.rig-1');
  localStorage.setItem(slot, typed);
  const first = open();
  expect([first.draft.value, first.restoredAt.value]).toEqual([{ legs: [1] }, null]);
  await nextTick();
  expect(wrapper.text()).toContain('cannot be shown here');
  // who signs out is told that something is not saved
  expect(unsavedDrafts()).toBe(1);
  await press(wrapper, 'Save it as a file');
  expect(saved).toEqual([{ name: 'draft-plan-rig-1-unread1.json', text: typed }]);
  // a second one of the same record takes nothing from the first
  keepUnread(slot, 'another');
  await nextTick();
  expect(wrapper.findAll('[data-test="unread-draft"]')).toHaveLength(2);
  forgetUnread(`${slot}.unread2`);
  first.draft.value!.legs.push(2);
  await nextTick();
  first.close();
  // the next one is read as always, and the old one still stands there
  const again = open();
  expect(again.draft.value).toEqual({ legs: [1, 2] });
  again.close();
  expect(wrapper.text()).toContain('cannot be shown here');
  await press(wrapper, 'Forget it');
  expect([wrapper.text(), unsavedDrafts()]).toEqual(['', 1]);
});
