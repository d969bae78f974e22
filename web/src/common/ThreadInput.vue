<script setup lang="ts">
import type { Face } from '@keen/core/rig';
import PickOne from './PickOne.vue';

/** Thread or fitting of one face; empty where nobody has noted it. */
defineProps<{ modelValue?: Face; label: string; disabled?: boolean }>();
const emit = defineEmits<{ 'update:modelValue': [face: Face | undefined] }>();
const SIZES = [
  'M42x0.75',
  'M48x0.75',
  'M54x0.75',
  'M68x1',
  '2-inch 24 TPI',
  '2-inch nosepiece',
  '1.25-inch nosepiece',
  'bolted, M2.5',
];
const OPTIONS = [
  { value: '', label: '–' },
  ...SIZES.flatMap((size) =>
    (['male', 'female'] as const).map((gender) => ({ value: `${size}|${gender}`, label: `${size} ${gender}` })),
  ),
];
function take(v: unknown) {
  const [size, gender] = String(v).split('|');
  emit('update:modelValue', size && gender ? { size, gender: gender as Face['gender'] } : undefined);
}
</script>

<template>
  <PickOne
    :label="label"
    :value="modelValue ? `${modelValue.size}|${modelValue.gender}` : ''"
    :options="OPTIONS"
    size="small"
    style="width: 148px"
    :dropdown-match-select-width="false"
    :disabled="disabled"
    @update:value="take"
  />
</template>
