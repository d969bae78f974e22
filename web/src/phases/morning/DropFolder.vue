<script setup lang="ts">
import { ref } from 'vue';
import { filesOfDrop } from './droppedFiles.ts';

/** A place to drop a whole folder on, or to choose files or a folder by. */
withDefaults(
  defineProps<{
    /** In one line, where something else is what the screen is for. */
    slim?: boolean;
    title?: string;
  }>(),
  { slim: false, title: 'Drop the night’s folder' },
);
const emit = defineEmits<{ take: [files: File[]] }>();
const over = ref(false);
async function drop(e: DragEvent) {
  over.value = false;
  const files = await filesOfDrop(e.dataTransfer);
  if (files.length) emit('take', files);
}
function chosen(e: Event) {
  const field = e.target as HTMLInputElement;
  const files = [...(field.files ?? [])];
  // the same folder can be chosen again
  field.value = '';
  if (files.length) emit('take', files);
}
</script>

<template>
  <div
    class="drop"
    :class="{ over, slim }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="drop"
  >
    <strong>{{ title }}</strong>
    <span class="muted small"><slot /></span>
    <span class="row">
      <label class="choose"
        >Choose a folder<input type="file" class="visually-hidden" webkitdirectory multiple @change="chosen"
      /></label>
      <label class="choose"
        >Choose files<input type="file" class="visually-hidden" multiple data-test="night-files" @change="chosen"
      /></label>
    </span>
  </div>
</template>

<style scoped>
.drop {
  display: grid;
  gap: 8px;
  align-content: start;
  padding: 18px 20px;
  border: 1.5px dashed var(--line-strong);
  border-radius: 4px;
}
.slim {
  grid-template-columns: auto minmax(0, 1fr) auto;
  align-items: center;
  padding: 8px 14px;
}
.slim .row {
  flex-wrap: nowrap;
}
@media (max-width: 760px) {
  .slim {
    grid-template-columns: minmax(0, 1fr);
  }
}
.over {
  border-color: var(--accent);
  background: var(--sunk);
}
.choose {
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  padding: 6px 12px;
  background: var(--surface);
  cursor: pointer;
  position: relative;
}
.choose:focus-within {
  outline: 2px solid var(--accent);
}
</style>
