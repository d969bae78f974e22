import { useLocalStorage } from '@vueuse/core';
import { computed, watch, type WritableComputedRef } from 'vue';

/**
 * What a person enters beside the shared records, kept in this browser for each rig on its own. Every rig begins with a
 * copy of `first`: what is typed for one never shows up for another.
 */
export function useKept<T extends object>(name: string, id: () => string, first: T): WritableComputedRef<T> {
  const all = useLocalStorage<Record<string, T>>(name, {});
  watch(
    id,
    (now) => {
      all.value[now] = { ...structuredClone(first), ...all.value[now] };
    },
    { immediate: true, flush: 'sync' },
  );
  return computed({
    get: () => all.value[id()]!,
    set: (v) => {
      all.value[id()] = v;
    },
  });
}
