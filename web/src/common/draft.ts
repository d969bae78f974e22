import { computed, ref, watch, type Ref } from 'vue';
import { plainCopy } from '../workers/index.ts';
import { personalKey } from './personal.ts';

interface Kept<T> {
  value: T;
  version: number;
  at: number;
}

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
  const past: string[] = [];
  const undoable = ref(0);
  let original = '';
  /** Text of the record as it was just put in: seeing it is no step to undo. */
  let renewed = '';
  const slot = () => personalKey(`draft.${key()}`);

  function reset(keep = true): void {
    const s = source();
    past.length = 0;
    undoable.value = 0;
    restoredAt.value = null;
    if (!s) {
      draft.value = null;
      return;
    }
    original = JSON.stringify(s.value);
    const stored = keep ? localStorage.getItem(slot()) : null;
    if (!keep) localStorage.removeItem(slot());
    version.value = s.version;
    if (stored) {
      try {
        const kept = JSON.parse(stored) as Kept<T>;
        draft.value = complete(kept.value);
        version.value = kept.version;
        restoredAt.value = kept.at;
        renewed = JSON.stringify(draft.value);
        return;
      } catch {
        localStorage.removeItem(slot());
      }
    }
    draft.value = plainCopy(s.value);
    renewed = original;
  }
  watch([key, source], () => reset(), { immediate: true });

  const text = computed(() => JSON.stringify(draft.value));
  const dirty = computed(() => draft.value !== null && text.value !== original);
  let before = '';
  watch(
    text,
    (now, was) => {
      const fresh = now === renewed;
      renewed = '';
      if (draft.value === null) return;
      if (!fresh && was !== undefined && was !== 'null' && was !== before && now !== was && !undoing) {
        past.push(was);
        if (past.length > 200) past.shift();
        undoable.value = past.length;
      }
      before = '';
      if (now === original) localStorage.removeItem(slot());
      else {
        const kept: Kept<T> = { value: draft.value, version: version.value, at: Date.now() };
        localStorage.setItem(slot(), JSON.stringify(kept));
      }
      undoing = false;
    },
    { flush: 'post' },
  );
  let undoing = false;
  function undo(): void {
    const last = past.pop();
    if (last === undefined) return;
    undoing = true;
    undoable.value = past.length;
    draft.value = JSON.parse(last) as T;
  }
  /** After a save: the record as stored is the new original. */
  function saved(): void {
    localStorage.removeItem(slot());
    restoredAt.value = null;
  }
  return {
    draft,
    version,
    dirty,
    restoredAt,
    undoable,
    undo,
    saved,
    discard: () => reset(false),
    rebase: (v: number) => (version.value = v),
  };
}
