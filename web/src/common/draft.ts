import { useManualRefHistory } from '@vueuse/core';
import { computed, ref, watch, type Ref } from 'vue';
import { z } from 'zod';
import { plainCopy } from '../workers/index.ts';
import { personalKey } from './personal.ts';
import { builtLike, readStored } from './stored.ts';
import { keepUnread } from './unreadDrafts.ts';

const Kept = z.object({ value: z.looseObject({}), version: z.number(), at: z.number() });

/** Steps that can be taken back. */
const STEPS_KEPT = 200;

/**
 * An editable copy of a record that survives reload, lost connection and leaving: it is kept in this browser until it is
 * saved or discarded. `version` is the one the draft was begun on, so that a save can be refused when it is stale.
 */
export function useDraft<T extends object>(
  key: () => string,
  source: () => { value: T; version: number } | null,
  /** Gives a draft kept before the record had a field what it lacks. */
  complete: (kept: T) => T = (kept) => kept,
) {
  const draft = ref<T | null>(null) as Ref<T | null>;
  const version = ref(0);
  const restoredAt = ref<number | null>(null);
  const steps = useManualRefHistory(draft, { clone: plainCopy, capacity: STEPS_KEPT });
  let original = '';
  const slot = () => personalKey(`draft.${key()}`);

  /** What stands now is where undoing ends. */
  function begin(value: T | null): void {
    draft.value = value;
    steps.commit();
    steps.clear();
  }
  function reset(keep = true): void {
    const s = source();
    restoredAt.value = null;
    if (!s) return begin(null);
    original = JSON.stringify(s.value);
    const stored = keep ? localStorage.getItem(slot()) : null;
    if (!keep) localStorage.removeItem(slot());
    version.value = s.version;
    const kept = stored === null ? null : readStored(stored, Kept);
    if (kept && builtLike(kept.value, s.value)) {
      version.value = kept.version;
      restoredAt.value = kept.at;
      return begin(complete(kept.value as T));
    }
    // begun on another version of the screens, or not one of ours at all: nothing here could show it
    if (stored !== null) {
      localStorage.removeItem(slot());
      keepUnread(slot(), stored);
    }
    begin(plainCopy(s.value));
  }
  const text = computed(() => JSON.stringify(draft.value));
  const dirty = computed(() => draft.value !== null && text.value !== original);
  /** What stands is the server’s now: the next record that comes is begun on. */
  let settled = true;
  watch(
    [key, source],
    ([now], [was]) => {
      // the record changed under somebody who types: theirs stays as it is, and a save is told that it is stale
      if (now === was && dirty.value && !settled && source()) return;
      reset();
    },
    { immediate: true },
  );
  watch(
    text,
    (now) => {
      if (draft.value === null) return;
      if (now !== original) settled = false;
      // a step undone, done again or just begun with is the last one kept already
      if (now !== JSON.stringify(steps.last.value.snapshot)) steps.commit();
      if (now === original) localStorage.removeItem(slot());
      else {
        const kept: z.input<typeof Kept> = {
          value: draft.value as Record<string, unknown>,
          version: version.value,
          at: Date.now(),
        };
        localStorage.setItem(slot(), JSON.stringify(kept));
      }
    },
    { flush: 'post' },
  );
  /** After a save: the record as stored is the new original. */
  function saved(): void {
    localStorage.removeItem(slot());
    restoredAt.value = null;
    settled = true;
  }
  return {
    draft,
    version,
    dirty,
    restoredAt,
    undoable: computed(() => steps.undoStack.value.length),
    redoable: computed(() => steps.redoStack.value.length),
    undo: steps.undo,
    redo: steps.redo,
    saved,
    discard: () => reset(false),
    rebase: (v: number) => (version.value = v),
  };
}
