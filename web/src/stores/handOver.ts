import { defineStore } from 'pinia';
import { shallowRef } from 'vue';

/** A file one screen recognised and another one reads. */
export const useHandOver = defineStore('hand-over', () => {
  const held = shallowRef<{ kind: 'guide-log' | 'focus-log'; file: File } | null>(null);
  const give = (kind: 'guide-log' | 'focus-log', file: File): void => {
    held.value = { kind, file };
  };
  /** Takes it once. */
  function take(kind: 'guide-log' | 'focus-log'): File | null {
    const file = held.value?.kind === kind ? held.value.file : null;
    if (file) held.value = null;
    return file;
  }
  return { give, take };
});
