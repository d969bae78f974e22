import { expect, jest, test } from '@jest/globals';
import { effectScope, nextTick, ref, toRaw } from 'vue';

const kept = new Map<string, string>();
const storage = {
  getItem: (k: string) => kept.get(k) ?? null,
  setItem: (k: string, v: string) => void kept.set(k, v),
  removeItem: (k: string) => void kept.delete(k),
} as Storage;
// vueuse looks for the page once, when it is loaded
const page = { localStorage: storage, addEventListener: jest.fn(), removeEventListener: jest.fn(), dispatchEvent: jest.fn(), document: {} }; // prettier-ignore
Object.assign(globalThis, {
  window: page,
  document: page.document,
  localStorage: storage,
  Storage: class {},
  CustomEvent: class {},
});
const { useKept } = await import('./kept.ts');

const FIRST = { ambientC: 8, second: null as { name: string } | null };

test('what is entered for one rig stays with it: another begins as the first did', async () => {
  const rig = ref('a');
  const scope = effectScope();
  const wish = scope.run(() => useKept('keen.test', () => rig.value, FIRST))!;
  wish.value.ambientC = 31;
  wish.value.second = { name: 'wide camera' };
  await nextTick();
  rig.value = 'b';
  expect(toRaw(wish.value)).toEqual(FIRST);
  wish.value.ambientC = -4;
  rig.value = 'a';
  expect([wish.value.ambientC, wish.value.second?.name]).toEqual([31, 'wide camera']);
  expect(FIRST).toEqual({ ambientC: 8, second: null });
  await nextTick();
  expect(JSON.parse(kept.get('keen.test')!)).toMatchObject({ a: { ambientC: 31 }, b: { ambientC: -4 } });
  scope.stop();
});
