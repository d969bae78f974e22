import { beforeEach, describe, expect, test } from '@jest/globals';
import { flushPromises } from '@vue/test-utils';
import { defineComponent, h, nextTick, ref } from 'vue';
import { button, press } from '../test/userActions.ts';
import { saved } from '../test/doubles/download.ts';
import { mountScreen } from '../test/mountScreen.ts';
import ListTable from './ListTable.vue';
import SaveBar from './SaveBar.vue';
import { useShortcut } from './shortcuts.ts';

interface Part {
  id: string;
  name: string;
  lengthMm: number | null;
}
const parts: Part[] = [
  { id: 'a', name: 'ring', lengthMm: 5 },
  { id: 'b', name: 'Adapter', lengthMm: -12.25 },
  { id: 'c', name: 'spacer', lengthMm: null },
  { id: 'd', name: 'tube', lengthMm: 100 },
];
const columns = [
  { key: 'name', title: 'Part', value: (p: Part) => p.name },
  { key: 'length', title: 'Length, mm', value: (p: Part) => p.lengthMm, decimals: 1, numeric: true },
];
const open = async (more: object = {}) => {
  const { wrapper } = await mountScreen(ListTable as never, {
    props: { rows: parts, columns, name: 'drawer', rowKey: (p: Part) => p.id, ...more },
  });
  const rows = () => wrapper.findAll('tbody tr.ant-table-row').map((r) => r.findAll('td').map((c) => c.text().trim()));
  const names = () => rows().map((r) => r[0]);
  const head = (text: string) => wrapper.findAll('th').find((t) => t.text().includes(text))!;
  return { wrapper, rows, names, head };
};
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
  saved.length = 0;
});

describe('a list', () => {
  test('shows figures with their decimals and a true minus, and a dash for what is not there', async () => {
    const { rows } = await open();
    expect(rows()).toEqual([
      ['ring', '5.0'],
      ['Adapter', '−12.3'],
      ['spacer', '–'],
      ['tube', '100.0'],
    ]);
  });
  test('sorts numbers as numbers and words as words; what is not there comes last both ways', async () => {
    const { names, head } = await open();
    await head('Length').trigger('click');
    expect(names()).toEqual(['Adapter', 'ring', 'tube', 'spacer']);
    expect(head('Length').attributes('aria-sort')).toBe('ascending');
    await head('Length').trigger('click');
    expect(names()).toEqual(['tube', 'ring', 'Adapter', 'spacer']);
    await head('Part').trigger('click');
    expect(names()).toEqual(['Adapter', 'ring', 'spacer', 'tube']);
    expect(head('Length').attributes('aria-sort')).toBeUndefined();
  });
  test('sorts by the keyboard, and begins with the column it is told', async () => {
    const { names, head } = await open({ sortBy: 'name' });
    expect(names()[0]).toBe('Adapter');
    await head('Part').trigger('keydown', { keyCode: 13 });
    expect(names()[0]).toBe('tube');
  });
  test('filters by any column, counts what is left, and says when nothing is', async () => {
    const { wrapper, names } = await open();
    await wrapper.find('input').setValue('AP');
    expect(names()).toEqual(['Adapter']);
    expect(wrapper.text()).toContain('1 of 4');
    await wrapper.find('input').setValue('100');
    expect(names()).toEqual(['tube']);
    await wrapper.find('input').setValue('zzz');
    expect(wrapper.text()).toContain('Nothing matches the filter.');
    expect(button(wrapper, 'CSV').element.disabled).toBe(true);
  });
  test('an empty one says what it would hold', async () => {
    const { wrapper } = await open({ rows: [], empty: 'No part yet.' });
    expect(wrapper.text()).toContain('No part yet.');
  });
  test('what is exported is what is shown, in its order, with the exact numbers', async () => {
    const { wrapper, head } = await open();
    await wrapper.find('input').setValue('r');
    await head('Length').trigger('click');
    await press(wrapper, 'CSV');
    expect(saved[0]!.name).toBe('drawer.csv');
    expect(saved[0]!.text.trim().split(/\r?\n/)).toEqual(['Part,"Length, mm"', 'Adapter,-12.25', 'ring,5', 'spacer,']);
  });
  test('turns pages, and goes back to the first when the filter leaves fewer', async () => {
    const many = Array.from({ length: 25 }, (_, i) => ({ id: String(i), name: `part ${i}`, lengthMm: i }));
    const { wrapper, names } = await open({ rows: many, pageSize: 10 });
    expect(names()).toHaveLength(10);
    await wrapper.find('.ant-pagination-item-3').trigger('click');
    expect(names()).toEqual(['part 20', 'part 21', 'part 22', 'part 23', 'part 24']);
    await wrapper.find('input').setValue('part 1');
    await nextTick();
    expect(names()[0]).toMatch(/^part 1/);
    await wrapper.find('input').setValue('part 24');
    expect(names()).toEqual(['part 24']);
    expect(wrapper.find('.ant-pagination-item-2').exists()).toBe(false);
  });
  test('a double click chooses the row', async () => {
    const { wrapper } = await open();
    await wrapper.findAll('tbody tr.ant-table-row')[1]!.trigger('dblclick');
    expect(wrapper.emitted('choose')).toEqual([[parts[1]]]);
  });
});

