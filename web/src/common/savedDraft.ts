import type { Problem } from '@keen/contract';
import { message } from 'ant-design-vue';
import { ref, shallowRef } from 'vue';
import { problemText, type Outcome } from './outcome.ts';

interface Kept {
  version: { value: number };
  saved: () => void;
  discard: () => void;
  rebase: (version: number) => unknown;
}

/** Saving of a draft: busy, trouble, and the choice between both sides when somebody saved first. */
export function useSaving<R extends { version: number }>(
  kept: Kept,
  send: (version: number) => Promise<Outcome<R>>,
  take: (record: R) => void,
  words: (record: R) => string,
) {
  const busy = ref(false);
  const trouble = ref('');
  /** The record is there no more: what was typed can become a new one. */
  const gone = ref('');
  const conflict = shallowRef<{ detail: string; theirs: R } | null>(null);
  const listed = (p: Problem) =>
    p.issues?.length
      ? ` (${p.issues
          .map((i) => i.path)
          .slice(0, 3)
          .join(', ')})`
      : '';

  async function save(): Promise<R | null> {
    busy.value = true;
    trouble.value = '';
    gone.value = '';
    const got = await send(kept.version.value);
    busy.value = false;
    if (got.ok) {
      kept.saved();
      take(got.value);
      void message.success(words(got.value));
      return got.value;
    }
    if (got.problem.code === 'stale')
      conflict.value = { detail: problemText(got.problem), theirs: got.problem.current as R };
    else if (got.problem.code === 'cancelled') gone.value = problemText(got.problem);
    else trouble.value = problemText(got.problem) + listed(got.problem);
    return null;
  }
  async function keepMine(): Promise<void> {
    if (!conflict.value) return;
    kept.rebase(conflict.value.theirs.version);
    conflict.value = null;
    await save();
  }
  function takeTheirs(): void {
    const theirs = conflict.value?.theirs;
    if (!theirs) return;
    kept.saved();
    conflict.value = null;
    take(theirs);
    kept.discard();
  }
  return { busy, trouble, gone, conflict, save, keepMine, takeTheirs };
}
