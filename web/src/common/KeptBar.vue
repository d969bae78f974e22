<script setup lang="ts" generic="T, R extends { version: number }">
import type { Ref, ShallowRef } from 'vue';
import ConflictDialog from './ConflictDialog.vue';
import SaveBar from './SaveBar.vue';

/** The save bar of a draft, and both sides when somebody saved first. */
defineProps<{
  kept: {
    draft: Ref<T | null>;
    dirty: Ref<boolean>;
    undoable: Ref<number>;
    redoable: Ref<number>;
    restoredAt: Ref<number | null>;
    discard: () => unknown;
    undo: () => unknown;
    redo: () => unknown;
  };
  saving: {
    busy: Ref<boolean>;
    trouble: Ref<string>;
    conflict: ShallowRef<{ detail: string; theirs: R } | null>;
    save: () => unknown;
    keepMine: () => unknown;
    takeTheirs: () => void;
  };
  /** The part of a record the draft is made of. */
  fieldsOf: (record: R) => T;
  record?: { updatedAt: string; updatedBy: string } | null;
  locked?: string;
  /** There is no record yet: it may be saved as it stands. */
  fresh?: boolean;
}>();
</script>

<template>
  <SaveBar
    :dirty="kept.dirty.value || fresh === true"
    :untouched="fresh === true && !kept.dirty.value"
    :busy="saving.busy.value"
    :undoable="kept.undoable.value"
    :redoable="kept.redoable.value"
    :restored-at="kept.restoredAt.value"
    :saved-at="record?.updatedAt"
    :saved-by="record?.updatedBy"
    :trouble="saving.trouble.value"
    :locked="locked"
    @save="saving.save"
    @discard="kept.discard"
    @undo="kept.undo"
    @redo="kept.redo"
  />
  <ConflictDialog
    :saving="saving"
    :mine="kept.draft.value"
    :theirs="saving.conflict.value ? fieldsOf(saving.conflict.value.theirs) : null"
  />
</template>
