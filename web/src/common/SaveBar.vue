<script setup lang="ts">
import { Button } from 'ant-design-vue';
import dayjs from 'dayjs';
import { useShortcut } from './shortcuts.ts';
import UndoButtons from './UndoButtons.vue';

/** Save, discard, undo, redo; says what is unsaved, what was restored, and who saved last. */
const props = defineProps<{
  dirty: boolean;
  /** There is no record yet, and nothing was changed of what is proposed. */
  untouched?: boolean;
  busy: boolean;
  undoable: number;
  redoable: number;
  restoredAt: number | null;
  savedAt?: string;
  savedBy?: string;
  trouble?: string;
  locked?: string;
}>();
const emit = defineEmits<{ save: []; discard: []; undo: []; redo: [] }>();
useShortcut('s', () => {
  if (props.dirty && !props.busy && !props.locked) emit('save');
});
</script>

<template>
  <div class="save-bar row spread no-print">
    <span class="small" role="status">
      <template v-if="locked">{{ locked }}</template>
      <template v-else-if="trouble"><span class="level-bad">{{ trouble }}</span></template>
      <template v-else-if="dirty && restoredAt"
        >Unsaved draft of {{ dayjs(restoredAt).format('D MMM HH:mm') }} restored</template
      >
      <template v-else-if="untouched">Not saved yet</template>
      <template v-else-if="dirty">Unsaved changes, kept in this browser</template>
      <template v-else-if="savedAt"
        ><span class="muted">Saved {{ dayjs(savedAt).format('D MMM HH:mm') }} by {{ savedBy }}</span></template
      >
    </span>
    <span class="row">
      <UndoButtons
        v-if="dirty || undoable || redoable"
        :undoable="undoable"
        :redoable="redoable"
        @undo="emit('undo')"
        @redo="emit('redo')"
      />
      <Button v-if="dirty && !untouched" size="small" @click="emit('discard')">Discard</Button>
      <Button type="primary" :disabled="!dirty || !!locked" :loading="busy" title="s" @click="emit('save')"
        >Save</Button
      >
    </span>
  </div>
</template>

<style scoped>
.save-bar {
  min-height: 32px;
  flex-wrap: nowrap;
}
.save-bar > .row {
  flex-wrap: nowrap;
}
.save-bar > [role='status'] {
  min-width: 0;
}
</style>
