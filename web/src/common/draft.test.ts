import { beforeEach, describe, expect, test } from '@jest/globals';
import { effectScope, nextTick, ref } from 'vue';
import { useDraft } from './draft.ts';

/** The browser's own store, as a page sees it after a reload too. */
const kept = new Map<string, string>();
globalThis.localStorage = {
  getItem: (k: string) => kept.get(k) ?? null,
  setItem: (k: string, v: string) => void kept.set(k, v),
  removeItem: (k: string) => void kept.delete(k),
} as Storage;
beforeEach(() => kept.clear());

interface Note {
  text: string;
  list: number[];
}
/** A screen that opens on a record; closing it leaves what is kept. */
function open(record = { value: { text: 'as stored', list: [1, 2] } as Note, version: 3 }, key = 'note') {
  const scope = effectScope();
  const source = ref(record);
  const used = scope.run(() =>
    useDraft<Note>(
      () => key,
      () => source.value,
    ),
  )!;
  return { ...used, source, close: () => scope.stop() };
}

describe('a draft', () => {
  test('kept from before a field existed gets it from whoever knows; what was typed stays', async () => {
    const first = open();
    first.draft.value!.text = 'typed last year';
    await nextTick();
    first.close();
    const scope = effectScope();
    const record = { value: { text: 'as stored', list: [1, 2], mood: 'calm' }, version: 3 };
    const again = scope.run(() =>
      useDraft(
        () => 'note',
        () => record,
        (kept) => ({ ...record.value, ...kept }),
      ),
    )!;
    expect(again.draft.value).toEqual({ text: 'typed last year', list: [1, 2], mood: 'calm' });
    scope.stop();
  });
  test('a record that changes under somebody who types leaves what they typed, their steps and their version', async () => {
    const { draft, version, dirty, source, undoable, undo, saved, close } = open();
    draft.value!.text = 'half';
    await nextTick();
    draft.value!.text = 'half a thought';
    // not kept in the browser yet when the other record comes
    source.value = { value: { text: 'theirs', list: [9] }, version: 4 };
    await nextTick();
    expect([draft.value!.text, version.value, dirty.value]).toEqual(['half a thought', 3, true]);
    expect(undoable.value).toBeGreaterThan(0);
    undo();
    await nextTick();
    expect(draft.value!.text).not.toBe('theirs');
    // what was saved is begun on when it comes back
    draft.value!.text = 'mine';
    await nextTick();
    saved();
    source.value = { value: { text: 'mine', list: [1, 2] }, version: 5 };
    await nextTick();
    expect([draft.value!.text, version.value, dirty.value]).toEqual(['mine', 5, false]);
    close();
  });
  test('one that nobody typed in follows its record', async () => {
    const { draft, version, source, close } = open();
    source.value = { value: { text: 'theirs', list: [9] }, version: 4 };
    await nextTick();
    expect([draft.value, version.value]).toEqual([{ text: 'theirs', list: [9] }, 4]);
    close();
  });
  test('survives leaving and reload with the version it was begun on, and is gone once it equals the record', async () => {
    const first = open();
    first.draft.value!.text = 'half a thought';
    await nextTick();
    expect(first.dirty.value).toBe(true);
    first.close();
    // meanwhile somebody saved version 4
    const again = open({ value: { text: 'theirs', list: [] }, version: 4 });
    expect(again.draft.value!.text).toBe('half a thought');
    expect(again.version.value).toBe(3);
    expect(again.restoredAt.value).not.toBeNull();
    again.draft.value = { text: 'theirs', list: [] };
    await nextTick();
    expect([again.dirty.value, kept.size]).toEqual([false, 0]);
    again.close();
  });
  test('changes deep inside count, and are undone one by one', async () => {
    const d = open();
    d.draft.value!.list.push(3);
    await nextTick();
    d.draft.value!.list[0] = 9;
    await nextTick();
    expect(d.undoable.value).toBe(2);
    d.undo();
    await nextTick();
    expect(d.draft.value!.list).toEqual([1, 2, 3]);
    d.undo();
    await nextTick();
    expect([d.draft.value!.list, d.dirty.value]).toEqual([[1, 2], false]);
    d.close();
  });
  test('what was undone is done again, until something else is typed', async () => {
    const d = open();
    for (const text of ['one', 'two']) {
      d.draft.value!.text = text;
      await nextTick();
    }
    d.undo();
    await nextTick();
    expect([d.draft.value!.text, d.undoable.value, d.redoable.value]).toEqual(['one', 1, 1]);
    d.redo();
    await nextTick();
    expect([d.draft.value!.text, d.undoable.value, d.redoable.value]).toEqual(['two', 2, 0]);
    d.undo();
    await nextTick();
    d.draft.value!.text = 'three';
    await nextTick();
    d.redo();
    await nextTick();
    expect([d.draft.value!.text, d.redoable.value]).toEqual(['three', 0]);
    // what is kept in the browser follows every step
    expect(JSON.parse([...kept.values()][0]!).value.text).toBe('three');
    d.close();
  });
  test('undo ends where the record begins: neither a reload nor a newer record is a step', async () => {
    const d = open();
    d.draft.value!.text = 'one';
    await nextTick();
    d.close();
    const again = open();
    expect([again.draft.value!.text, again.undoable.value]).toEqual(['one', 0]);
    again.undo();
    await nextTick();
    expect(again.draft.value!.text).toBe('one');
    again.discard();
    again.source.value = { value: { text: 'theirs', list: [] }, version: 4 };
    await nextTick();
    expect([again.draft.value!.text, again.undoable.value, again.redoable.value]).toEqual(['theirs', 0, 0]);
    again.close();
  });
  test('two hundred steps are kept, the oldest go', async () => {
    const d = open();
    for (let i = 0; i < 210; i++) {
      d.draft.value!.list = [i];
      await nextTick();
    }
    expect(d.undoable.value).toBe(200);
    for (let i = 0; i < 250; i++) d.undo();
    await nextTick();
    expect(d.draft.value!.list).toEqual([9]);
    d.close();
  });
  test('discarding takes the record as it is; after a save nothing is kept', async () => {
    const d = open();
    d.draft.value!.text = 'no';
    await nextTick();
    expect(kept.size).toBe(1);
    d.discard();
    expect([d.draft.value!.text, kept.size]).toEqual(['as stored', 0]);
    d.draft.value!.text = 'yes';
    await nextTick();
    d.saved();
    d.source.value = { value: { text: 'yes', list: [1, 2] }, version: 4 };
    await nextTick();
    expect([d.dirty.value, d.version.value, kept.size]).toEqual([false, 4, 0]);
    d.close();
  });
  test('the record itself is never touched, and a broken entry in the store is put aside', async () => {
    const record = { value: { text: 'as stored', list: [1, 2] }, version: 3 };
    const d = open(record);
    d.draft.value!.list.push(7);
    await nextTick();
    expect(record.value.list).toEqual([1, 2]);
    d.close();
    kept.set('keen.of..draft.note', '{half');
    const e = open();
    expect([e.draft.value!.text, kept.has('keen.of..draft.note')]).toEqual(['as stored', false]);
    e.close();
  });
  test('two records keep two drafts', async () => {
    const a = open(undefined, 'a');
    const b = open(undefined, 'b');
    a.draft.value!.text = 'A';
    b.draft.value!.text = 'B';
    await nextTick();
    expect([...kept.keys()].sort()).toEqual(['keen.of..draft.a', 'keen.of..draft.b']);
    a.close();
    b.close();
  });
});
