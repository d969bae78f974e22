import { getCurrentScope, onScopeDispose } from 'vue';

/**
 * Who asks again before the first answer is there wants only the newer one. Each `ask()` begins a question and gives back
 * the test whether its answer comes too late: a newer question was asked, or the screen that asked is gone.
 *
 * ```ts
 * const ask = lateness();
 * const late = ask();
 * const got = await fetchSomething();
 * if (late()) return;
 * ```
 */
export function latestOnly(): () => () => boolean {
  let newest = 0;
  if (getCurrentScope()) onScopeDispose(() => (newest = Infinity));
  return () => {
    const own = ++newest;
    return () => own !== newest;
  };
}