describe('the save bar', () => {
  const bar = async (more: object = {}) =>
    (
      await mountScreen(SaveBar, {
        props: { dirty: true, busy: false, undoable: 1, redoable: 0, restoredAt: null, ...more },
      })
    ).wrapper;
  const key = (init: KeyboardEventInit, on: EventTarget = window) => {
    const e = new KeyboardEvent('keydown', { bubbles: true, cancelable: true, ...init });
    on.dispatchEvent(e);
    return e;
  };
  test('saves by its key, undoes and redoes by theirs, with Ctrl or the command key', async () => {
    const wrapper = await bar({ redoable: 1 });
    expect(key({ key: 's' }).defaultPrevented).toBe(true);
    key({ key: 'z', ctrlKey: true });
    key({ key: 'z', metaKey: true });
    key({ key: 'Z', ctrlKey: true, shiftKey: true });
    key({ key: 'z' });
    expect([wrapper.emitted('save'), wrapper.emitted('undo')?.length, wrapper.emitted('redo')?.length]).toEqual([
      [[]],
      2,
      1,
    ]);
  });
  test('leaves the browser its own keys, and what is typed to the field', async () => {
    const wrapper = await bar();
    expect(key({ key: 's', ctrlKey: true }).defaultPrevented).toBe(false);
    const field = document.body.appendChild(document.createElement('input'));
    expect(key({ key: 's' }, field).defaultPrevented).toBe(false);
    expect(key({ key: 'z', ctrlKey: true }, field).defaultPrevented).toBe(false);
    expect([wrapper.emitted('save'), wrapper.emitted('undo')]).toEqual([undefined, undefined]);
  });
  test('what cannot be done is closed, by button and by key', async () => {
    const wrapper = await bar({ undoable: 0, redoable: 0, busy: true });
    expect(button(wrapper, 'Undo').element.disabled).toBe(true);
    expect(button(wrapper, 'Redo').element.disabled).toBe(true);
    key({ key: 's' });
    key({ key: 'z', ctrlKey: true });
    expect([wrapper.emitted('save'), wrapper.emitted('undo')]).toEqual([undefined, undefined]);
  });
  test('says why it is closed before anything else, then what went wrong, then what was restored', async () => {
    const restoredAt = Date.parse('2026-11-18T21:05:00Z');
    expect((await bar({ locked: 'Locked by Odalys.', trouble: 'no', restoredAt })).text()).toContain(
      'Locked by Odalys.',
    );
    expect((await bar({ trouble: 'Not saved: the name is taken.', restoredAt })).text()).toContain('the name is taken');
    expect((await bar({ restoredAt })).text()).toMatch(/Unsaved draft of 18 Nov .* restored/);
    expect((await bar({ untouched: true })).text()).toMatch(/^Not saved yet/);
    expect((await bar({ dirty: false, undoable: 0, savedAt: '2026-11-18T21:05:00Z', savedBy: 'Teun' })).text()).toMatch(
      /Saved 18 Nov .* by Teun/,
    );
  });
});

test('a key of a screen that is gone does nothing any more', async () => {
  const pressed = ref(0);
  const Screen = defineComponent({ setup: () => (useShortcut('n', () => pressed.value++), () => h('p')) });
  const { wrapper } = await mountScreen(Screen);
  window.dispatchEvent(new KeyboardEvent('keydown', { key: 'n' }));
  wrapper.unmount();
  await flushPromises();
  window.dispatchEvent(new KeyboardEvent('keydown', { key: 'n' }));
  expect(pressed.value).toBe(1);
});
