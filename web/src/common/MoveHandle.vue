<script setup lang="ts">
import { HolderOutlined } from '@ant-design/icons-vue';

/** Grip of a row in an ordered list: dragged, or moved without dragging: a click or the arrow up, arrow down. */
defineProps<{ label: string; disabled?: boolean }>();
const emit = defineEmits<{ move: [by: -1 | 1] }>();
</script>

<template>
  <button
    type="button"
    class="move-handle"
    :aria-label="`Move ${label} up; arrow keys move it up and down`"
    title="Drag, click to move up, or use the arrow keys"
    :disabled="disabled"
    @click="emit('move', -1)"
    @keydown.up.prevent="emit('move', -1)"
    @keydown.down.prevent="emit('move', 1)"
  >
    <HolderOutlined aria-hidden="true" />
  </button>
</template>

<style scoped>
.move-handle {
  all: unset;
  cursor: grab;
  color: var(--ink-2);
  min-width: 24px;
  min-height: 24px;
  display: grid;
  place-items: center;
}
.move-handle:focus-visible {
  outline: 2px solid var(--accent);
}
.move-handle:disabled {
  cursor: default;
  color: var(--ghost);
}
</style>
