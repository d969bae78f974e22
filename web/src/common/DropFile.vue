<script setup lang="ts">
import { ref } from 'vue';

/** A place to drop a file on, or to choose one by; the slot says what is read. */
defineProps<{ title: string; accept: string; test: string }>();
const emit = defineEmits<{ take: [file: File] }>();
const over = ref(false);
function take(files: FileList | null | undefined) {
  over.value = false;
  const file = files?.[0];
  if (file) emit('take', file);
}
function chosen(e: Event) {
  const field = e.target as HTMLInputElement;
  take(field.files);
  // the same file, mended, can be chosen again
  field.value = '';
}
</script>

<template>
  <label
    class="drop"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="take($event.dataTransfer?.files)"
  >
    <input type="file" :accept="accept" class="visually-hidden" :data-test="test" @change="chosen" />
    <strong>{{ title }}</strong>
    <span class="muted small"><slot /></span>
  </label>
</template>

<style scoped>
.drop {
  display: grid;
  gap: 4px;
  padding: 16px 20px;
  border: 1.5px dashed var(--line-strong);
  border-radius: 4px;
  cursor: pointer;
}
.drop:focus-within {
  outline: 2px solid var(--accent);
}
.over {
  border-color: var(--accent);
  background: var(--sunk);
}
</style>
