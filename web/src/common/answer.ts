import { computed, markRaw, ref, shallowRef, watch, type ComputedRef, type Raw, type Ref, type ShallowRef } from 'vue';
import { latestOnly } from './latestOnly.ts';
import { problemText, type Outcome } from './outcome.ts';

/**
 * What a screen asked for: coming, failed, or there. Nothing is said about the value before it is there; one that was
 * there stays while it is asked for anew, also where that fails.
 */
export interface Answer<T> {
  /** What it is, as in “Reading the members …”. */
  what: string;
  value: Readonly<ShallowRef<T | null>>;
  trouble: Readonly<Ref<string>>;
  there: ComputedRef<boolean>;
  /** Asked for just now, whether or not an earlier answer is there. */
  asking: Readonly<Ref<boolean>>;
  load: () => Promise<void>;
  /** Puts what the screen itself changed in its place. */
  put: (value: T) => void;
}

/**
 * @param ask null where there is nothing to ask for yet, as without a rig; that is no state of coming
 * @param on what the question hangs on: when it changes the old answer is forgotten and a new one asked for
 */
export function useAnswer<T>(what: string, ask: () => Promise<Outcome<T>> | null, on?: () => unknown): Raw<Answer<T>> {
  const value = shallowRef<T | null>(null);
  const trouble = ref('');
  const asked = ref(true);
  const asking = ref(false);
  const question = latestOnly();
  async function load(): Promise<void> {
    const late = question();
    trouble.value = '';
    const answer = ask();
    asked.value = asking.value = answer !== null;
    const got = await answer;
    if (!got || late()) return;
    asking.value = false;
    if (got.ok) value.value = got.value;
    else trouble.value = problemText(got.problem);
  }
  if (on)
    watch(
      on,
      () => {
        value.value = null;
        void load();
      },
      { immediate: true },
    );
  else void load();
  const put = (v: T) => void (value.value = v);
  return markRaw({
    what,
    value,
    trouble,
    asking,
    there: computed(() => !asked.value || value.value !== null),
    load,
    put,
  });
}
