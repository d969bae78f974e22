<script setup lang="ts">
import { addDays, instantOfLocal } from '@keen/core/sky';
import { ref, watch } from 'vue';
import { clock } from './times.ts';

/** A wall-clock time of one night: 12:00–23:59 is the evening, 00:00–11:59 the morning after. */
const props = defineProps<{ modelValue: string; label: string; timeZone: string; night: string; disabled?: boolean }>();
const emit = defineEmits<{ 'update:modelValue': [iso: string] }>();
const text = ref(clock(props.modelValue, props.timeZone));
const trouble = ref('');
const id = `t${Math.random().toString(36).slice(2, 9)}`;
watch(
  () => [props.modelValue, props.timeZone],
  () => {
    text.value = clock(props.modelValue, props.timeZone);
    trouble.value = '';
  },
);
function read() {
  const m = /^\s*(\d{1,2})\s{0,3}[:.h]?\s{0,3}(\d{2})?\s{0,9}$/i.exec(text.value);
  const [h, min] = [Number(m?.[1]), Number(m?.[2] ?? 0)];
  if (!m || h > 23 || min > 59) {
    trouble.value = 'A time such as 21:45';
    return;
  }
  trouble.value = '';
  const day = h < 12 ? addDays(props.night, 1) : props.night;
  const local = Date.parse(`${day}T${String(h).padStart(2, '0')}:${String(min).padStart(2, '0')}:00Z`);
  emit('update:modelValue', new Date(instantOfLocal(props.timeZone, local)).toISOString());
}
function step(e: KeyboardEvent, sign: number) {
  e.preventDefault();
  const minutes = e.shiftKey ? 60 : e.altKey ? 1 : 5;
  emit('update:modelValue', new Date(Date.parse(props.modelValue) + sign * minutes * 60_000).toISOString());
}
</script>

<template>
  <span class="time">
    <label :for="id">{{ label }}</label>
    <input
      :id="id"
      v-model="text"
      class="mono"
      autocomplete="off"
      :disabled="disabled"
      :aria-invalid="trouble !== ''"
      @change="read"
      @keydown.up="step($event, 1)"
      @keydown.down="step($event, -1)"
    />
    <span v-if="trouble" class="trouble" role="alert">{{ trouble }}</span>
  </span>
</template>

<style scoped>
.time {
  display: inline-grid;
  gap: 2px;
}
label {
  font-size: 13px;
  color: var(--ink-2);
}
input {
  font-size: 15px;
  width: 84px;
  height: 34px;
  padding: 0 8px;
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  background: var(--surface);
  color: var(--ink);
}
input:disabled {
  background: var(--sunk);
  border-color: var(--line);
}
.trouble {
  color: var(--bad);
  font-size: 12.5px;
}
</style>
