<script setup lang="ts">
import { Button, Input } from 'ant-design-vue';
import QuantityInput from '../../common/QuantityInput.vue';

/** A named place in the rig's frame; further fields of it go into the slot. */
defineProps<{
  place: { name: string; xMm: number; yMm: number; zMm: number };
  label: string;
  off: boolean;
  removable: boolean;
}>();
const emit = defineEmits<{ remove: [] }>();
const AXES = ['xMm', 'yMm', 'zMm'] as const;
</script>

<template>
  <div class="row">
    <Input v-model:value="place.name" size="small" :aria-label="label" class="name" :disabled="off" />
    <QuantityInput
      v-for="a in AXES"
      :key="a"
      v-model="place[a]"
      dimension="length"
      :label="`${a[0]} of ${place.name}`"
      hide-label
      :decimals="0"
      width="80px"
      :disabled="off"
    />
    <slot />
    <Button
      v-if="!off && removable"
      type="text"
      size="small"
      :aria-label="`Remove ${place.name}`"
      @click="emit('remove')"
      >✕</Button
    >
  </div>
</template>

<style scoped>
.name {
  width: 118px;
}
</style>
