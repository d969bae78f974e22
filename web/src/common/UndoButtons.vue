<script setup lang="ts">
import { RollbackOutlined } from '@ant-design/icons-vue';
import { Button } from 'ant-design-vue';
import { useShortcut } from './shortcuts.ts';

/** Steps of a draft taken back, and done again. They keep their place once there was a step. */
const props = defineProps<{ undoable: number; redoable: number }>();
const emit = defineEmits<{ undo: []; redo: [] }>();
useShortcut('Mod+z', () => props.undoable && emit('undo'));
useShortcut('Mod+Shift+z', () => props.redoable && emit('redo'));
</script>

<template>
  <span class="row together">
    <Button size="small" :disabled="undoable === 0" aria-label="Undo" title="Undo (Ctrl Z)" @click="emit('undo')">
      <RollbackOutlined />
    </Button>
    <Button size="small" :disabled="redoable === 0" aria-label="Redo" title="Redo (Ctrl Shift Z)" @click="emit('redo')">
      <RollbackOutlined class="forth" />
    </Button>
  </span>
</template>

<style scoped>
/* the same arrow, the other way */
.forth {
  transform: scaleX(-1);
}
.together {
  flex-wrap: nowrap;
  gap: 4px;
}
</style>
