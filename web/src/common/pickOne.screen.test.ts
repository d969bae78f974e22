import { expect, jest, test } from '@jest/globals';
import { nextTick } from 'vue';
import { Select } from 'ant-design-vue';
import { mountScreen } from '../test/mountScreen.ts';
import PickOne from './PickOne.vue';

test('Esc closes an open list and leaves the dialog around it; with the list closed it reaches the dialog', async () => {
  const { wrapper } = await mountScreen(PickOne, { props: { label: 'Rig', options: [] } });
  const dialog = jest.fn();
  document.body.addEventListener('keydown', dialog);
  const esc = () =>
    wrapper.find('input').element.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true }));
  wrapper.findComponent(Select).vm.$emit('dropdownVisibleChange', true);
  await nextTick();
  esc();
  expect(dialog).not.toHaveBeenCalled();
  wrapper.findComponent(Select).vm.$emit('dropdownVisibleChange', false);
  await nextTick();
  esc();
  expect(dialog).toHaveBeenCalledTimes(1);
});
