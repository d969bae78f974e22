<script setup lang="ts">
import QuantityInput from '../../common/QuantityInput.vue';

/** A figure in a cell of a table, with its unit beside it and its name for those who do not see the head of the column. */
withDefaults(
  defineProps<{
    label: string;
    unit: string;
    decimals?: number;
    min?: number;
    max: number;
    width?: string;
    off: boolean;
  }>(),
  { decimals: 1, min: 0, width: '72px' },
);
const value = defineModel<number>({ required: true });
</script>

<template>
  <td class="num">
    <QuantityInput
      :model-value="value"
      dimension="number"
      hide-label
      :label="label"
      :unit="unit"
      :decimals="decimals"
      :min="min"
      :max="max"
      :width="width"
      :disabled="off"
      @update:model-value="value = $event ?? value"
    />
  </td>
</template>

<style scoped>
td {
  padding: 3px 4px;
}
</style>
