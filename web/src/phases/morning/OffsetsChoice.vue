<script setup lang="ts">
import type { DriftModel } from '@keen/core/focus';
import PickOne from '../../common/PickOne.vue';

/** Against which filter offsets are told, and what drift they are freed from. */
defineProps<{ seen: string[] }>();
const reference = defineModel<string>('reference', { required: true });
const model = defineModel<DriftModel>('model', { required: true });
const MODELS: { value: DriftModel; label: string }[] = [
  { value: 'temperature', label: 'temperature' },
  { value: 'time', label: 'time' },
  { value: 'both', label: 'temperature and time' },
  { value: 'none', label: 'nothing (plain, robust)' },
];
</script>

<template>
  <span class="row small">
    <span class="row"
      >against
      <PickOne
        v-model:value="reference"
        size="small"
        class="ref"
        label="Reference filter"
        :options="seen.map((f) => ({ value: f, label: f }))"
    /></span>
    <span class="row"
      >allowing for <PickOne v-model:value="model" size="small" class="model" label="Drift model" :options="MODELS"
    /></span>
  </span>
</template>

<style scoped>
.ref {
  width: 84px;
}
.model {
  width: 170px;
}
</style>
