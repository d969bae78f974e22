<script setup lang="ts" generic="K extends string">
import type { Dimension } from '@keen/core/quantities';
import QuantityInput from './QuantityInput.vue';

/** Quantity fields of one record in a grid, from a list instead of one block a field. An emptied optional leaves the record. */
export interface Field<F extends string> {
  key: F;
  label: string;
  dimension: Dimension;
  unit?: string;
  per?: string;
  decimals?: number;
  min?: number;
  max?: number;
  step?: number;
  optional?: boolean;
}
const props = defineProps<{
  record: Partial<Record<K, number>>;
  fields: readonly Field<K>[];
  off?: boolean;
  width?: string;
}>();
function put(f: Field<K>, value: number | null) {
  const record = props.record as Record<string, number | undefined>;
  if (value !== null) record[f.key] = value;
  else if (f.optional) delete record[f.key];
}
</script>

<template>
  <div class="grid" :style="{ '--least': width ?? '140px' }">
    <QuantityInput
      v-for="f in fields"
      :key="f.key"
      :model-value="record[f.key] ?? null"
      :dimension="f.dimension"
      :label="f.label"
      :unit="f.unit"
      :per="f.per"
      :decimals="f.decimals ?? 2"
      :min="f.min"
      :max="f.max"
      :step="f.step ?? 1"
      :optional="f.optional ?? false"
      :disabled="off"
      @update:model-value="put(f, $event)"
    />
    <slot />
  </div>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(var(--least), 1fr));
  gap: 10px 14px;
  align-items: end;
}
</style>
