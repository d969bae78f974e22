import { QueryObserver, type QueryObserverResult } from '@tanstack/vue-query';
import {
  computed,
  getCurrentScope,
  markRaw,
  onScopeDispose,
  ref,
  shallowRef,
  watch,
  type ComputedRef,
  type Raw,
  type Ref,
  type ShallowRef,
} from 'vue';
import { answerOrRefuse, Refused, serverState, type Question } from '../api/serverState.ts';
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
  /** The same from what is there; nothing where nothing is. */
  change: (changed: (value: T) => T) => void;
}

let questionsOfTheirOwn = 0;
/** A question nobody else asks, as the next page of a list that grows. */
export const ownQuestion = <T>(ask: () => Promise<Outcome<T>>): (() => Question<T>) => {
  const key = ['own', ++questionsOfTheirOwn];
  return () => ({ key, ask });
};

/**
 * Asks the server for what a screen shows, or reads what is held of the same question and asks it anew.
 * @param question null where there is nothing to ask for yet, as without a rig; that is no state of coming. When its key
 *   changes, the old answer is forgotten
 */
export function useAnswer<T>(what: string, question: () => Question<T> | null): Raw<Answer<T>> {
  const value = shallowRef<T | null>(null);
  const trouble = ref('');
  const asking = ref(true);
  const has = ref(false);
  const hasQuestion = ref(true);
  let observer: QueryObserver<T> | null = null;
  let leave: (() => void) | null = null;
  const take = (r: QueryObserverResult<T>) => {
    has.value = r.data !== undefined;
    value.value = r.data ?? null;
    asking.value = r.isFetching;
    // what went wrong on this side is a failure too, nothing that is still coming
    trouble.value =
      r.isFetching || !r.error ? '' : r.error instanceof Refused ? problemText(r.error.problem) : r.error.message;
  };
  watch(
    () => JSON.stringify(question()?.key ?? null),
    () => {
      leave?.();
      leave = null;
      const now = question();
      hasQuestion.value = now !== null;
      observer = null;
      if (!now) {
        [value.value, trouble.value, asking.value, has.value] = [null, '', false, false];
        return;
      }
      observer = new QueryObserver<T>(serverState, { queryKey: now.key, queryFn: () => answerOrRefuse(now.ask) });
      leave = observer.subscribe(take);
      take(observer.getCurrentResult());
    },
    { immediate: true },
  );
  if (getCurrentScope()) onScopeDispose(() => leave?.());
  const put = (next: (there: T | undefined) => T | undefined): void => {
    const now = question();
    if (!now) return;
    const changed = next(serverState.getQueryData<T>(now.key));
    if (changed === undefined) return;
    // what is still being read was read before this
    void serverState.cancelQueries({ queryKey: now.key, exact: true });
    serverState.setQueryData<T>(now.key, changed);
  };
  return markRaw({
    what,
    value,
    trouble,
    asking,
    there: computed(() => !hasQuestion.value || has.value),
    load: async () => void (await observer?.refetch()),
    put: (v: T) => put(() => v),
    change: (changed: (value: T) => T) => put((v) => (v === undefined ? v : changed(v))),
  });
}
