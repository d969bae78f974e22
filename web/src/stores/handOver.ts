import { defineStore } from 'pinia';
import { shallowRef } from 'vue';

/** Files one screen recognised and another one reads. */
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
  const night = shallowRef<{ evening: string; files: File[] } | null>(null);
  /** The pictures of an evening, to be looked through. */
  const givePictures = (evening: string, files: File[]): void => {
    night.value = { evening, files };
  };
  /** Takes them once. */
  function takePictures(): { evening: string; files: File[] } | null {
    const given = night.value;
    night.value = null;
    return given;
  }
  return { give, take, givePictures, takePictures };
});
