import { onScopeDispose, ref, watch, type Ref } from 'vue';

/**
 * Becomes true once what is ready has been drawn, and stays so: what a screen leads with is seen before the rest of it is
 * worked out and laid out.
 */
export function useFirstDrawn(ready: () => boolean): Readonly<Ref<boolean>> {
  const drawn = ref(false);
  let [begun, left] = [false, false];
  onScopeDispose(() => (left = true));
  watch(
    ready,
    (is) => {
      if (!is || begun) return;
      begun = true;
      // a frame is drawn after its callbacks: the next task comes after it
      requestAnimationFrame(() => setTimeout(() => !left && (drawn.value = true)));
    },
    { immediate: true, flush: 'post' },
  );
  return drawn;
}
